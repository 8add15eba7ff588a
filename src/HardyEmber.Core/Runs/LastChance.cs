using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>
/// The last chance of one method: begun lower, at that speed, its guide does not have the core at idle above the decision height; begun higher, it does. So it is the lower edge
/// of the region from which the method succeeds. Found by flying the whole machine.
/// </summary>
/// <param name="Id">The school's answer.</param>
/// <param name="Points">The slowest speed first; only where some height is enough. Between two of them the edge is straight.</param>
public sealed record LastChance(string Id, string Label, IReadOnlyList<FlightPoint> Points)
{
    /// <summary>So many speeds are tried, each height found to within so many feet; the first strides are so long.</summary>
    private const int Speeds = 8;
    private const double WithinFt = 150, FirstFt = 300;

    /// <summary>From so much of the best glide speed it is told, up to the fastest restart of the type.</summary>
    private const double SlowShare = 0.85;

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
            var (slow, fast) = (SlowShare * glide, aircraft.Engine.Windmill.MaxEasKt - RelightEnvelope.HoldsKt);
            var points = new List<FlightPoint>();
            for (var i = 0; i < Speeds; i++)
            {
                var kt = Math.Round(slow + i * (fast - slow) / (Speeds - 1));
                if (Lowest(ft => ft <= RunFlight.HighestFt && Works(kt, ft), decision, Guess(points, kt, decision)) is { } ft)
                {
                    points.Add(new FlightPoint(kt, ft));
                }
            }

            return new LastChance(a.Id, a.Label, points);

            bool Works(double kt, double ft)
            {
                var from = header with { Faults = [], Surprises = 0, Flight = flight with { Dead = dead, Other = other, EasKt = kt, HeightFt = ft } };
                return MethodFlight.By(fleet, new RunLog(from, []), 0, asked ? a.Id : null, dead, idle, belowFt: 0).Works;
            }
        })];
    }

    // Away from a first guess in growing strides until both sides are known, then by halving; null where nothing works as high as anybody flies.
    private static double? Lowest(Func<double, bool> works, double decision, double guess)
    {
        var (bad, good) = (decision, Math.Min(Math.Max(decision + FirstFt, guess), RunFlight.HighestFt));
        var stride = FirstFt;
        if (works(good))
        {
            for (; good - stride > decision && works(good - stride); stride *= 2)
            {
                good -= stride;
            }

            bad = Math.Max(decision, good - stride);
        }
        else
        {
            for (bad = good, good += stride; good <= RunFlight.HighestFt && !works(good); stride *= 2)
            {
                (bad, good) = (good, good + 2 * stride);
            }
        }

        while (good - bad > WithinFt)
        {
            var middle = (good + bad) / 2;
            (bad, good) = works(middle) ? (bad, middle) : (middle, good);
        }

        return good <= RunFlight.HighestFt ? Math.Round(good) : null;
    }

    // In a line with the two speeds before.
    private static double Guess(List<FlightPoint> known, double kt, double decision) => known switch
    {
        [.., var a, var b] => b.HeightFt + (kt - b.EasKt) / (b.EasKt - a.EasKt) * (b.HeightFt - a.HeightFt),
        [var only] => only.HeightFt,
        _ => decision + 10 * FirstFt,
    };
}
