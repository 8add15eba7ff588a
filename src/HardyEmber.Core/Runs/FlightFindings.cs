using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>What only a flight ahead can judge: the height that a restart took against the height that the same method takes under a steady pilot.</summary>
internal static class FlightFindings
{
    public const string HeightWasted = "height-wasted";

    /// <summary>So much more than it takes is worth a word: a share of it, and never less than so many ft.</summary>
    private const double WorthShare = 0.25, WorthFt = 1000;

    /// <summary>Of a flight as it stands. Nothing where the engine ran at first, or where faults asked for their own height: that is judged by the answer to them.</summary>
    public static IReadOnlyList<Finding> Of(Fleet fleet, Machine m, FlightSeen seen)
    {
        if (m.Header.Flight is not { } flight || flight.Dead == RunFlight.NoneDead || m.Faults.Count > 0 || FlightOutcome.Of(m).End != FlightEnd.Restarted)
        {
            return [];
        }

        var taught = MethodFlight.By(fleet, new RunLog(m.Header, []), 0, null, seen.Engine, m.Aircraft.EngineOf(seen.Engine).IdleN2Pct - RelightOutlook.IdleBandPct);
        if (seen.IdleFt is not { } end || !taught.Works)
        {
            return [];
        }

        var (used, needed) = (Tens(seen.OutFt - end), Tens(taught.FromFt - taught.EndFt));
        return used - needed <= Math.Max(WorthFt, WorthShare * needed) ? [] :
            [new Finding(HeightWasted, Severity.Caution, 0, Math.Round(seen.IdleS!.Value, 1),
                Text($"From the flame-out to idle it took {used:#,##0} ft; flown at once, the same method takes {needed:#,##0}."),
                Text($"{used - needed:#,##0} ft less for a second try."), "Throttle and bleed at once, then straight to the speed and the height that the method asks for.",
                    new Evidence("flight.height", used, needed, "ft"))];

        static double Tens(double ft) => Math.Round(ft / 10) * 10;
        static string Text(FormattableString s) => s.ToString(CultureInfo.InvariantCulture);
    }
}
