using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>How a set comes to know its heading.</summary>
public enum AlignmentMode
{
    /// <summary>Gyrocompassing at rest.</summary>
    Field,

    /// <summary>On a moving deck, with the ship's data feed.</summary>
    Ship,

    /// <summary>The heading of the last shutdown is taken: only levelling runs.</summary>
    Stored,

    /// <summary>Under way, with satellites to compare with.</summary>
    InFlight,
}

/// <summary>
/// How an alignment goes at a place: warm-up, levelling, heading. The 1-sigma heading error follows σ² = f² + (σ₀² − f²)·exp(−2t/τ) with floor
/// f = ε/(Ω·cos φ) and τ ∝ 1/cos φ (Titterton and Weston, chapter 10). Angles in degrees, time in seconds since it began.
/// </summary>
public sealed class Alignment
{
    /// <summary>A latitude wrong by more than this spoils the heading.</summary>
    public const double SpoilingDeg = 2;

    // The certainty with which it begins to look for north, %; and how much of the first heading error is left, over what stays, at 92 %.
    private const double CertaintyAtHeading = 10, AtMark = 92, LeftAtMark = 1.0 / 120;

    // What the motion of a deck and of the air leaves, in floors of a set at rest; and the heading error that a degree of wrong latitude costs, °.
    private const double ShipFloors = 1.5, AirFloors = 2, SpoiltDegPerDeg = 0.25;
    private const double EarthRateDegPerH = InertialErrors.EarthRate * 180 / Math.PI * 3600;
    private readonly InertialDefinition _d;
    private readonly double _initialDeg, _gyroFloorDeg, _levelS, _goodFloorDeg;

    /// <param name="definition">The set.</param>
    /// <param name="latitudeDeg">Where it stands.</param>
    /// <param name="oatC">Cold gyros take longer to warm.</param>
    /// <param name="mode">How it aligns.</param>
    /// <param name="latitudeOffDeg">By how much the latitude that it was given is wrong.</param>
    /// <param name="drifts">Its gyro drift, in drifts of a healthy one.</param>
    public Alignment(InertialDefinition definition, double latitudeDeg, double oatC, AlignmentMode mode = AlignmentMode.Field, double latitudeOffDeg = 0, double drifts = 1)
    {
        ArgumentNullException.ThrowIfNull(definition);
        _d = definition;
        var healthy = Floor(_d, latitudeDeg);
        var disturbed = mode switch { AlignmentMode.Ship => ShipFloors, AlignmentMode.InFlight => AirFloors, _ => 1 };
        _gyroFloorDeg = healthy * drifts;
        _goodFloorDeg = healthy * disturbed;
        FloorDeg = _gyroFloorDeg * disturbed + (Math.Abs(latitudeOffDeg) > SpoilingDeg ? SpoiltDegPerDeg * Math.Abs(latitudeOffDeg) : 0);
        _initialDeg = mode == AlignmentMode.Stored ? Math.Max(FloorDeg, _d.Stored!.HeadingDeg) : Math.Max(FloorDeg, _d.InitialHeadingDeg);
        WarmUpS = WarmUp(_d, oatC);
        _levelS = mode == AlignmentMode.Stored ? Math.Max(1, _d.Stored!.Seconds - _d.WarmUpS) : _d.LevelS;
        HeadingFromS = WarmUpS + _levelS;
        TauS = Tau(_d, latitudeDeg, mode switch
        {
            AlignmentMode.Ship => _d.ShipMinutes ?? _d.FieldMinutes,
            AlignmentMode.InFlight => _d.InFlightMinutes ?? _d.FieldMinutes,
            _ => _d.FieldMinutes
        });
        GoodDeg = Good(_d, _goodFloorDeg);
        var (start, mark) = (Over(_initialDeg), Over(GoodDeg));
        GoodAtS = HeadingFromS + (_initialDeg <= GoodDeg ? 0 : mark <= 0 ? double.PositiveInfinity : -TauS / 2 * Math.Log(mark / start));
    }

    public double WarmUpS { get; }

    /// <summary>From here on the set looks for north, and may be set to navigate.</summary>
    public double HeadingFromS { get; }

    /// <summary>The heading error that waiting cannot beat: ε_east/(Ω·cos φ), and what a moving base or a wrong latitude adds.</summary>
    public double FloorDeg { get; }

    /// <summary>Time constant here, chosen so that the type's time holds at 45°.</summary>
    public double TauS { get; }

    /// <summary>The heading error at the type's mark.</summary>
    public double GoodDeg { get; }

    /// <summary>When the mark is reached; infinite where it never is.</summary>
    public double GoodAtS { get; }

    /// <summary>The alignment that a situation and its school plan.</summary>
    /// <param name="takesStored">The school takes the heading of the last shutdown where there is one.</param>
    public static Alignment Planned(InertialDefinition definition, PlaceDefinition place, RunHeader header, bool takesStored)
    {
        ArgumentNullException.ThrowIfNull(definition);
        ArgumentNullException.ThrowIfNull(place);
        ArgumentNullException.ThrowIfNull(header);
        var stored = takesStored && definition.Stored is not null && header.Parked is { HeadingStored: true };
        return new Alignment(definition, place.LatitudeDeg, Soak.Of(header).SetC,
            place.Ship is not null ? AlignmentMode.Ship : stored ? AlignmentMode.Stored : AlignmentMode.Field);
    }

    /// <summary>How long the set warms up, s.</summary>
    public static double WarmUp(InertialDefinition definition, double oatC)
    {
        ArgumentNullException.ThrowIfNull(definition);
        return definition.WarmUpS * (1 + Math.Max(0, 15 - oatC) / 60);
    }

    /// <summary>Heading error so long after it began, 1 sigma.</summary>
    public double HeadingDeg(double seconds) =>
        seconds <= HeadingFromS ? _initialDeg : Math.Sqrt(FloorDeg * FloorDeg + Over(_initialDeg) * Math.Exp(-2 * (seconds - HeadingFromS) / TauS));

    /// <summary>Part of a heading error that does not come of the gyros' own drift, rad: what it and the drift cancel at rest stays out.</summary>
    public double Settling(double headingDeg) => Math.Sqrt(Math.Max(0, headingDeg * headingDeg - _gyroFloorDeg * _gyroFloorDeg)) * Math.PI / 180;

    /// <summary>
    /// How certain the heading is, %: 0 while it warms, up to 10 while it levels, then by the logarithm of how much of the first heading error is left,
    /// so that it rises as evenly as the error falls, to 92 where a 120th is left and to 100 at most.
    /// </summary>
    public double CertaintyPct(double seconds)
    {
        var left = (HeadingDeg(seconds) - _goodFloorDeg) / (_d.InitialHeadingDeg - _goodFloorDeg);
        var heading = left <= 0 ? 100 : Math.Clamp(CertaintyAtHeading + (AtMark - CertaintyAtHeading) * Math.Log(left) / Math.Log(LeftAtMark), 0, 100);
        return seconds < WarmUpS ? 0 : seconds < HeadingFromS ? heading * (seconds - WarmUpS) / _levelS : heading;
    }

    private double Over(double headingDeg) => headingDeg * headingDeg - FloorDeg * FloorDeg;

    private static double Floor(InertialDefinition d, double latitudeDeg) =>
        d.GyroDriftDegPerH / (EarthRateDegPerH * Math.Cos(latitudeDeg * Math.PI / 180)) * 180 / Math.PI;

    private static double Good(InertialDefinition d, double floor) =>
        floor + Math.Pow(LeftAtMark, (d.GoodCertaintyPct - CertaintyAtHeading) / (AtMark - CertaintyAtHeading)) * (d.InitialHeadingDeg - floor);

    private static double Tau(InertialDefinition d, double latitudeDeg, double minutes)
    {
        var floor = Floor(d, 45);
        var good = Good(d, floor);
        var headingS = minutes * 60 - d.WarmUpS - d.LevelS;
        var at45 = -2 * headingS / Math.Log((good * good - floor * floor) / (d.InitialHeadingDeg * d.InitialHeadingDeg - floor * floor));
        return at45 * Math.Cos(Math.PI / 4) / Math.Cos(latitudeDeg * Math.PI / 180);
    }
}
