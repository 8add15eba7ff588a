using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;

namespace HardyEmber.Core.Runs;

/// <summary>A run in a few numbers: what the logbook lists and <c>ember sim</c> prints.</summary>
/// <param name="Seconds">Length of the run.</param>
/// <param name="PeakC">Highest gas temperature of each engine, °C; none of one that was never warmer than the air.</param>
/// <param name="Milestones">When each step was first done, seconds.</param>
/// <param name="Starts">The card of every attempt to start an engine.</param>
/// <param name="Digest">Digest of the final state: equal for equal trajectories.</param>
public sealed record RunSummary(Verdict Verdict, string Sentence, bool Ended, double Seconds, IReadOnlyDictionary<string, double> PeakC,
    IReadOnlyDictionary<string, double> Milestones, int Findings, IReadOnlyList<StartCard> Starts, string Digest)
{
    public static RunSummary Of(Rehearsal rehearsal) => Of(rehearsal, rehearsal?.Conclude() ?? throw new ArgumentNullException(nameof(rehearsal)));

    /// <param name="judgement">What was concluded of it.</param>
    public static RunSummary Of(Rehearsal rehearsal, Judgement judgement)
    {
        ArgumentNullException.ThrowIfNull(rehearsal);
        ArgumentNullException.ThrowIfNull(judgement);
        var m = rehearsal.Machine;
        return new RunSummary(judgement.Verdict, judgement.Sentence, m.Ended, Math.Round(m.Time, 2),
            m.Aircraft.Engines.Where(e => m[$"{e.Id}.egt-highest"] > m.Header.Conditions.OatC + 1).ToDictionary(e => e.Id, e => Math.Round(m[$"{e.Id}.egt-highest"])),
            MilestonesOf(rehearsal.Tracker),
            judgement.Findings.Count, rehearsal.Starts.Cards, m.Digest().ToString("x16", System.Globalization.CultureInfo.InvariantCulture));
    }

    /// <summary>When each step was first done, s, in the order of time.</summary>
    public static IReadOnlyDictionary<string, double> MilestonesOf(ProcedureTracker tracker)
    {
        ArgumentNullException.ThrowIfNull(tracker);
        return tracker.Steps.Where(s => s.FirstDone >= 0).OrderBy(s => s.FirstDone).ToDictionary(s => s.Id, s => Math.Round(s.FirstDone, 1));
    }
}
