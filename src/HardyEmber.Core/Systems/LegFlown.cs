using System.Globalization;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The planned leg flown on with the alignment that a run ended with, and the errors that its set has.</summary>
/// <param name="Asked">What was to be expected.</param>
/// <param name="CameNm">How far off the position is at the end of the leg.</param>
/// <param name="Sentence">The same in words.</param>
public sealed record LegFlown(GoOrWait Asked, double CameNm, string Sentence)
{
    /// <summary>Flies the leg from the machine as it stands, along the first runway of the place. The machine is not changed.</summary>
    /// <returns>Null where no set navigates.</returns>
    public static LegFlown? Of(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        if (machine.Aircraft.Inertial is not { } set || machine["ins.navigating"] < 0.5)
        {
            return null;
        }

        var asked = GoOrWait.For(machine);
        var (leg, latitudeDeg) = (asked.Leg, machine.Place.LatitudeDeg);
        var latitude = latitudeDeg * Math.PI / 180;
        Span<double> x = stackalloc double[InertialErrors.States], drift = stackalloc double[3];
        for (var i = 0; i < x.Length + drift.Length; i++)
        {
            (i < x.Length ? ref x[i] : ref drift[i - x.Length]) = machine[InertialSet.StateSignal(i)];
        }

        var courseDeg = machine.Place.Runways[0].TrueHeadingDeg;
        var speed = leg.LengthNm * InertialErrors.MetresPerNauticalMile / (leg.Minutes * 60);
        var (east, north) = Math.SinCos(courseDeg * Math.PI / 180);
        InertialErrors.Accelerate(x, north * speed, east * speed);
        InertialErrors.Advance(x, drift, latitude, north * speed, east * speed, leg.Minutes * 60);
        var aided = machine["ins.aided"] > 0;
        var came = aided ? machine["ins.position-error"] : InertialErrors.OffNm(x);
        return new LegFlown(asked, came, string.Create(CultureInfo.InvariantCulture,
            $"Flown on {courseDeg:000}° for {leg.LengthNm:0} NM, the position is {came:0.0#} NM off"
            + $"{(came > leg.MarkNm ? $", more than the {leg.MarkNm:0.0#} NM that the leg can bear" : "")}; "
            + $"{(aided ? "satellites held it" : $"half of all end within {asked.NowNm:0.0#} NM")}."));
    }
}
