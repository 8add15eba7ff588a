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

    /// <summary>Of a flight that has been flown.</summary>
    /// <returns>Null on the ground, and while it is still flown: it would name the engine that its pilot is to find.</returns>
    public static FlightFlown? Of(Fleet fleet, Rehearsal flown, RunLog run)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(flown);
        ArgumentNullException.ThrowIfNull(run);
        var end = flown.Machine;
        if (flown.Flight is not { } seen || !end.Ended)
        {
            return null;
        }

        var aircraft = end.Aircraft;
        var side = aircraft.Engines.First(e => e.Id == seen.Engine);
        var after = run.Commands.Where(c => seen.OutS is { } s && c.Time >= s && c.Kind == CommandKind.Set).ToList();
        var named = after.FirstOrDefault(c => c.Target == side.Throttle || c.Target == CrossFeed || c.Target.EndsWith("-" + side.Id, StringComparison.Ordinal));
        var wrong = after.TakeWhile(c => c != named).Any(c => aircraft.Engines.Any(e => e.Id != side.Id && e.Throttle == c.Target
            && (c.Position == e.CutOff || c.Position == e.Idle)));
        var best = seen.OutS is null ? null
            : RelightOutlook.For(fleet, run.Header, [.. run.Commands.Where(c => c.Step < seen.OutStep)], seen.OutStep).Methods.Where(m => m.Works).MinBy(m => m.CostFt);
        return new FlightFlown(side.Id, FlightOutcome.Of(end).End, seen.OutS, named is null ? null : Math.Round(named.Time - seen.OutS!.Value, 1), wrong, Tens(seen.LitFt),
            Tens(seen.IdleFt),
            seen.IdleS is { } took ? Math.Round(took, 1) : null, Tens(seen.OutFt - (seen.IdleFt ?? end["flight.height"]))!.Value, best?.CostFt, best?.Label,
                Tens(seen.AboveFt)!.Value);

        static double? Tens(double? ft) => ft is { } value ? Math.Round(value / 10) * 10 : null;
    }
}
