using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Simulation;

/// <summary>The air where the jet stands.</summary>
/// <param name="TailwindKt">Wind into the exhaust, kt; negative from ahead.</param>
public sealed record Station(double OatC, double PressureAltitudeFt, double DensityRatio, double TailwindKt, double QnhHpa, SpotDefinition Spot)
{
    /// <exception cref="FormatException">The spot does not exist or a condition is out of bounds.</exception>
    public static Station Of(PlaceDefinition place, RunHeader header)
    {
        var c = header.Conditions;
        var spot = place.Spots.FirstOrDefault(s => s.Id == header.Spot)
            ?? throw new FormatException($"spot: {place.Name} has no spot \"{header.Spot}\" ({string.Join(", ", place.Spots.Select(s => s.Id))})");
        Bound(c.OatC, -60, 60, "conditions.oatC");
        Bound(c.WindKt, 0, 100, "conditions.windKt");
        Bound(c.WindFromDeg, 0, 360, "conditions.windFromDeg");
        var qnh = c.QnhHpa ?? place.Usual.QnhHpa;
        Bound(qnh, 850, 1090, "conditions.qnhHpa");
        var altitude = c.PressureAltitudeFt ?? Altimetry.PressureAltitudeFt(place.ElevationFt, qnh);
        Bound(altitude, -2000, 15000, "conditions.pressureAltitudeFt");
        var sigma = Atmosphere.DensityRatio(Atmosphere.PressureRatio(altitude), c.OatC + Atmosphere.ZeroCelsiusK);
        var tail = -c.WindKt * Math.Cos((c.WindFromDeg - spot.HeadingDeg) * Math.PI / 180);
        return new Station(c.OatC, altitude, sigma, tail, qnh, spot);
    }

    private static void Bound(double value, double low, double high, string field)
    {
        if (!(value >= low && value <= high))
        {
            throw new FormatException(FormattableString.Invariant($"{field}: {value} is outside {low} to {high}"));
        }
    }
}
