using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>How far repeated starts are scattered about a situation.</summary>
/// <param name="OatC">Standard deviation of the outside air temperature, K.</param>
/// <param name="WindKt">Standard deviation of each component of the wind, kt.</param>
/// <param name="ReactionS">Shortest and longest mean reaction of the pilots who fly them, s.</param>
/// <param name="Wear">Chance that a start carries a fault drawn by the odds of the catalogue, 0 to 1.</param>
public sealed record Scatter(double OatC = 2, double WindKt = 3, (double Low, double High) ReactionS = default, double Wear = 0.1)
{
    public (double Low, double High) Reaction => ReactionS == default ? (0.8, 2.2) : ReactionS;
}

/// <summary>Where a value lies: a tenth are below <paramref name="Low"/>, half below <paramref name="Middle"/>, nine tenths below <paramref name="High"/>.</summary>
public sealed record Spread(double Low, double Middle, double High);

/// <summary>What came of many scattered starts.</summary>
/// <param name="Ready">Share that was launch-ready, with or without defects.</param>
/// <param name="Error">Standard error of that share.</param>
/// <param name="ReadyS">Run time at the end, of those that were ready, s.</param>
/// <param name="PeakC">Hottest start of each run, °C.</param>
/// <param name="OverLimit">Share with a start over the limit.</param>
/// <param name="Findings">How often each kind of finding came up, share of all, the commonest first; notes left out.</param>
public sealed record Chance(int Starts, double Ready, double Error, IReadOnlyDictionary<string, double> Verdicts, Spread? ReadyS, Spread PeakC, double OverLimit,
    IReadOnlyDictionary<string, double> Findings);

/// <summary>
/// The chance of a start, by flying it many times: each with weather, wear and a pilot drawn from its own number, so that
/// the result does not hang on how many hands share the work or in which order they finish.
/// </summary>
public static class ChanceEstimate
{
    private const double LongestS = 1500;

    /// <summary>Longer than any wait of a sound start: who gets nowhere for so long goes home.</summary>
    private const double GivesUpAfterS = 600;

    private readonly record struct Outcome(Verdict Verdict, double Seconds, double PeakC, string[] Codes);

    /// <param name="progress">Told how many are done, now and then.</param>
    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    /// <exception cref="ArgumentOutOfRangeException">Fewer than one start is asked for.</exception>
    /// <exception cref="OperationCanceledException">It was cancelled.</exception>
    public static Chance Run(Fleet fleet, RunHeader header, int starts, Scatter scatter, IProgress<int>? progress = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        ArgumentNullException.ThrowIfNull(scatter);
        ArgumentOutOfRangeException.ThrowIfLessThan(starts, 1);
        _ = fleet.Build(header); // what is wrong with the header is said once, before the work is shared out
        var outcomes = new Outcome[starts];
        var done = 0;
        Parallel.For(0, starts, new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Environment.ProcessorCount }, i =>
        {
            outcomes[i] = One(fleet, header, i, scatter);
            var count = Interlocked.Increment(ref done);
            if (count % 100 == 0 || count == starts)
            {
                progress?.Report(count);
            }
        });
        return Sum(outcomes, fleet.FindAircraft(header.Aircraft).Engine.StartLimitC);
    }

    private static Outcome One(Fleet fleet, RunHeader header, int number, Scatter scatter)
    {
        var rehearsal = new Rehearsal(fleet, Scattered(header, number, scatter, out var reaction), coarse: true);
        var m = rehearsal.Machine;
        var pilot = new ScriptedPilot(rehearsal, new PilotTraits(reaction));
        _ = pilot.FlyUntil(() => m.Time >= Math.Min(LongestS, rehearsal.Tracker.LastProgress + GivesUpAfterS));
        var judgement = rehearsal.Judge.Conclude();
        return new Outcome(judgement.Verdict, m.Time, m.Aircraft.Engines.Max(e => m[$"{e.Id}.egt-highest"]),
            [.. judgement.Findings.Where(f => f.Severity > Severity.Note).Select(f => f.Code).Distinct()]);
    }

    private static RunHeader Scattered(RunHeader header, int number, Scatter scatter, out double reaction)
    {
        var random = new RandomStream(header.Seed + number, "scatter");
        var c = header.Conditions;
        var from = c.WindFromDeg * Math.PI / 180;
        var north = c.WindKt * Math.Cos(from) + scatter.WindKt * random.Normal();
        var east = c.WindKt * Math.Sin(from) + scatter.WindKt * random.Normal();
        reaction = random.Between(scatter.Reaction.Low, scatter.Reaction.High);
        return header with
        {
            Seed = header.Seed + number,
            Drawn = null,
            Surprises = random.Next() < scatter.Wear ? Math.Max(1, header.Surprises) : header.Surprises,
            Conditions = c with
            {
                OatC = Math.Clamp(c.OatC + scatter.OatC * random.Normal(), -60, 60),
                WindKt = Math.Min(100, Math.Sqrt(north * north + east * east)),
                WindFromDeg = (Math.Atan2(east, north) * 180 / Math.PI + 360) % 360,
            },
        };
    }

    private static Chance Sum(Outcome[] all, double limitC)
    {
        double Share(int count) => Math.Round((double)count / all.Length, 4);
        var ready = all.Where(o => o.Verdict is Verdict.LaunchReady or Verdict.ReadyWithDefects).ToList();
        var share = (double)ready.Count / all.Length;
        return new Chance(all.Length, Share(ready.Count), Math.Round(Math.Sqrt(share * (1 - share) / all.Length), 4),
            Enum.GetValues<Verdict>().ToDictionary(v => System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName(v.ToString()), v => Share(all.Count(o => o.Verdict == v))),
            ready.Count > 0 ? Spread(ready.Select(o => o.Seconds)) : null, Spread(all.Select(o => o.PeakC)), Share(all.Count(o => o.PeakC > limitC)),
            all.SelectMany(o => o.Codes).GroupBy(c => c).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal)
                .ToDictionary(g => g.Key, g => Share(g.Count())));
    }

    private static Spread Spread(IEnumerable<double> values)
    {
        var sorted = values.Order().ToArray();
        double At(double share) => Math.Round(sorted[Math.Min(sorted.Length - 1, (int)(share * sorted.Length))], 1);
        return new Spread(At(0.1), At(0.5), At(0.9));
    }
}
