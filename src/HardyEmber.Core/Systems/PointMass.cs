using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A jet as a point mass in the vertical plane. Drag over weight from the point of best glide: D/W = ½/(L/D)·((V/V₀)² + n²·(V₀/V)²) with V, V₀ equivalent
/// airspeeds and n the load factor; V₀ grows with the root of the weight (Anderson, <i>Aircraft Performance and Design</i>, chapter 5). Heights in ft, speeds in kt.
/// </summary>
public sealed class PointMass
{
    private const double G = 9.80665;
    internal const double MetresPerNm = 1852;

    /// <summary>Less than this is never flown; the wing lifts no more than at this share of the glide speed it does at 1 g.</summary>
    private const double LeastLoad = 0.2, StallShare = 0.6;

    /// <summary>No jet is asked to climb higher, ft.</summary>
    public const double HighestFt = 36_000;

    // The path follows what is asked with this gain and at most at this rate, rad/s; and lies within these, rad.
    private const double PathGain = 0.9, MostRate = 0.12, SteepestDown = -1.2, SteepestUp = 0.8;

    /// <summary>Slower than this nothing is computed, m/s.</summary>
    private const double Slowest = 20;

    private readonly FlightDefinition _d;
    private readonly double _weightShare, _temperatureOffsetK;
    private double _speed, _gamma;

    /// <param name="weightLb">What it weighs now; the file's figures hold for <see cref="FlightDefinition.MassLb"/>.</param>
    /// <param name="temperatureOffsetK">Air over the standard day.</param>
    public PointMass(FlightDefinition flight, double weightLb, double temperatureOffsetK)
    {
        (_d, _temperatureOffsetK) = (flight ?? throw new ArgumentNullException(nameof(flight)), temperatureOffsetK);
        _weightShare = weightLb / flight.MassLb;
        GlideEasKt = flight.GlideEasKt * Math.Sqrt(_weightShare);
    }

    /// <summary>Speed of best glide at this weight.</summary>
    public double GlideEasKt { get; }

    /// <summary>Pressure altitude, ft.</summary>
    public double HeightFt { get; private set; }
    public double EasKt { get; private set; }
    public double Mach { get; private set; }
    public double LoadFactor { get; private set; } = 1;
    public double TemperatureC { get; private set; }
    public double DensityRatio { get; private set; } = 1;

    /// <summary>Density ratio before the intakes, behind the ram compression: σ·(1 + 0.2·M²)^2.5.</summary>
    public double RamDensityRatio { get; private set; } = 1;
    public double PathDeg => _gamma * 180 / Math.PI;
    public double VerticalFtPerMin => _speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot * 60;
    public double TrueKt => _speed / Atmosphere.MpsPerKnot;

    /// <summary>What the wing is asked for, as a share of the most it can lift at this speed: 1 at the stall.</summary>
    public double LiftShare { get; private set; }

    /// <summary>Calibrated airspeed, kt.</summary>
    public double CasKt => Atmosphere.CalibratedKnots(Mach, Atmosphere.PressureRatio(HeightFt));

    /// <summary>Share of the rate at which it follows the stick; less where the hydraulics have little pressure.</summary>
    public double StickShare { get; set; } = 1;

    /// <summary>Puts it into flight, level where no path is told.</summary>
    public void Begin(double heightFt, double easKt, double pathDeg = 0)
    {
        (HeightFt, _gamma) = (heightFt, pathDeg * Math.PI / 180);
        Refresh();
        _speed = Atmosphere.TrueFromEquivalent(easKt, DensityRatio) * Atmosphere.MpsPerKnot;
        Refresh();
    }

    /// <summary>The path on which it keeps a speed, °: steeper while it is slower.</summary>
    /// <param name="thrust">Thrust over weight on a standard day at sea level, 0 to 1.</param>
    public double PathFor(double easKt, double thrust)
    {
        const double PerKt = 0.4;
        var level = Math.Asin(Math.Clamp(Thrust(thrust) - Drag(1), -1, 1)) * 180 / Math.PI;
        return Math.Clamp(level + PerKt * (EasKt - easKt), -40, 20);
    }

    /// <summary>Advances it by <paramref name="dt"/> s towards the path asked for.</summary>
    /// <param name="pathDeg">Flight path asked for, °, positive up.</param>
    /// <param name="thrust">Thrust over the file's weight on a standard day at sea level.</param>
    public void Step(double dt, double pathDeg, double thrust)
    {
        var wanted = Math.Clamp(pathDeg, -60, 40) * Math.PI / 180;
        var ratio = Math.Max(EasKt, 20) / GlideEasKt;
        var lift = Math.Min(_d.MaxLoadFactor, ratio * ratio / (StallShare * StallShare));
        var rate = Math.Clamp((wanted - _gamma) * PathGain, -MostRate, MostRate) * StickShare;
        LoadFactor = Math.Clamp(Math.Cos(_gamma) + rate * _speed / G, LeastLoad, lift);
        LiftShare = LoadFactor * StallShare * StallShare / (ratio * ratio);
        var turn = (LoadFactor - Math.Cos(_gamma)) * G / Math.Max(_speed, Slowest);
        _speed = Math.Max(Slowest, _speed + dt * G * (Thrust(thrust) - Drag(LoadFactor) - Math.Sin(_gamma)));
        _gamma = Math.Clamp(_gamma + dt * turn, SteepestDown, SteepestUp);
        HeightFt += dt * _speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot;
        Refresh();
    }

    /// <summary>What thrust leaves over drag in level flight, as a share of the weight: below nothing it sinks or slows.</summary>
    /// <param name="thrust">Thrust over the file's weight on a standard day at sea level.</param>
    public double Excess(double thrust) => Thrust(thrust) - Drag(1);

    /// <summary>Where it no longer sinks on that thrust, flown at its best glide: T·σ/w = D/W there; <see cref="HighestFt"/> where that is higher still, 0 where it sinks
    /// everywhere.</summary>
    /// <param name="thrust">Thrust over the file's weight on a standard day at sea level.</param>
    public double LevelsOffFt(double thrust)
    {
        if (thrust <= 0)
        {
            return 0;
        }

        var due = _weightShare / (_d.GlideRatio * thrust);
        var (low, high) = (0.0, HighestFt);
        if (Density(high) >= due || Density(low) < due)
        {
            return Density(high) >= due ? high : 0;
        }

        while (high - low > 10)
        {
            var middle = (low + high) / 2;
            (low, high) = Density(middle) >= due ? (middle, high) : (low, middle);
        }

        return low;
    }

    /// <summary>
    /// How far over the ground it glides from a height down to another at its best glide, without thrust, NM. Through the air L/D · (1 + V²/2g · σ'/σ) for
    /// each foot, as one equivalent speed is kept and the true one falls; the wind carries it for as long as that takes.
    /// </summary>
    /// <param name="headwindKt">Wind against it, the same at all heights; negative from behind.</param>
    public double ReachNm(double fromFt, double toFt, double headwindKt)
    {
        const double SliceFt = 2500;
        var (metres, ft) = (0.0, fromFt);
        while (ft > toFt)
        {
            var slice = Math.Min(SliceFt, ft - toFt);
            var middle = ft - slice / 2;
            var sigma = Density(middle);
            var speed = Atmosphere.TrueFromEquivalent(GlideEasKt, sigma) * Atmosphere.MpsPerKnot;
            var thicker = (Density(middle - 100) - Density(middle + 100)) / (200 * Atmosphere.MetresPerFoot) / sigma;
            var air = _d.GlideRatio * (1 + speed * speed / (2 * G) * thicker) * slice * Atmosphere.MetresPerFoot;
            metres += air * (1 - headwindKt * Atmosphere.MpsPerKnot / speed);
            ft -= slice;
        }

        return Math.Max(0, metres) / MetresPerNm;
    }

    private double Density(double ft) => Atmosphere.DensityRatio(Atmosphere.PressureRatio(ft), Atmosphere.StandardTemperatureK(ft) + _temperatureOffsetK);

    /// <summary>It has come to a stop at this height.</summary>
    public void Stop(double heightFt)
    {
        (HeightFt, _speed, _gamma) = (heightFt, 0, 0);
        Refresh();
    }

    private double Thrust(double ratio) => ratio * DensityRatio / _weightShare;

    private double Drag(double load)
    {
        var ratio = Math.Max(EasKt, 20) / GlideEasKt;
        return 0.5 / _d.GlideRatio * (ratio * ratio + load * load / (ratio * ratio));
    }

    private void Refresh()
    {
        var t = Atmosphere.StandardTemperatureK(HeightFt) + _temperatureOffsetK;
        DensityRatio = Atmosphere.DensityRatio(Atmosphere.PressureRatio(HeightFt), t);
        TemperatureC = t - Atmosphere.ZeroCelsiusK;
        Mach = Atmosphere.Mach(_speed, t);
        EasKt = Atmosphere.EquivalentFromTrue(_speed / Atmosphere.MpsPerKnot, DensityRatio);
        var ram = 1 + 0.2 * Mach * Mach;
        RamDensityRatio = DensityRatio * ram * ram * Math.Sqrt(ram);
    }
}
