using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What one inertial set has for errors, drawn once for a run: the screen never shows more than what comes of them.</summary>
public sealed class InertialDraw
{
    private readonly double _heading;
    private readonly double[] _drift, _place, _memory;

    /// <param name="random">The set's own stream.</param>
    /// <param name="definition">How large its errors are.</param>
    public InertialDraw(RandomStream random, InertialDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(random);
        var drift = DriftOf(definition);
        _heading = random.Normal();
        _drift = [random.Normal() * drift, random.Normal() * drift, random.Normal() * drift];
        _place = [random.Normal() * PlaceM, random.Normal() * PlaceM];
        _memory = [random.Normal() * MemoryM, random.Normal() * MemoryM];
    }

    /// <summary>How well a surveyed spot and the jet on it are known, m on each axis, 1 sigma.</summary>
    public const double PlaceM = 6;

    /// <summary>How far off the last flight left the position that the set remembers, m on each axis, 1 sigma.</summary>
    private const double MemoryM = 900;

    /// <summary>Name of the set's stream.</summary>
    public const string Stream = "inertial";

    /// <summary>Gyro drift about north, east and down of a healthy set, rad/s.</summary>
    public ReadOnlySpan<double> Drift => _drift;

    /// <summary>How far off the position is that the set remembers of its last flight, m north and east.</summary>
    public (double North, double East) Memory => (_memory[0], _memory[1]);

    /// <summary>Gyro drift, rad/s, 1 sigma.</summary>
    public static double DriftOf(InertialDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(definition);
        return definition.GyroDriftDegPerH * Math.PI / 180 / 3600;
    }

    /// <summary>
    /// The heading error of an alignment, rad. Gyrocompassing takes the east gyro's drift for a turn of the earth: that part of the heading error belongs
    /// to the drift, and the two cancel while it stands.
    /// </summary>
    /// <param name="alignment">How it was aligned.</param>
    /// <param name="headingDeg">How far, 1 sigma.</param>
    /// <param name="latitude">rad.</param>
    /// <param name="drifts">Its gyro drift, in drifts of a healthy one.</param>
    public double HeadingOff(Alignment alignment, double headingDeg, double latitude, double drifts = 1)
    {
        ArgumentNullException.ThrowIfNull(alignment);
        return drifts * _drift[1] / (InertialErrors.EarthRate * Math.Cos(latitude)) + _heading * alignment.Settling(headingDeg);
    }

    /// <summary>The errors with which it begins to navigate, as <see cref="InertialErrors"/> has them.</summary>
    /// <param name="x">Is filled.</param>
    /// <param name="headingOff">As <see cref="HeadingOff"/> says, and what else it is off, rad.</param>
    /// <param name="north">How far the position is off that it was given, m.</param>
    /// <param name="east">The same.</param>
    public void Begin(Span<double> x, double headingOff, double north = 0, double east = 0)
    {
        x.Clear();
        x[InertialErrors.Heading] = headingOff;
        (x[InertialErrors.North], x[InertialErrors.East]) = (_place[0] + north, _place[1] + east);
    }
}
