namespace HardyEmber.Core.Definitions;

/// <param name="GlideEasKt">Speed of best glide.</param>
/// <param name="MaxLoadFactor">The hardest pull, g.</param>
/// <param name="MassLb">The weight for which the figures hold.</param>
/// <param name="IdleThrustRatio">Thrust over that weight at sea level, every engine at idle; at full power <paramref name="MaxThrustRatio"/>.</param>
/// <param name="PitchControl">Dial of the path asked for, °.</param>
/// <param name="Positions">Where the controls stand in flight, where that differs from a cold jet.</param>
/// <param name="SpeedControl">Dial of the airspeed asked for, kt; 0 leaves it to the path. Whichever of the two was set last is flown.</param>
public sealed record FlightDefinition(double GlideEasKt, double GlideRatio, double MaxLoadFactor, double DecisionHeightFt, double MassLb, double IdleThrustRatio,
    double MaxThrustRatio, string PitchControl,
    IReadOnlyDictionary<string, string> Positions, string? SpeedControl = null)
{
    /// <summary>What the stick wants of the hydraulics; where nothing is said it moves cables.</summary>
    public StickDefinition? Stick { get; init; }

    /// <summary>When the pilot leaves the aircraft in flight; nobody can where nothing is said.</summary>
    public string? LeaveWhen { get; init; }

    /// <summary>Thrust over weight of all engines on a standard day at sea level, so far above idle.</summary>
    /// <param name="above">0 at idle, 1 at full speed.</param>
    public double ThrustRatio(double above) => IdleThrustRatio + (MaxThrustRatio - IdleThrustRatio) * above * above;
}

/// <param name="FullPsi">From this pressure of the best pump on the jet follows the stick at its full rate; below, at a share of it.</param>
/// <param name="LeastShare">The share of that rate which is left without any pressure.</param>
public sealed record StickDefinition([property: Between(1, 10_000)] double FullPsi, [property: Between(0.05, 1)] double LeastShare);
