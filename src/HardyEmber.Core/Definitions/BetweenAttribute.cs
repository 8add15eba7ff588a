using System.Collections.Concurrent;
using System.Reflection;

namespace HardyEmber.Core.Definitions;

/// <summary>The range of a number in a data file or in a run's header. The check, the schema and the dials of the sortie take it from here.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class BetweenAttribute(double low, double high) : Attribute
{
    public double Low { get; } = low;
    public double High { get; } = high;

    /// <summary>A number whose name ends in a unit, and that has no range of its own, has the range of the unit. Longer endings come first.</summary>
    private static readonly (string Ending, BetweenAttribute Range)[] OfUnits =
    [
        ("DegPerH", new(0, 100)), ("CPerS", new(0, 1000)), ("PctPerS", new(0, 100)), ("PsiPerS", new(0, 1000)), ("LbPerH", new(0, 100_000)), ("PctPerMach", new(0, 1000)),
        ("PerUnit", new(0, 2)), ("PerKt", new(0, 1)), ("Exponent", new(0, 10)), ("Ratio", new(0, 100)), ("Share", new(0, 1)), ("Odds", new(0, 100)),
        ("Minutes", new(0, 600)), ("Seconds", new(0, 21_600)), ("Volts", new(0, 1000)), ("Watts", new(0, 1_000_000)), ("Mrad", new(0, 1000)), ("Ohm", new(0.0001, 10)),
        ("Khz", new(0, 100_000)), ("Mhz", new(0, 100_000)), ("Hpa", new(800, 1100)), ("Deg", new(-360, 360)), ("Pct", new(0, 200)), ("Psi", new(0, 20_000)),
        ("Ft", new(-2000, 100_000)), ("Nm", new(0, 5000)), ("Kt", new(0, 1000)), ("Lb", new(0, 300_000)), ("Ah", new(0.1, 1000)),
        ("C", new(-200, 3000)), ("S", new(0, 21_600)), ("V", new(0, 1000)), ("W", new(0, 1_000_000)), ("A", new(0, 10_000)),
    ];

    private static readonly BetweenAttribute OfAny = new(-1_000_000, 1_000_000);
    private static readonly ConcurrentDictionary<PropertyInfo, BetweenAttribute> Known = new();

    /// <summary>The range of a number, or of the numbers of a list: its own, that of its unit, or the widest one.</summary>
    public static BetweenAttribute Of(PropertyInfo property)
    {
        ArgumentNullException.ThrowIfNull(property);
        return Known.GetOrAdd(property, static p => p.GetCustomAttribute<BetweenAttribute>()
            ?? OfUnits.FirstOrDefault(u => p.Name.EndsWith(u.Ending, StringComparison.Ordinal)).Range ?? OfAny);
    }
}
