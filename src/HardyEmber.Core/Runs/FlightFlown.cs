using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>What a flight came to: how soon the engine that failed was named, and the height that was used against the height that was needed.</summary>
/// <param name="Engine">The engine that it was about.</param>
/// <param name="OutS">When its flame was out: the beginning, or the first flame-out; null where none ever was.</param>
/// <param name="NamedS">From there to the first hand on its throttle, or on what feeds it; null where there was none.</param>
/// <param name="WrongFirst">Before it another engine's throttle was moved back.</param>
/// <param name="LitFt">Height at the light that came to something; null where none did.</param>
/// <param name="IdleFt">Height at idle.</param>
/// <param name="IdleS">Seconds from the flame-out to idle.</param>
/// <param name="UsedFt">Height from the flame-out to idle, or to the end where it never came.</param>
/// <param name="NeededFt">What the best method needed from the flame-out, flown ahead by a steady pilot; null where none was enough.</param>
/// <param name="Best">That method.</param>
/// <param name="AboveFt">Above the decision height at idle or at the end.</param>
public sealed record FlightFlown(string Engine, FlightEnd End, double? OutS, double? NamedS, bool WrongFirst, double? LitFt, double? IdleFt, double? IdleS,
    double UsedFt, double? NeededFt, string? Best, double AboveFt)
{
    private const string CrossFeed = "cross-feed";

    /// <summary>Of a run in flight, whole or as far as it was flown.</summary>
    /// <param name="untilStep">Flown on to here after its last command.</param>
    /// <returns>Null on the ground.</returns>
    public static FlightFlown? Of(Fleet fleet, RunLog run, long untilStep = 0)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(run);
        if (run.Header.Flight is null)
        {
            return null;
        }

        var aircraft = fleet.FindAircraft(run.Header.Aircraft);
        var dead = run.Header.RestartEngine(aircraft);
        var (end, outS, outFt, outStep, litFt, idleFt, idleS, aboveFt) = See(fleet, run, dead, untilStep);
        var side = aircraft.Engines.First(e => e.Id == dead);
        var after = run.Commands.Where(c => outS is { } s && c.Time >= s && c.Kind == CommandKind.Set).ToList();
        var named = after.FirstOrDefault(c => c.Target == side.Throttle || c.Target == CrossFeed || c.Target.EndsWith("-" + dead, StringComparison.Ordinal));
        var wrong = after.TakeWhile(c => c != named).Any(c => aircraft.Engines.Any(e => e.Id != dead && e.Throttle == c.Target && (c.Position == e.CutOff || c.Position == e.Idle)));
        var best = outS is null ? null : RelightOutlook.For(fleet, run.Header, [.. run.Commands.Where(c => c.Step < outStep)], outStep).Methods.Where(m => m.Works).MinBy(m => m.CostFt);
        return new FlightFlown(dead, FlightOutcome.Of(end).End, outS, named is null ? null : Math.Round(named.Time - outS!.Value, 1), wrong, Tens(litFt), Tens(idleFt), idleS is { } took ? Math.Round(took, 1) : null,
            Tens(outFt - (idleFt ?? end["flight.height"]))!.Value, best?.CostFt, best?.Label, Tens(aboveFt)!.Value);

        static double? Tens(double? ft) => ft is { } value ? Math.Round(value / 10) * 10 : null;
    }

    /// <summary>When the flame of an engine was out and when it idled again, and how high that was.</summary>
    internal static (Machine End, double? OutS, double OutFt, long OutStep, double? LitFt, double? IdleFt, double? IdleS, double AboveFt) See(Fleet fleet, RunLog run, string dead, long untilStep)
    {
        var flight = run.Header.Flight!;
        var idle = fleet.FindAircraft(run.Header.Aircraft).EngineOf(dead).IdleN2Pct - RelightOutlook.IdleBandPct;
        var (outS, outFt, outStep) = (flight.Dead == RunFlight.NoneDead ? (double?)null : 0, flight.HeightFt, 0L);
        double? litFt = null, idleFt = null, idleS = null, aboveFt = null;
        var end = Rehearsal.Replay(fleet, run, untilStep, m =>
        {
            var (burns, runs) = (m[$"{dead}.lit"] > 0.5, m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= idle);
            if (outS is null && !burns)
            {
                (outS, outFt, outStep) = (m.Time, m["flight.height"], m.StepIndex);
            }
            else if (outS is not null && idleFt is null)
            {
                litFt = burns ? litFt ?? m["flight.height"] : null;
                (idleFt, idleS, aboveFt) = runs ? (m["flight.height"], m.Time - outS, m["flight.above-decision"]) : (idleFt, idleS, aboveFt);
            }
        }, []).Machine;
        return (end, outS, outFt, outStep, litFt, idleFt, idleS, aboveFt ?? end["flight.above-decision"]);
    }
}
