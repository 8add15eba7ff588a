using System.Diagnostics;
using System.Globalization;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>Ill treatment in numbers: broken files, senseless requests and calls, joins of a busy run, kills. What is asked for is nothing wrong at all.</summary>
internal static class AbuseBench
{
    private const int Imports = 10_000, Requests = 9_000, Calls = 4_000, Joins = 5_000, Kills = 160, Pages = 20, Carried = 1_000, Wires = 60, Restores = 160;

    /// <param name="share">Of the full number of each.</param>
    /// <param name="only">One kind alone: imports, requests, calls, joins, kills, carried, wires, restores, guesses or beside; all where it is null.</param>
    /// <returns>0 where nothing was wrong.</returns>
    public static async Task<int> RunAsync(double share, string? only)
    {
        int Of(int all) => Math.Max(1, (int)(all * share));
        var seed = Property.Seed;
        var wrong = 0;
        foreach (var (kind, what, treat) in new (string, string, Func<Task<Treated>>)[]
        {
            ("imports", "broken run files", () => AtAServerAsync(s => Abuse.ImportsAsync(s, seed, Of(Imports)))),
            ("requests", "senseless requests", () => AtAServerAsync(s => Abuse.RequestsAsync(s, seed, Of(Requests)))),
            ("calls", "senseless calls", () => AtAServerAsync(s => Abuse.CallsAsync(s, seed, Of(Calls)))),
            ("joins", "joins of a busy run", () => JoinsAsync(Of(Joins))),
            ("kills", "kills", () => Abuse.KillsAsync(seed, Of(Kills))),
            ("carried", "runs with odd data", () => CarriedAsync(seed, Of(Carried))),
            ("wires", "wires that break", () => TroubleBench.WiresAsync(seed, Of(Wires))),
            ("restores", "restores that are killed", () => TroubleBench.RestoresAsync(seed, Of(Restores))),
            ("guesses", "guesses of a token", TroubleBench.GuessesAsync),
            ("beside", "runs beside slow and long ones", TroubleBench.BesideAsync),
        })
        {
            wrong += only is null || only == kind ? await TellAsync(what, treat).ConfigureAwait(false) : 0;
        }

        return wrong == 0 ? 0 : 1;
    }

    private static async Task<Treated> AtAServerAsync(Func<ServerProcess, Task<Treated>> treat)
    {
        await using var server = await ServerProcess.StartAsync(stepped: true).ConfigureAwait(false);
        return await treat(server).ConfigureAwait(false);
    }

    private static Task<Treated> CarriedAsync(ulong seed, int times) => AtAServerAsync(async server =>
    {
        long Memory()
        {
            server.Process.Refresh();
            return server.Process.WorkingSet64 >> 20;
        }

        var before = Memory();
        double longest = 0;
        var treated = await AbuseOfData.CarriedAsync(server, seed, times, s => longest = s).ConfigureAwait(false);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  the slowest answer took {longest:0.00} s (asked: {AbuseOfData.LongestAnswerS} s)"));
        var after = Memory();
        await Task.Delay(TimeSpan.FromSeconds(25)).ConfigureAwait(false); // the workshop gives back what it took when it has rested
        Console.WriteLine($"  memory: {before} MB before, {after} MB after, {Memory()} MB when nobody asked for a while");
        return treated;
    });

    private static async Task<int> TellAsync(string what, Func<Task<Treated>> treat)
    {
        var clock = Stopwatch.StartNew();
        var treated = await treat().ConfigureAwait(false);
        var came = what switch { "kills" => "acknowledged", "restores that are killed" => "had come back", _ => "refused" };
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what}: {treated.Times}, {treated.Refused} {came}, {treated.Wrong.Count} wrong, {clock.Elapsed.TotalSeconds:0} s"));
        foreach (var line in treated.Wrong.Take(5))
        {
            Console.WriteLine($"  {line}");
        }

        return treated.Wrong.Count;
    }

    /// <summary>Pages join again and again while the run goes at eight times its rate and hands are at work: no page may miss a frame or end with other values.</summary>
    private static async Task<Treated> JoinsAsync(int times)
    {
        await using var server = await ServerProcess.StartAsync().ConfigureAwait(false);
        var id = await server.CreateAsync().ConfigureAwait(false);
        await using var pilot = await HubPage.OpenAsync(server, id).ConfigureAwait(false);
        await pilot.CallAsync("Rate", 8.0).ConfigureAwait(false);
        using var done = new CancellationTokenSource();
        var hands = Task.Run(async () =>
        {
            for (var i = 0; !done.IsCancellationRequested; i++)
            {
                await pilot.SendAsync("Set", "radio", i % 2 == 0 ? "on" : "off").ConfigureAwait(false);
                await Task.Delay(5).ConfigureAwait(false);
            }
        });
        var pages = await Task.WhenAll(Enumerable.Range(0, Pages).Select(_ => HubPage.OpenAsync(server, id))).ConfigureAwait(false);
        await Task.WhenAll(pages.Select(async page =>
        {
            for (var i = 0; i < times / Pages; i++)
            {
                await page.JoinAsync().ConfigureAwait(false);
            }
        })).ConfigureAwait(false);
        await done.CancelAsync().ConfigureAwait(false);
        await hands.ConfigureAwait(false);
        await pilot.CallAsync("Pause", true).ConfigureAwait(false);
        await pilot.UntilAsync(p => p.Paused, "the pause").ConfigureAwait(false);
        var wrong = new List<string>();
        foreach (var page in pages)
        {
            await page.UntilAsync(p => p.Number >= pilot.Number, "the last state").ConfigureAwait(false);
            if (page.Missed > 0 || page.Actions.Count < 1)
            {
                wrong.Add($"{page.Missed} frames missed");
            }

            if (page.Values.Any(v => pilot.Values[v.Key] != v.Value))
            {
                wrong.Add("other values at the end");
            }

            await page.DisposeAsync().ConfigureAwait(false);
        }

        return new Treated(times, 0, wrong);
    }
}
