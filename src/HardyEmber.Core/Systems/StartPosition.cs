using System.Globalization;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The position that the inertial set was given, held against the surveyed ramp spot.</summary>
/// <param name="Spot">Name of the spot.</param>
/// <param name="Offered">The survey's position of the spot.</param>
/// <param name="Entered">What was entered; null where nothing was.</param>
/// <param name="OffFt">How far it is from the spot, by great circle.</param>
/// <param name="BearingDeg">Where it lies from there, degrees true; null where it is the spot.</param>
/// <param name="Slip">What the hand most likely did; null where it did nothing wrong, or nothing that is known.</param>
/// <param name="Sentence">The same in words.</param>
public sealed record StartPosition(string Spot, string Offered, string? Entered, double? OffFt, double? BearingDeg, string? Slip, string Sentence)
{
    // A hundredth of a minute is 60 ft: what is nearer is the spot, as well as it can be typed.
    private const double SpotFt = 90;

    /// <summary>What stands on the machine.</summary>
    /// <exception cref="ArgumentException">Its set is given no position.</exception>
    public static StartPosition Of(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var control = machine.Aircraft.Inertial?.Position ?? throw new ArgumentException("the set of this aircraft is given no position");
        var spot = machine.Place.Spots.First(s => s.Id == machine.Header.Spot);
        var survey = new GeoPosition(spot.LatitudeDeg, spot.LongitudeDeg);
        if (machine.Place.Ship is not null)
        {
            return new StartPosition(spot.Id, survey.ToString(), null, null, null, null, "The ship's data feed says where it is: nothing is to be entered.");
        }

        if (machine[control] < 0.5)
        {
            return new StartPosition(spot.Id, survey.ToString(), null, null, null, null,
                "Nothing is entered: the set takes what it remembers of its last flight, with the error that it had by then.");
        }

        var entered = new GeoPosition(machine[Controls.LatitudeOf(control)], machine[Controls.LongitudeOf(control)]);
        var offFt = GreatCircle.DistanceNm(survey, entered) * GreatCircle.FeetPerNauticalMile;
        if (offFt < SpotFt)
        {
            return new StartPosition(spot.Id, survey.ToString(), entered.ToString(), offFt, null, null, $"It is spot {spot.Id}.");
        }

        var bearing = GreatCircle.CourseDeg(survey, entered);
        var slip = PositionSlip.Name(survey, entered);
        return new StartPosition(spot.Id, survey.ToString(), entered.ToString(), offFt, bearing, slip, string.Create(CultureInfo.InvariantCulture,
            $"{Far(offFt)} from spot {spot.Id}, on {Math.Round(bearing) % 360:000}°.{(slip is null ? "" : $" Most likely {slip}.")} Enter it again."));
    }

    private static readonly NumberFormatInfo Grouped = new() { NumberGroupSeparator = "\u2009" };

    private static string Far(double feet)
    {
        var near = feet < 0.5 * GreatCircle.FeetPerNauticalMile;
        var rounded = (near ? Math.Round(feet / 10) * 10 : Math.Round(feet / 100) * 100).ToString("N0", Grouped);
        return near ? $"{rounded} ft" : $"{(feet / GreatCircle.FeetPerNauticalMile).ToString("N1", Grouped)} NM ({rounded} ft)";
    }
}
