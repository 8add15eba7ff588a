using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>The last chance of one method: begun lower, at that speed, its guide does not have the core at idle above the decision height. Found by flying the whole machine.</summary>
/// <param name="Id">The school's answer.</param>
/// <param name="Points">The slowest speed first; only where some height is enough.</param>
public sealed record LastChance(string Id, string Label, IReadOnlyList<FlightPoint> Points)
{
    /// <summary>So many speeds are tried, each height found to within so many feet.</summary>
    private const int Speeds = 5;
    private const double WithinFt = 200;

    /// <summary>From and to so much of the best glide speed a starter's last chance is told.</summary>
    private const double SlowShare = 0.85, FastShare = 1.3;

    /// <summary>Those of every method that the type has and that the other engine allows, for today's weight and air and a sound core.</summary>
    /// <exception cref="FormatException">The header is not of an in-flight run, or names something that does not exist.</exception>
    public static IReadOnlyList<LastChance> For(Fleet fleet, RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        var flight = header.Flight ?? throw new FormatException("flight: only an in-flight run has a last chance");
        var (aircraft, place, procedure) = (fleet.FindAircraft(header.Aircraft), fleet.FindPlace(header.Place), fleet.ProcedureFor(header));
        var asked = procedure.Schools.Any(q => q.Id == RelightOutlook.Question);
        var dead = header.RestartEngine(aircraft);
        var idle = aircraft.EngineOf(dead).IdleN2Pct - RelightOutlook.IdleBandPct;
        var other = flight.Dead == RunFlight.NoneDead ? RunFlight.IdleOther : flight.Other;
        var decision = flight.GroundAt(place) + aircraft.Flight.DecisionHeightFt;
        var glide = FlightState.JetOf(aircraft, header, Station.Of(place, header)).GlideEasKt;
        return [.. RelightOutlook.Answers(procedure, other == RunFlight.IdleOther).Select(a =>
        {
            // Faster than it is taught there is speed to spare, and the question is another one.
            var (slow, fast) = (SlowShare * glide, a.Id == RelightOutlook.Windmill ? Taught(aircraft) : FastShare * glide);
            var points = new List<FlightPoint>();
            for (var i = 0; i < Speeds; i++)
            {
                var kt = Math.Round(slow + i * (fast - slow) / (Speeds - 1));
                if (Lowest(ft => Works(kt, ft), decision, points.Count > 0 ? points[^1].HeightFt : null) is { } ft)
                {
                    points.Add(new FlightPoint(kt, ft));
                }
            }

            return new LastChance(a.Id, a.Label, points);

            bool Works(double kt, double ft)
            {
                var from = header with { Faults = [], Surprises = 0, Flight = flight with { Dead = dead, Other = other, EasKt = kt, HeightFt = ft } };
                return MethodFlight.By(fleet, new RunLog(from, []), 0, asked ? a.Id : null, dead, idle).Works;
            }
        })];
    }

    private static double Taught(AircraftDefinition aircraft)
    {
        var w = aircraft.Engine.Windmill;
        return Math.Min(w.MaxEasKt - RelightEnvelope.HoldsKt, aircraft.Numbers.RelightKt ?? (w.MinEasKt + w.MaxEasKt) / 2);
    }

    // From coarse to fine: the lowest height that is enough, looked for from where it was at the speed before.
    private static double? Lowest(Func<double, bool> works, double decision, double? near)
    {
        const double Coarse = 2400;
        var ft = near is { } known ? Math.Max(decision + Coarse / 4, known - Coarse / 2) : decision + Coarse / 4;
        var (bad, good) = (decision, 0.0);
        if (works(ft))
        {
            good = ft;
            while (good > decision + Coarse / 4 && works(good - Coarse / 2))
            {
                good -= Coarse / 2;
            }

            bad = Math.Max(decision, good - Coarse / 2);
        }

        while (good <= 0)
        {
            (bad, ft) = (ft, ft + Coarse / 2);
            if (ft > RunFlight.HighestFt)
            {
                return null;
            }

            good = works(ft) ? ft : 0;
        }

        while (good - bad > WithinFt)
        {
            var middle = (good + bad) / 2;
            (bad, good) = works(middle) ? (bad, middle) : (middle, good);
        }

        return Math.Round(good);
    }
}
