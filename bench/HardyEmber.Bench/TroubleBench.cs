using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;
using HardyEmber.Testing;
using HardyEmber.Web.Entrance;
using HardyEmber.Web.Live;

namespace HardyEmber.Bench;

/// <summary>Trouble from outside in numbers: wires that break, restores that are killed, tokens that are guessed, long and slow runs beside others.</summary>
internal static class TroubleBench
{
    private static readonly string[] Ends = ["", "-wal"];
    private const double LetGoWithinS = 5, AckMs = 60;
    private static readonly TimeSpan GuessingFor = TimeSpan.FromSeconds(20), FlyingFor = TimeSpan.FromSeconds(20);

    /// <summary>A held control of a page whose wire breaks: how long until it has sprung back and the run stands still.</summary>
    public static async Task<Treated> WiresAsync(ulong seed, int times)
    {
        await using var server = await ServerProcess.StartAsync(settings: ["--silence", "4"]).ConfigureAwait(false); // as the product has it
        var waits = new List<double>();
        var wrong = new List<string>();
        var random = new Random((int)(seed % int.MaxValue));
        await Task.WhenAll(Enumerable.Range(0, times).Select(async i =>
        {
            var trouble = (WireTrouble)(1 + i % 3);
            await Task.Delay(random.Next(1000)).ConfigureAwait(false);
            await using var wire = new Wire(server);
            var id = await server.CreateAsync().ConfigureAwait(false);
            await using var page = await HubPage.OpenAsync(server, id, over: wire).ConfigureAwait(false);
            await using var other = await HubPage.OpenAsync(server, id, Role.Look).ConfigureAwait(false);
            await page.SendAsync("Hold", "fire-test", "outer").ConfigureAwait(false);
            await other.UntilAsync(p => p.Value("fire-test") > 1.5, "the hold").ConfigureAwait(false);
            wire.Suffer(trouble);
            var clock = Stopwatch.StartNew();
            await other.UntilAsync(p => p.Paused && p.Value("fire-test") < 1.5, "the release").ConfigureAwait(false);
            lock (waits)
            {
                waits.Add(clock.Elapsed.TotalSeconds);
                if (clock.Elapsed.TotalSeconds > LetGoWithinS)
                {
                    wrong.Add(Line($"{trouble}: {clock.Elapsed.TotalSeconds:0.0} s"));
                }
            }
        })).ConfigureAwait(false);
        waits.Sort();
        Console.WriteLine(Line($"  let go after {waits[waits.Count / 2]:0.0} s in the middle, {waits[^1]:0.0} s at most (asked: {LetGoWithinS})"));
        return new Treated(times, 0, wrong);
    }

    /// <summary>A restore is killed at any instant: what is there afterwards is whole, the old data or the copy, and nothing of either is lost.</summary>
    public static async Task<Treated> RestoresAsync(ulong seed, int times)
    {
        var random = new Random((int)(seed % int.MaxValue));
        var wrong = new List<string>();
        var back = 0;
        for (var i = 0; i < times; i++)
        {
            var (folder, copies) = (Repository.TemporaryFolder(), Repository.TemporaryFolder());
            var copy = Path.Combine(copies, "copy.db");
            await FillAsync(folder, 2).ConfigureAwait(false);
            Backup.Make(folder, copy);
            await FillAsync(folder, 3).ConfigureAwait(false);
            using (var restore = Process.Start(new ProcessStartInfo("dotnet", [Repository.Program("HardyEmber.Cli"), "restore", copy, "--data", folder])
            { RedirectStandardOutput = true, RedirectStandardError = true })!)
            {
                await Task.Delay(random.Next(60, 700)).ConfigureAwait(false);
                restore.Kill();
                await restore.WaitForExitAsync().ConfigureAwait(false);
            }

            var runs = Count(folder);
            var asides = Directory.GetFiles(folder, "ember-before-*.db");
            back += runs == 2 ? 1 : 0;
            if (runs == 2 ? asides.Length != 1 || CountOf(asides[0]) != 5 : runs != 5 || asides.Length != 0)
            {
                wrong.Add($"{runs} runs and {asides.Length} kept aside");
            }

            Directory.Delete(folder, recursive: true);
            Directory.Delete(copies, recursive: true);
        }

        return new Treated(times, back, wrong);
    }

    private static async Task FillAsync(string folder, int runs)
    {
        using var database = Database.Open(folder);
        await using var writer = new StoreWriter(database);
        for (var i = 0; i < runs; i++)
        {
            _ = await new RunStore(database, writer).CreateAsync(new RunLog(Headers.Cold(), []), DateTimeOffset.UtcNow).ConfigureAwait(false);
        }
    }

    private static int Count(string folder)
    {
        using var database = Database.Open(folder);
        return new RunStore(database, null!).Count();
    }

    private static int CountOf(string file)
    {
        var folder = Repository.TemporaryFolder();
        foreach (var end in Ends.Where(e => File.Exists(file + e)))
        {
            File.Copy(file + end, Path.Combine(folder, "ember.db" + end));
        }

        return Count(folder);
    }

    /// <summary>Four hundred connections guess the token: how many guesses are looked at, and what a million would take.</summary>
    public static async Task<Treated> GuessesAsync()
    {
        await using var server = await ServerProcess.StartAsync(settings: ["--EMBER_TOKEN", "sixteen letters!"]).ConfigureAwait(false);
        var (asked, looked) = (0, 0);
        var clock = Stopwatch.StartNew();
        await Task.WhenAll(Enumerable.Range(0, 400).Select(async i =>
        {
            while (clock.Elapsed < GuessingFor)
            {
                using var answer = await server.Client.PostAsJsonAsync(ServerCalls.Path("/api/login"), new { token = $"guess {asked}" }).ConfigureAwait(false);
                _ = Interlocked.Increment(ref asked);
                _ = answer.StatusCode == HttpStatusCode.BadRequest ? Interlocked.Increment(ref looked) : 0;
            }
        })).ConfigureAwait(false);
        double million = 0;
        for (var wrongSoFar = 0; wrongSoFar < 1_000_000; wrongSoFar++)
        {
            million += Guesses.WaitAfter(wrongSoFar).TotalSeconds;
        }

        Console.WriteLine(Line($"  {asked} guesses in {clock.Elapsed.TotalSeconds:0} s, {looked} looked at; 1 000 000 take {million / 86_400:0} days"));
        return new Treated(asked, asked - looked, looked > 12 ? [$"{looked} were looked at"] : []);
    }

    /// <summary>Acts of thirty runs beside one whose data make each step as slow as may be, at eight times its rate, and beside eight runs of six hours that are opened.</summary>
    public static async Task<Treated> BesideAsync()
    {
        await using var server = await ServerProcess.StartAsync().ConfigureAwait(false);
        var pages = new List<HubPage>();
        for (var i = 0; i < 30; i++)
        {
            pages.Add(await HubPage.OpenAsync(server, await server.CreateAsync(Headers.Cold() with { Seed = i }).ConfigureAwait(false)).ConfigureAwait(false));
        }

        _ = await FlyAsync(pages, TimeSpan.FromSeconds(5)).ConfigureAwait(false);
        var wrong = new List<string>();
        Tell("alone", await FlyAsync(pages, FlyingFor).ConfigureAwait(false), wrong);

        // As many tasks as an import still takes.
        string? slow = null;
        var tasks = 220;
        for (; slow is null; tasks -= 10)
        {
            try
            {
                slow = await server.ImportAsync(AbuseOfData.Heavy(tasks)).ConfigureAwait(false);
            }
            catch (HttpRequestException e) when (e.StatusCode == HttpStatusCode.BadRequest)
            {
                // Too slow: refused.
            }
        }

        await using var heavy = await HubPage.OpenAsync(server, slow, resume: true).ConfigureAwait(false);
        await heavy.CallAsync("Rate", 8.0).ConfigureAwait(false);
        var (begun, clock) = (heavy.Time, Stopwatch.StartNew());
        Tell($"beside one slow run ({tasks + 10} tasks that never rest)", await FlyAsync(pages, FlyingFor).ConfigureAwait(false), wrong);
        var said = heavy.Trouble is null ? "" : ", and said so";
        Console.WriteLine(Line($"  the slow run went at {(heavy.Time - begun) / clock.Elapsed.TotalSeconds:0.0} of 8 times its rate{said}"));

        var log = new RunLog(Headers.Cold(), [new RunCommand(50, CommandKind.Set, "battery", "on"), new RunCommand(1_079_000, CommandKind.Set, "radio", "on")]);
        var longs = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => server.ImportAsync(log))).ConfigureAwait(false);
        var opened = Stopwatch.StartNew();
        var opening = Task.WhenAll(longs.Select(async id =>
        {
            var page = await HubPage.OpenAsync(server, id).ConfigureAwait(false);
            var took = opened.Elapsed.TotalSeconds;
            await page.DisposeAsync().ConfigureAwait(false);
            return took;
        }));
        Tell("while eight runs of six hours are opened", await FlyAsync(pages, TimeSpan.FromSeconds(8), often: true).ConfigureAwait(false), wrong);
        var opens = await opening.ConfigureAwait(false);
        Console.WriteLine(Line($"  the first was open after {opens.Min():0.0} s, the last after {opens.Max():0.0} s"));
        foreach (var page in pages)
        {
            await page.DisposeAsync().ConfigureAwait(false);
        }

        return new Treated(pages.Count, 0, wrong);
    }

    private static Task<List<double>> FlyAsync(List<HubPage> pages, TimeSpan span, bool often = false) =>
        often ? LoadBench.FlyAsync(pages, span, 100, 300) : LoadBench.FlyAsync(pages, span, 300, 900);

    private static void Tell(string what, List<double> times, List<string> wrong)
    {
        var p99 = times[(int)(times.Count * 0.99) - 1];
        Console.WriteLine(Line($"  acks of 30 runs {what}: {times.Count}, median {times[times.Count / 2]:0.0} ms, p99 {p99:0} ms, worst {times[^1]:0} ms (asked: {AckMs} ms)"));
        if (p99 > AckMs)
        {
            wrong.Add(Line($"{what}: p99 {p99:0} ms"));
        }
    }

    private static string Line(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
}
