namespace HardyEmber.Core.Numbers;

/// <summary>
/// Standard atmosphere below the tropopause with a temperature offset, and the subsonic compressible airspeed relations
/// (Anderson, <i>Introduction to Flight</i>, chapters 3 and 4).
/// </summary>
public static class Atmosphere
{
    public const double SeaLevelTemperatureK = 288.15;
    public const double SeaLevelDensity = 1.225;
    public const double SeaLevelSoundMps = 340.294;
    public const double ZeroCelsiusK = 273.15;
    public const double MetresPerFoot = 0.3048;
    public const double MpsPerKnot = 0.514444;
    private const double LapsePerFoot = 6.8756e-6;

    /// <summary>Pressure ratio δ at a pressure altitude in feet (valid below 36 089 ft).</summary>
    public static double PressureRatio(double altitudeFt) => Math.Pow(1 - LapsePerFoot * altitudeFt, 5.2559);

    /// <summary>Standard temperature in kelvin at a pressure altitude in feet.</summary>
    public static double StandardTemperatureK(double altitudeFt) => SeaLevelTemperatureK * (1 - LapsePerFoot * altitudeFt);

    /// <summary>Density ratio σ = δ/θ.</summary>
    public static double DensityRatio(double pressureRatio, double temperatureK) =>
        pressureRatio / (temperatureK / SeaLevelTemperatureK);

    /// <summary>Pressure altitude in feet where the pressure ratio is δ: the inverse of <see cref="PressureRatio"/>.</summary>
    public static double PressureAltitudeFt(double pressureRatio) => (1 - Math.Pow(pressureRatio, 1 / 5.2559)) / LapsePerFoot;

    /// <summary>True airspeed (any unit) from equivalent airspeed of the same unit.</summary>
    public static double TrueFromEquivalent(double equivalent, double densityRatio) => equivalent / Math.Sqrt(densityRatio);

    /// <summary>Equivalent airspeed (any unit) from true airspeed of the same unit.</summary>
    public static double EquivalentFromTrue(double trueSpeed, double densityRatio) => trueSpeed * Math.Sqrt(densityRatio);

    /// <summary>Mach number of a true airspeed in m/s at a temperature in kelvin.</summary>
    public static double Mach(double trueMps, double temperatureK) =>
        trueMps / (SeaLevelSoundMps * Math.Sqrt(temperatureK / SeaLevelTemperatureK));

    /// <summary>Calibrated airspeed in knots from Mach number and pressure ratio (impact pressure referred to sea level).</summary>
    public static double CalibratedKnots(double mach, double pressureRatio)
    {
        var impact = pressureRatio * (Math.Pow(1 + 0.2 * mach * mach, 3.5) - 1);
        return SeaLevelSoundMps / MpsPerKnot * Math.Sqrt(5 * (Math.Pow(impact + 1, 2.0 / 7) - 1));
    }

    /// <summary>Mach number from calibrated airspeed in knots: the inverse of <see cref="CalibratedKnots"/>.</summary>
    public static double MachFromCalibrated(double knots, double pressureRatio)
    {
        var speed = knots * MpsPerKnot / SeaLevelSoundMps;
        var impact = Math.Pow(1 + 0.2 * speed * speed, 3.5) - 1;
        return Math.Sqrt(5 * (Math.Pow(impact / pressureRatio + 1, 2.0 / 7) - 1));
    }
}
