using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>How warm a jet's parts are when its pilot comes: as the air it has stood in, as a hangar, or from a flight. °C.</summary>
public sealed record Soak(double BatteryC, double OilC, double MetalC, double FluidC, double BaysC, double CabinC, double SetC)
{
    public const string Soaked = "soaked", Hangared = "hangared", Flown = "flown";

    /// <summary>What a header may say.</summary>
    public static IReadOnlyList<string> Known { get; } = [Soaked, Hangared, Flown];

    // A hangar is heated in winter and shaded in summer.
    private const double ColdestHangarC = 12, HottestHangarC = 28;

    /// <summary>The jet of a header. In the air nothing has soaked.</summary>
    public static Soak Of(RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(header);
        var airC = header.Conditions.OatC;
        var hangarC = Math.Clamp(airC, ColdestHangarC, HottestHangarC);
        return (header.Flight is null ? header.Parked?.Soak : null) switch
        {
            Hangared => new Soak(hangarC, hangarC, hangarC, hangarC, hangarC, hangarC, hangarC),
            Flown => new Soak(Math.Max(airC, 18), 62, 170, 45, Math.Max(airC, 26), Math.Max(airC, 18), Math.Max(airC, 24)),
            _ => new Soak(airC, airC, airC, airC, airC, airC, airC),
        };
    }
}
