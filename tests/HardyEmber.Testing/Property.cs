using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using CsCheck;

namespace HardyEmber.Testing;

/// <summary>A case for which a property does not hold, with the line that plays it again.</summary>
public sealed class PropertyException(string message, Exception inner) : Exception(message, inner);

/// <summary>
/// Properties over drawn cases. In <c>./ember test</c> they are the same cases every time, so that no test fails by chance;
/// <c>./ember soak</c> sets another seed and draws others.
/// </summary>
public static class Property
{
    private const ulong Kept = 20260114;
    private const int Threads = 2;

    /// <summary>What the cases are drawn from.</summary>
    public static ulong Seed { get; } = ulong.TryParse(Environment.GetEnvironmentVariable("EMBER_SEED"), CultureInfo.InvariantCulture, out var seed) ? seed : Kept;

    /// <summary>Checks a property for so many cases; the first that fails is told with the line that plays it again.</summary>
    /// <param name="holds">Throws, or answers false, where it does not hold.</param>
    public static void Holds<T>(Gen<T> cases, Func<T, bool> holds, int count, [CallerMemberName] string name = "")
    {
        ArgumentNullException.ThrowIfNull(cases);
        ArgumentNullException.ThrowIfNull(holds);
        var failed = new ConcurrentDictionary<int, Exception>();
        Parallel.For(0, count, new ParallelOptions { MaxDegreeOfParallelism = Threads }, i =>
        {
            if (!failed.IsEmpty)
            {
                return;
            }

            try
            {
                if (!holds(Case(cases, i)))
                {
                    throw new InvalidOperationException("it does not hold");
                }
            }
#pragma warning disable CA1031 // whatever it throws is the finding
            catch (Exception e)
#pragma warning restore CA1031
            {
                failed[i] = e;
            }
        });
        if (!failed.IsEmpty)
        {
            var (number, why) = failed.MinBy(f => f.Key);
            throw new PropertyException($"{why.Message}\nagain: EMBER_SEED={Seed} ./ember soak once   (case {number} of {name})\n{Check.Print(Case(cases, number))}", why);
        }
    }

    /// <inheritdoc cref="Holds{T}(Gen{T}, Func{T, bool}, int, string)"/>
    public static void Holds<T>(Gen<T> cases, Action<T> holds, int count, [CallerMemberName] string name = "") => Holds(cases, value =>
    {
        holds(value);
        return true;
    }, count, name);

    // Each case has a generator of its own: it does not hang on which thread drew the one before.
    private static T Case<T>(Gen<T> cases, int number) => cases.Generate(new PCG((uint)number, Seed), null, out _);
}
