namespace HardyEmber.Core.Definitions;

/// <summary>Tables for the card.</summary>
public sealed record NumbersDefinition(double EmptyLb, double InternalFuelLb, IReadOnlyList<TablePoint> Trim,
    double ReferenceLb, double RotateKt, double LiftOffKt, double ReserveLb, double GoHomeLb, double HeightBugFt, double DivePathDeg, double RecoverPathDeg)
{
    /// <summary>Equivalent airspeed at which a windmilling core is given fuel, as it is taught; the middle of its range where nothing is said.</summary>
    public double? RelightKt { get; init; }

    /// <summary>The one figure of those who do not trim by weight, units.</summary>
    public double? StandardTrim { get; init; }
}

public sealed record TablePoint(double X, double Y);
