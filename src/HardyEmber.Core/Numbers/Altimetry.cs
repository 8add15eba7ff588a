namespace HardyEmber.Core.Numbers;

/// <summary>Altimeter settings.</summary>
public static class Altimetry
{
    public const double StandardHpa = 1013.25;

    /// <summary>Pressure altitude in feet of a field at an elevation in feet under a sea-level pressure in hPa.</summary>
    public static double PressureAltitudeFt(double elevationFt, double qnhHpa) =>
        elevationFt + Atmosphere.PressureAltitudeFt(qnhHpa / StandardHpa);

    /// <summary>Field-level pressure in hPa: what makes the altimeter read zero on the ramp.</summary>
    public static double QfeHpa(double elevationFt, double qnhHpa) =>
        StandardHpa * Atmosphere.PressureRatio(PressureAltitudeFt(elevationFt, qnhHpa));
}
