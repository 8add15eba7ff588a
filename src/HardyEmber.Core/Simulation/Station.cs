using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Simulation;

/// <summary>The air where the jet stands.</summary>
/// <param name="TailwindKt">Wind into the exhaust, kt; negative from ahead.</param>
public sealed record Station(double OatC, double PressureAltitudeFt, double DensityRatio, double TailwindKt, double QnhHpa, SpotDefinition Spot)
{
    /// <exception cref="FormatException">The spot does not exist.</exception>
    public static Station Of(PlaceDefinition place, RunHeader header)
    {
        var c = header.Conditions;
        var spot = place.Spots.FirstOrDefault(s => s.Id == header.Spot)
            ?? throw new FormatException($"spot: {place.Name} has no spot \"{header.Spot}\" ({string.Join(", ", place.Spots.Select(s => s.Id))})");
        var qnh = c.QnhHpa ?? place.Usual.QnhHpa;
        var altitude = c.PressureAltitudeFt ?? Altimetry.PressureAltitudeFt(place.ElevationFt, qnh);
        var sigma = Atmosphere.DensityRatio(Atmosphere.PressureRatio(altitude), c.OatC + Atmosphere.ZeroCelsiusK);
        var tail = -c.WindKt * Math.Cos((c.WindFromDeg - spot.HeadingDeg) * Math.PI / 180);
        return new Station(c.OatC, altitude, sigma, tail, qnh, spot);
    }
}
