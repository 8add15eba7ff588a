using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>The heights between which fuel given at one speed brings a windmilling core to idle, the speed held.</summary>
/// <param name="EasKt">Equivalent airspeed, kt.</param>
/// <param name="TopFt">Above it nothing lights, or it lights and hangs.</param>
/// <param name="FloorFt">From lower it would come to idle below the decision height.</param>
public sealed record EnvelopeEdge(double EasKt, double TopFt, double FloorFt);

/// <summary>Where a windmill restart succeeds today: found by flying it, speed by speed, for this weight and this air, with a sound core that has windmilled.</summary>
/// <param name="Windmill">Its edges, the slowest speed first; empty where it never does.</param>
/// <param name="DecisionFt">The decision height above the pressure datum.</param>
/// <param name="GlideEasKt">Best glide at today's weight.</param>
/// <param name="CeilingFt">The auxiliary unit gives no air above it; null where there is none.</param>
/// <param name="MaxEasKt">The fastest restart of the type.</param>
/// <param name="MaxAltitudeFt">The highest.</param>
public sealed record RelightEnvelope(IReadOnlyList<EnvelopeEdge> Windmill, double DecisionFt, double GlideEasKt, double? CeilingFt, double MaxEasKt, double MaxAltitudeFt)
{
    private const double StepKt = 5, HighestFt = 36_000, CoarseFt = 1500, FineFt = 120;

    /// <summary>A speed is held within this, kt.</summary>
    internal const double HoldsKt = 1;

    /// <summary>Fuel given within the envelope lights so soon, s; where it has to wait for thicker air it gathers instead.</summary>
    private const double SoonS = 6;

    /// <summary>Computes it.</summary>
    /// <exception cref="FormatException">The header is not of an in-flight run, or names something that does not exist.</exception>
    public static RelightEnvelope For(Fleet fleet, RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        var flight = header.Flight ?? throw new FormatException("flight: only an in-flight run has an envelope");
        var aircraft = fleet.FindAircraft(header.Aircraft);
        var place = fleet.FindPlace(header.Place);
        var station = Station.Of(place, header);
        var decision = flight.GroundAt(place) + aircraft.Flight.DecisionHeightFt;
        var trial = new RelightTrial(aircraft, header, station, header.RestartEngine(aircraft));
        var glide = FlightState.JetOf(aircraft, header, station).GlideEasKt;
        var fastest = aircraft.Engine.Windmill.MaxEasKt - HoldsKt;
        var slowest = Math.Floor(0.8 * glide / StepKt) * StepKt;
        var edges = new List<EnvelopeEdge>();
        for (var kt = slowest; kt < fastest + StepKt; kt += StepKt)
        {
            if (Edge(trial, Math.Min(kt, fastest), decision) is { } edge)
            {
                edges.Add(edge);
            }
        }

        return new RelightEnvelope(edges, Math.Round(decision), Math.Round(glide), aircraft.AuxiliaryUnit?.CeilingFt,
            aircraft.Engine.Windmill.MaxEasKt, aircraft.Engine.Windmill.MaxAltitudeFt);
    }

    /// <summary>Whether a point lies inside; between two speeds the edges are straight.</summary>
    public bool Holds(double heightFt, double easKt)
    {
        for (var i = 1; i < Windmill.Count; i++)
        {
            var (a, b) = (Windmill[i - 1], Windmill[i]);
            if (easKt >= a.EasKt && easKt <= b.EasKt && b.EasKt - a.EasKt < 1.5 * StepKt)
            {
                var share = (easKt - a.EasKt) / (b.EasKt - a.EasKt);
                return heightFt <= a.TopFt + share * (b.TopFt - a.TopFt) && heightFt >= a.FloorFt + share * (b.FloorFt - a.FloorFt);
            }
        }

        return false;
    }

    // A first height that works, then both edges by halving.
    private static EnvelopeEdge? Edge(RelightTrial trial, double kt, double decision)
    {
        bool Works(double ft) => trial.Fly(ft, kt, kt, decision, SoonS) is { Idle: true, Cool: true, LitS: < SoonS };
        double? inside = null;
        for (var ft = decision + CoarseFt; ft <= HighestFt && inside is null; ft += CoarseFt)
        {
            inside = Works(ft) ? ft : null;
        }

        if (inside is not { } works)
        {
            return null;
        }

        return new EnvelopeEdge(kt, Math.Round(Boundary(works, HighestFt)), Math.Round(Boundary(works, decision)));

        double Boundary(double good, double bad)
        {
            // Between the two there may be more than one change: the nearest to what works is found first.
            var step = bad > good ? CoarseFt : -CoarseFt;
            while (Math.Abs(bad - good) > CoarseFt && Works(good + step))
            {
                good += step;
            }

            bad = Math.Abs(bad - good) > CoarseFt ? good + step : bad;
            while (Math.Abs(bad - good) > FineFt)
            {
                var middle = (good + bad) / 2;
                (good, bad) = Works(middle) ? (middle, bad) : (good, middle);
            }

            return good;
        }
    }
}
