using System.Diagnostics;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>A logbook of 100 000 runs: how long a page of it takes, with any filter, also one that nothing matches.</summary>
internal static class LogbookBench
{
    private const int Runs = 100_000, Rounds = 40;
    private const double PageMs = 50, NothingMs = 20;

    public static async Task RunAsync()
    {
        var folder = Repository.TemporaryFolder();
        using var database = Database.Open(folder);
        await using var writer = new StoreWriter(database);
        var store = new RunStore(database, writer);
        string[] pilots = ["Tinder", "Flint", "Clinker", "Kindle", "Ash"], types = [.. Repository.Fleet.Aircraft.Select(a => a.Id)];
        var day = new DateTimeOffset(2026, 1, 14, 6, 0, 0, TimeSpan.Zero);
        var clock = Stopwatch.StartNew();
        foreach (var chunk in Enumerable.Range(0, Runs).Chunk(1000))
        {
            await Task.WhenAll(chunk.Select(i => store.CreateAsync(
                new RunLog(Situations.Calm with { Pilot = pilots[i % 5], Aircraft = types[i % types.Length] }, []), day.AddMinutes(i / 7),
                outcome: new RunOutcome(new RunSummary((Verdict)(i % 3), "A run for timing.", true, 480, new Dictionary<string, double>(), new Dictionary<string, double>(),
                    i % 4, [], "0"),
                    new Judgement((Verdict)(i % 3), "A run for timing.", [], []))))).ConfigureAwait(false);
        }

        Console.WriteLine($"{Runs} runs stored in {clock.Elapsed.TotalSeconds:0} s");
        var middle = store.List(new RunFilter(Limit: 1)).Rows[0].Created.AddDays(-5);
        Measure("first page", new RunFilter(), store, PageMs);
        Measure("a page in the middle", new RunFilter(After: new RunKey(middle, "z")), store, PageMs);
        Measure("one pilot", new RunFilter(Pilot: "Ash"), store, PageMs);
        Measure("pilot, type and verdict", new RunFilter(Pilot: "Ash", Aircraft: types[3], Verdict: "launch-ready"), store, PageMs);
        Measure("no such verdict", new RunFilter(Verdict: "aircraft-damaged"), store, NothingMs);
        Measure("no such pilot", new RunFilter(Pilot: "Nobody"), store, NothingMs);
        Measure("a type that nobody flew, of one pilot", new RunFilter(Pilot: "Ash", Aircraft: "glider"), store, NothingMs);
        Measure("no air restarts", new RunFilter(Beginning: "air"), store, NothingMs);
    }

    private static void Measure(string what, RunFilter filter, RunStore store, double budget)
    {
        var times = new List<double>();
        for (var i = 0; i < Rounds; i++)
        {
            var at = Stopwatch.GetTimestamp();
            _ = store.List(filter);
            times.Add(Stopwatch.GetElapsedTime(at).TotalMilliseconds);
        }

        times.Sort();
        var p95 = times[(int)(Rounds * 0.95) - 1];
        Console.WriteLine($"{what}: median {times[Rounds / 2]:0.0} ms, p95 {p95:0.0} ms, {budget / p95:0.0} of the speed asked for ({budget} ms)");
    }
}
