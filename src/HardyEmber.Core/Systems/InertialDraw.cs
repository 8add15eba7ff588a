using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What one inertial set has for errors, drawn once for a run: the screen never shows more than what comes of them.</summary>
public sealed class InertialDraw
{
    private readonly double _heading;
    private readonly double[] _drift, _place;

    /// <param name="random">The set's own stream.</param>
    /// <param name="definition">How large its errors are.</param>
    public InertialDraw(RandomStream random, InertialDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(random);
        var drift = DriftOf(definition);
        _heading = random.Normal();
        _drift = [random.Normal() * drift, random.Normal() * drift, random.Normal() * drift];
        _place = [random.Normal() * PlaceM, random.Normal() * PlaceM];
    }

    /// <summary>How well a surveyed spot and the jet on it are known, m on each axis, 1 sigma.</summary>
    public const double PlaceM = 6;

    /// <summary>Name of the set's stream.</summary>
    public const string Stream = "inertial";

    /// <summary>Gyro drift about north, east and down, rad/s.</summary>
    public ReadOnlySpan<double> Drift => _drift;

    /// <summary>Gyro drift, rad/s, 1 sigma.</summary>
    public static double DriftOf(InertialDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(definition);
        return definition.GyroDriftDegPerH * Math.PI / 180 / 3600;
    }

    /// <summary>
    /// The errors with which it begins to navigate, as <see cref="InertialErrors"/> has them. Gyrocompassing takes the east gyro's drift for a turn of the
    /// earth: that part of the heading error belongs to the drift, and the two cancel while it stands.
    /// </summary>
    /// <param name="x">Is filled.</param>
    /// <param name="alignment">How it was aligned.</param>
    /// <param name="headingDeg">How far, 1 sigma.</param>
    /// <param name="latitude">rad.</param>
    public void Begin(Span<double> x, Alignment alignment, double headingDeg, double latitude)
    {
        ArgumentNullException.ThrowIfNull(alignment);
        x.Clear();
        x[InertialErrors.Heading] = _drift[1] / (InertialErrors.EarthRate * Math.Cos(latitude)) + _heading * alignment.Settling(headingDeg);
        (x[InertialErrors.North], x[InertialErrors.East]) = (_place[0], _place[1]);
    }
}
