using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>Many pilots at once: how soon an act is acknowledged, alone and beside heavy work, and whether the server's memory stays flat.</summary>
internal static class LoadBench
{
    private const int Pilots = 300, Few = 30, Outlooks = 32, Debriefs = 16;
    private const double AckMs = 60;

    /// <param name="minutes">How long they fly.</param>
    public static async Task RunAsync(double minutes)
    {
        await using var server = await ServerProcess.StartAsync().ConfigureAwait(false);
        server.Process.Refresh();
        var idle = server.Process.WorkingSet64;
        // A few fly first: what the server compiles and keeps for the first of all is not what a run costs.
        var pages = new List<HubPage>();
        await OpenAsync(server, pages, Few).ConfigureAwait(false);
        _ = await FlyAsync(pages, TimeSpan.FromSeconds(20)).ConfigureAwait(false);
        server.Process.Refresh();
        var few = server.Process.WorkingSet64;
        await OpenAsync(server, pages, Pilots).ConfigureAwait(false);
        await Task.Delay(5000).ConfigureAwait(false);
        var first = Memory(server, few);
        Print($"acks, {Pilots} live runs", await FlyAsync(pages, TimeSpan.FromMinutes(minutes / 2)).ConfigureAwait(false));
        var middle = Memory(server, few);
        await AskingAsync(server, pages, TimeSpan.FromMinutes(minutes / 4)).ConfigureAwait(false);

        // Six hours each, so that a debrief is the heaviest there can be.
        var log = new RunLog(Headers.Cold(), [new RunCommand(50, CommandKind.Set, "battery", "on"), new RunCommand((long)(RunHeader.MaxSeconds / 0.02), CommandKind.End)]);
        var ids = await Task.WhenAll(Enumerable.Range(0, Debriefs).Select(_ => server.ImportAsync(log))).ConfigureAwait(false);
        using var stop = new CancellationTokenSource();
        var asked = 0;
        var heavy = Enumerable.Range(0, Outlooks + Debriefs).Select(i => Task.Run(async () =>
        {
            while (!stop.IsCancellationRequested)
            {
                using var response = i < Outlooks ? await server.Client.PostAsJsonAsync(ServerCalls.Path("/api/start-outlook"), Headers.Cold() with { Seed = i }, FleetJson.Line)
                    .ConfigureAwait(false)
                    : await server.Client.GetAsync(ServerCalls.Path($"/api/runs/{ids[i - Outlooks]}/debrief")).ConfigureAwait(false);
                response.EnsureSuccessStatusCode();
                Interlocked.Increment(ref asked);
            }
        })).ToList();
        Print($"acks, {Pilots} live runs beside {Outlooks} outlooks and {Debriefs} debriefs of six hours",
            await FlyAsync(pages, TimeSpan.FromMinutes(minutes / 2)).ConfigureAwait(false));
        await stop.CancelAsync().ConfigureAwait(false);
        await Task.WhenAll(heavy).ConfigureAwait(false);
        Console.WriteLine($"  heavy answers meanwhile: {asked}");
        var busy = Memory(server, few);
        _ = await FlyAsync(pages, TimeSpan.FromMinutes(1)).ConfigureAwait(false);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"server memory: {idle >> 20} MB with nobody, {few >> 20} MB with {Few} live runs"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"server memory per further live run and connection: {first:0} kB at first, "
            + $"{middle:0} after {minutes / 2:0.#} min, {busy:0} after {minutes:0.#} min and the heavy work, {Memory(server, few):0} after a minute without it"));
        foreach (var page in pages)
        {
            await page.DisposeAsync().ConfigureAwait(false);
        }
    }

    // Every page that looks at its alignment asks about every five seconds what going now would cost.
    private static async Task AskingAsync(ServerProcess server, List<HubPage> pages, TimeSpan span)
    {
        using var stop = new CancellationTokenSource();
        var times = new List<double>();
        var asking = pages.Select((page, i) => Task.Run(async () =>
        {
            var random = new Random(i);
            while (!stop.IsCancellationRequested)
            {
                await Task.Delay(random.Next(3000, 7000)).ConfigureAwait(false);
                var at = Stopwatch.GetTimestamp();
                using var response = await server.Client.GetAsync(ServerCalls.Path($"/api/runs/{page.Run}/go-or-wait")).ConfigureAwait(false);
                response.EnsureSuccessStatusCode();
                lock (times)
                {
                    times.Add(Stopwatch.GetElapsedTime(at).TotalMilliseconds);
                }
            }
        })).ToList();
        Print($"acks, {Pilots} live runs that all ask whether to go or to wait", await FlyAsync(pages, span).ConfigureAwait(false));
        await stop.CancelAsync().ConfigureAwait(false);
        await Task.WhenAll(asking).ConfigureAwait(false);
        times.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"  answers to go or wait: {times.Count}, median {times[times.Count / 2]:0.0} ms, p99 {times[(int)(times.Count * 0.99) - 1]:0} ms"));
    }

    private static async Task OpenAsync(ServerProcess server, List<HubPage> pages, int until)
    {
        while (pages.Count < until)
        {
            pages.Add(await HubPage.OpenAsync(server, await server.CreateAsync(Headers.Cold() with { Seed = pages.Count }).ConfigureAwait(false)).ConfigureAwait(false));
        }
    }

    private static double Memory(ServerProcess server, long few)
    {
        server.Process.Refresh();
        return (server.Process.WorkingSet64 - few) / 1024.0 / (Pilots - Few);
    }

    /// <summary>Flies all runs for a while; each pilot acts after pauses between two times, about every two seconds where nothing is said.</summary>
    /// <returns>How long each act took to be acknowledged and seen, ms, the shortest first.</returns>
    public static async Task<List<double>> FlyAsync(List<HubPage> pages, TimeSpan span, int leastMs = 1000, int mostMs = 3000)
    {
        var clock = Stopwatch.StartNew();
        var times = new List<double>();
        await Task.WhenAll(pages.Select((page, i) => Task.Run(async () =>
        {
            var random = new Random(i);
            for (var n = 0; clock.Elapsed < span; n++)
            {
                await Task.Delay(random.Next(leastMs, mostMs)).ConfigureAwait(false);
                var at = Stopwatch.GetTimestamp();
                await page.SendAsync("Set", "radio", n % 2 == 0 ? "on" : "off").ConfigureAwait(false);
                lock (times)
                {
                    times.Add(Stopwatch.GetElapsedTime(at).TotalMilliseconds);
                }
            }
        }))).ConfigureAwait(false);
        times.Sort();
        return times;
    }

    private static void Print(string what, List<double> times)
    {
        var p99 = times[(int)(times.Count * 0.99) - 1];
        Console.WriteLine($"{what}: {times.Count} acts, median {times[times.Count / 2]:0.0} ms, "
            + $"p99 {p99:0} ms, worst {times[^1]:0} ms, {AckMs / p99:0.00} of the speed asked for ({AckMs} ms)");
    }
}
