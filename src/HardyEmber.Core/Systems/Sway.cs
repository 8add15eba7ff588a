using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A head that nobody can hold still: three slow swings, drawn once and then a function of time alone, so that it is the same whatever steps
/// the time is gone in. Its mean over a while follows in closed form.
/// </summary>
internal readonly struct Sway
{
    /// <summary>Turns a second, and their shares of the square of the whole.</summary>
    private static readonly (double Hz, double Share)[] Swings = [(0.19, 0.5), (0.43, 0.35), (0.97, 0.15)];
    private readonly (double Amplitude, double RadPerS, double Phase)[] _swings;

    /// <param name="sigma">Root of its mean square; also the unit of what it gives.</param>
    public Sway(RandomStream random, double sigma) =>
        _swings = [.. Swings.Select(s => (sigma * Math.Sqrt(2 * s.Share), 2 * Math.PI * s.Hz * random.Between(0.85, 1.15), random.Between(0, 2 * Math.PI)))];

    public double At(double time)
    {
        var sum = 0.0;
        foreach (var (amplitude, radPerS, phase) in _swings)
        {
            sum += amplitude * Math.Sin(radPerS * time + phase);
        }

        return sum;
    }

    /// <summary>Its mean from one time to a later one.</summary>
    public double Mean(double from, double until)
    {
        var sum = 0.0;
        foreach (var (amplitude, radPerS, phase) in _swings)
        {
            sum += amplitude / radPerS * (Math.Cos(radPerS * from + phase) - Math.Cos(radPerS * until + phase));
        }

        return sum / (until - from);
    }
}
