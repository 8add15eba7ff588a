namespace HardyEmber.Core.Simulation;

/// <summary>
/// A splittable random stream (SplitMix64). Each component takes its own stream by name from the run's seed, so adding
/// a component never shifts the numbers another one draws.
/// </summary>
public sealed class RandomStream
{
    private ulong _state;

    public RandomStream(long seed, string component)
    {
        var hash = 14695981039346656037UL; // FNV-1a, 64 bit: stable over processes, unlike string.GetHashCode
        foreach (var c in component)
        {
            hash = (hash ^ c) * 1099511628211UL;
        }

        _state = Mix((ulong)seed ^ hash);
    }

    /// <summary>Uniform in [0, 1).</summary>
    public double Next()
    {
        _state += 0x9E3779B97F4A7C15UL;
        return (Mix(_state) >> 11) * (1.0 / (1UL << 53));
    }

    /// <summary>Uniform in [low, high).</summary>
    public double Between(double low, double high) => low + (high - low) * Next();

    /// <summary>Standard normal deviate (Box and Muller).</summary>
    public double Normal() => Math.Sqrt(-2 * Math.Log(1 - Next())) * Math.Cos(2 * Math.PI * Next());

    private static ulong Mix(ulong z)
    {
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9UL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBUL;
        return z ^ (z >> 31);
    }
}
