using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Systems;

/// <summary>
/// How an alignment in field mode goes at a place: warm-up, levelling, gyrocompassing. The 1-sigma heading error follows
/// σ² = f² + (σ₀² − f²)·exp(−2t/τ) with floor f = ε/(Ω·cos φ) and τ ∝ 1/cos φ (Titterton and Weston, chapter 10).
/// Angles in degrees, time in seconds since it began.
/// </summary>
public sealed class Alignment
{
    private const double EarthRateDegPerH = 15.041;
    private const double QualityAtHeading = 60, Unaligned = 99.9;
    private readonly InertialDefinition _d;

    /// <param name="definition">The set.</param>
    /// <param name="latitudeDeg">Where it stands.</param>
    /// <param name="oatC">Cold gyros take longer to warm.</param>
    public Alignment(InertialDefinition definition, double latitudeDeg, double oatC)
    {
        ArgumentNullException.ThrowIfNull(definition);
        _d = definition;
        WarmUpS = _d.WarmUpS * (1 + Math.Max(0, 15 - oatC) / 60);
        HeadingFromS = WarmUpS + _d.LevelS;
        FloorDeg = Floor(_d, latitudeDeg);
        TauS = Tau(_d, latitudeDeg);
        GoodDeg = Good(_d, FloorDeg);
        GoodAtS = HeadingFromS - TauS / 2 * Math.Log((GoodDeg * GoodDeg - FloorDeg * FloorDeg) / Spread);
    }

    public double WarmUpS { get; }

    /// <summary>From here on the set looks for north, and may be set to navigate.</summary>
    public double HeadingFromS { get; }

    /// <summary>The heading error that gyrocompassing cannot beat: ε_east/(Ω·cos φ).</summary>
    public double FloorDeg { get; }

    /// <summary>Time constant here, chosen so that the type's field time holds at 45°.</summary>
    public double TauS { get; }

    /// <summary>The heading error at the type's mark.</summary>
    public double GoodDeg { get; }

    /// <summary>When the mark is reached.</summary>
    public double GoodAtS { get; }

    private double Spread => _d.InitialHeadingDeg * _d.InitialHeadingDeg - FloorDeg * FloorDeg;

    /// <summary>Heading error so long after it began, 1 sigma.</summary>
    public double HeadingDeg(double seconds) =>
        seconds <= HeadingFromS ? _d.InitialHeadingDeg : Math.Sqrt(FloorDeg * FloorDeg + Spread * Math.Exp(-2 * (seconds - HeadingFromS) / TauS));

    /// <summary>Part of a heading error that waiting still takes away, rad: what lies above the floor.</summary>
    public double Settling(double headingDeg) => Math.Sqrt(Math.Max(0, headingDeg * headingDeg - FloorDeg * FloorDeg)) * Math.PI / 180;

    /// <summary>The number shown: counts down from 99.9 to the type's mark and on.</summary>
    public double Quality(double seconds) =>
        seconds < WarmUpS ? Unaligned
        : seconds < HeadingFromS ? Unaligned + (QualityAtHeading - Unaligned) * (seconds - WarmUpS) / _d.LevelS
        : QualityAtHeading * (HeadingDeg(seconds) - FloorDeg) / (_d.InitialHeadingDeg - FloorDeg);

    private static double Floor(InertialDefinition d, double latitudeDeg) =>
        d.GyroDriftDegPerH / (EarthRateDegPerH * Math.Cos(latitudeDeg * Math.PI / 180)) * 180 / Math.PI;

    private static double Good(InertialDefinition d, double floor) => floor + d.GoodQuality / QualityAtHeading * (d.InitialHeadingDeg - floor);

    private static double Tau(InertialDefinition d, double latitudeDeg)
    {
        var floor = Floor(d, 45);
        var good = Good(d, floor);
        var headingS = d.FieldMinutes * 60 - d.WarmUpS - d.LevelS;
        var at45 = -2 * headingS / Math.Log((good * good - floor * floor) / (d.InitialHeadingDeg * d.InitialHeadingDeg - floor * floor));
        return at45 * Math.Cos(Math.PI / 4) / Math.Cos(latitudeDeg * Math.PI / 180);
    }
}
