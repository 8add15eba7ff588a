namespace HardyEmber.Core.Numbers;

/// <summary>
/// How the errors of an inertial navigator grow: the linear φ-angle equations of a levelled set over a spherical earth at a constant height, axes north,
/// east, down, without the vertical channel (Titterton and Weston, Strapdown Inertial Navigation Technology, chapter 12). The state is
/// (north m, east m, north m/s, east m/s, tilt north rad, tilt east rad, heading rad). SI units; integrated by the classical Runge-Kutta rule.
/// </summary>
public static class InertialErrors
{
    public const int North = 0, East = 1, VelocityNorth = 2, VelocityEast = 3, TiltNorth = 4, TiltEast = 5, Heading = 6, States = 7;

    public const double EarthRadiusM = 6_371_000;
    public const double EarthRate = 7.292115e-5;
    public const double Gravity = 9.80665;
    public const double MetresPerNauticalMile = 1852;

    /// <summary>No longer step is taken, s: the quickest motion is the swing of 84.4 minutes.</summary>
    private const double LongestStepS = 30;

    /// <summary>Moves the errors on.</summary>
    /// <param name="x">The state, <see cref="States"/> long; changed.</param>
    /// <param name="drift">Gyro drift about north, east and down, rad/s.</param>
    /// <param name="latitude">rad; it is kept over the time.</param>
    /// <param name="velocityNorth">Ground velocity, m/s; constant over the time.</param>
    /// <param name="velocityEast">Ground velocity, m/s.</param>
    /// <param name="seconds">How long.</param>
    public static void Advance(Span<double> x, ReadOnlySpan<double> drift, double latitude, double velocityNorth, double velocityEast, double seconds)
    {
        Span<double> k1 = stackalloc double[States], k2 = stackalloc double[States], k3 = stackalloc double[States], k4 = stackalloc double[States], at = stackalloc double[States];
        var steps = Math.Max(1, (int)Math.Ceiling(seconds / LongestStepS));
        var dt = seconds / steps;
        for (var step = 0; step < steps; step++)
        {
            Rate(x, drift, latitude, velocityNorth, velocityEast, k1);
            Along(x, k1, dt / 2, at);
            Rate(at, drift, latitude, velocityNorth, velocityEast, k2);
            Along(x, k2, dt / 2, at);
            Rate(at, drift, latitude, velocityNorth, velocityEast, k3);
            Along(x, k3, dt, at);
            Rate(at, drift, latitude, velocityNorth, velocityEast, k4);
            for (var i = 0; i < States; i++)
            {
                x[i] += dt / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
            }
        }
    }

    /// <summary>A change of velocity that is quick beside the other motions, as on the take-off run: it is felt along the axes that the set believes in.</summary>
    public static void Accelerate(Span<double> x, double byNorth, double byEast)
    {
        x[VelocityNorth] += byEast * x[Heading];
        x[VelocityEast] -= byNorth * x[Heading];
    }

    /// <summary>How far the position is off, nautical miles.</summary>
    public static double OffNm(ReadOnlySpan<double> x) => Math.Sqrt(x[North] * x[North] + x[East] * x[East]) / MetresPerNauticalMile;

    private static void Along(ReadOnlySpan<double> x, ReadOnlySpan<double> rate, double dt, Span<double> at)
    {
        for (var i = 0; i < States; i++)
        {
            at[i] = x[i] + dt * rate[i];
        }
    }

    private static void Rate(ReadOnlySpan<double> x, ReadOnlySpan<double> drift, double latitude, double vN, double vE, Span<double> rate)
    {
        const double R = EarthRadiusM;
        var (sin, cos) = Math.SinCos(latitude);
        var (tan, latitudeError) = (sin / cos, x[North] / R);
        var (horizontal, vertical) = (EarthRate * cos, EarthRate * sin);

        // Rates of the local axes against the stars, and by how much the set turns its own axes wrongly.
        var (wN, wE, wD) = (horizontal + vE / R, -vN / R, -vertical - vE * tan / R);
        var turnN = x[VelocityEast] / R - vertical * latitudeError;
        var turnE = -x[VelocityNorth] / R;
        var turnD = -x[VelocityEast] * tan / R - (horizontal + vE / (R * cos * cos)) * latitudeError;

        rate[North] = x[VelocityNorth];
        rate[East] = x[VelocityEast] + vE * tan * latitudeError;
        rate[VelocityNorth] = Gravity * x[TiltEast] - 2 * (vertical + vE * tan / R) * x[VelocityEast] - vE * (2 * horizontal + vE / (R * cos * cos)) * latitudeError;
        rate[VelocityEast] = -Gravity * x[TiltNorth] + (2 * vertical + vE * tan / R) * x[VelocityNorth] + vN * tan / R * x[VelocityEast]
            + (2 * horizontal * vN + vN * vE / (R * cos * cos)) * latitudeError;
        rate[TiltNorth] = -(wE * x[Heading] - wD * x[TiltEast]) + turnN - drift[0];
        rate[TiltEast] = -(wD * x[TiltNorth] - wN * x[Heading]) + turnE - drift[1];
        rate[Heading] = -(wN * x[TiltEast] - wE * x[TiltNorth]) + turnD - drift[2];
    }
}
