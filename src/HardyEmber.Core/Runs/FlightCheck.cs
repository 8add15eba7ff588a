using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>Whether a jet can be where a header puts it in the air.</summary>
internal static class FlightCheck
{
    /// <summary>Slower than this share of the glide speed the wing does not carry it; faster than this share of its fastest restart nobody flies it.</summary>
    private const double StallShare = 0.6, FastShare = 1.25;

    /// <summary>Over the ground there must be so much, ft.</summary>
    private const double LeastFt = 500;

    /// <summary>Before this version of the physics nothing asked for more than the bounds of the fields.</summary>
    private const int FirstPhysics = 6;

    /// <exception cref="FormatException">It cannot, with the field that says so.</exception>
    public static void Check(RunFlight flight, AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        if (flight.Dead != RunFlight.NoneDead && aircraft.Engines.All(e => e.Id != flight.Dead))
        {
            throw new FormatException($"flight.dead: {aircraft.Name} has no engine \"{flight.Dead}\" "
                + $"({string.Join(", ", aircraft.Engines.Select(e => e.Id))}, or {RunFlight.NoneDead})");
        }

        // A run of an earlier physics was let pass by its rules, and is replayed.
        if (header.Physics is { } flown && flown < FirstPhysics)
        {
            return;
        }

        if (flight.GroundFt < place.ElevationFt)
        {
            throw new FormatException(FormattableString.Invariant(
                $"flight.groundFt: {flight.GroundFt:0} ft is lower than {place.Name}, {place.ElevationFt:0} ft; it is the highest ground on the way"));
        }

        var ground = flight.GroundAt(place);
        if (flight.HeightFt < ground + LeastFt)
        {
            throw new FormatException(FormattableString.Invariant(
                $"flight.heightFt: {flight.HeightFt:0} ft is not {LeastFt:0} ft over the ground {(ground > place.ElevationFt ? "there" : $"of {place.Name}")}, {ground:0} ft"));
        }

        var (least, most) = Speeds(aircraft, place, header);
        if (flight.EasKt < least || flight.EasKt > most)
        {
            throw new FormatException(FormattableString.Invariant(
                $"flight.easKt: {flight.EasKt:0} kt is outside {least:0} to {most:0}, what {aircraft.Name} flies at this weight"));
        }
    }

    /// <summary>The nearest to where it is that <see cref="Check"/> lets pass.</summary>
    public static RunFlight Nearest(RunFlight flight, AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        var (least, most) = Speeds(aircraft, place, header);
        return flight with { HeightFt = Math.Clamp(flight.HeightFt, flight.GroundAt(place) + LeastFt, RunFlight.HighestFt), EasKt = Math.Clamp(flight.EasKt, least, most) };
    }

    private static (double Least, double Most) Speeds(AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        var glide = FlightState.JetOf(aircraft, header, Station.Of(place, header)).GlideEasKt;
        return (Math.Ceiling(StallShare * glide), Math.Floor(FastShare * aircraft.Engine.Windmill.MaxEasKt));
    }
}
