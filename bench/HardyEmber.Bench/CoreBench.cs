using System.Diagnostics;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>How fast a start is simulated and judged, and what a step allocates, for every aircraft of the fleet.</summary>
internal static class CoreBench
{
    private const int Rounds = 60;

    /// <param name="only">A part of a type's or file's name, or "chances"; null: everything.</param>
    public static void Run(string? only = null)
    {
        bool Asked(string name) => only is null || name.Contains(only, StringComparison.OrdinalIgnoreCase);

        // Compiled before anything is timed, whichever type comes first.
        _ = ChanceEstimate.Run(Repository.Fleet, Headers.Cold(), 100, new Scatter());
        foreach (var aircraft in Repository.Fleet.Aircraft.Where(a => Asked(a.Name)))
        {
            Measure(aircraft.Name, new ScriptedPilot(new Rehearsal(Repository.Fleet, Headers.Cold() with { Aircraft = aircraft.Id, Loading = null })).Fly());
        }

        foreach (var file in Directory.EnumerateFiles(DemoFolder.Find(), "*.ndjson").Where(f => Asked(Path.GetFileName(f))).Order(StringComparer.Ordinal))
        {
            using var text = new StreamReader(file);
            Measure($"demo/{Path.GetFileName(file)}", RunFile.Read(text));
        }

        if (Asked("chances"))
        {
            Chance(Headers.Cold());
        }
    }

    // Whole starts from cold to taxi, pilot and judge included, on all cores there are.
    private static void Chance(RunHeader header)
    {
        const int Asked = 10_000, Batches = 10;
        var times = new List<double>();
        for (var i = 0; i < Batches; i++)
        {
            var watch = Stopwatch.StartNew();
            _ = ChanceEstimate.Run(Repository.Fleet, header with { Seed = header.Seed + i * Asked }, Asked / Batches, new Scatter());
            times.Add(watch.Elapsed.TotalSeconds);
        }

        var seconds = times.Sum();
        Console.WriteLine($"{Asked} scattered Juniper starts on {Environment.ProcessorCount} cores: {seconds:0.0} s, "
            + $"{10 / seconds:0.00} of the speed asked for (10 s); at the pace of the quickest tenth {times.Min() * Batches:0.0} s");
    }

    private static void Measure(string name, RunLog log)
    {
        var fleet = Repository.Fleet;
        for (var i = 0; i < 10; i++)
        {
            _ = Rehearsal.Replay(fleet, log);
        }

        var times = new List<double>();
        var steps = 0L;
        for (var i = 0; i < Rounds; i++)
        {
            var watch = Stopwatch.StartNew();
            var rehearsal = Rehearsal.Replay(fleet, log);
            _ = rehearsal.Judge.Conclude();
            times.Add(watch.Elapsed.TotalMilliseconds);
            steps = rehearsal.Machine.StepIndex;
        }

        times.Sort();
        var median = times[times.Count / 2];
        var simulated = steps * 0.02;
        var tenMinutes = median / simulated * 600;
        Console.WriteLine($"{name}: replay and judge {simulated:0} s of its start in {median:0.00} ms (median of {Rounds}; the quickest {times[0]:0.00}), "
            + $"{median * 1e6 / steps:0} ns a step");
        Console.WriteLine($"  = {simulated * 1000 / median:0} x real time; a 10-minute start takes {tenMinutes:0.0} ms, {6 / tenMinutes:0.00} of the speed asked for (6 ms)");

        var m = Rehearsal.Replay(fleet, log with { Commands = [.. log.Commands.Take(log.Commands.Count - 1)] });
        for (var i = 0; i < 2000; i++)
        {
            m.Step();
        }

        const int Measured = 50_000;
        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < Measured; i++)
        {
            m.Step();
        }

        Console.WriteLine($"  allocated: {(GC.GetAllocatedBytesForCurrentThread() - before) / (double)Measured:0.00} bytes a step (machine, tracker and judge)");
    }
}
