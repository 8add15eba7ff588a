namespace HardyEmber.Core.Definitions;

/// <param name="Bleed">The valves that let engine bleed through to cabin and cooling.</param>
/// <param name="CrossFeed">Condition: a running engine's bleed feeds the other's starter.</param>
/// <param name="StarterDraw">Share of duct pressure that an open starter valve takes.</param>
public sealed record AirDefinition(IReadOnlyList<BleedValveDefinition> Bleed, string CrossFeed, double CoolingDraw, double StarterDraw)
{
    /// <summary>Duct pressure of a full supply, psi.</summary>
    public required double FullPsi { get; init; }

    /// <summary>N2 from which an engine's bleed feeds cabin and cooling, %.</summary>
    public required double CabinN2Pct { get; init; }

    /// <summary>N2 at which an engine's bleed turns another's starter as well as a full supply does, %.</summary>
    public required double FullBleedN2Pct { get; init; }

    /// <summary>Condition: an air cart outside gives full starting air.</summary>
    public string? Cart { get; init; }

    /// <summary>A self-contained starter on pressure bottles, where the type has one.</summary>
    public BottlesDefinition? Bottles { get; init; }

    /// <summary>Condition that latches every valve shut, as a fire would.</summary>
    public string? LatchWhen { get; init; }

    /// <summary>Condition under which a valve that was latched shut comes free: its switch is shut and opened again. None where nothing latches.</summary>
    public string? UnlatchWhen { get; init; }
}

/// <param name="Open">Condition: its switch is open.</param>
/// <param name="Engine">The engine whose bleed it passes; of all of them where none is named.</param>
public sealed record BleedValveDefinition(string Id, string Label, string Open, string? Engine = null);

/// <param name="Fire">Condition that fires each bottle, one a bottle.</param>
/// <param name="Seconds">How long a bottle drives the starter.</param>
/// <param name="SpoolS">How quickly its turbine follows, s.</param>
/// <param name="FadeShare">What of its pressure is gone at the end of that time.</param>
/// <param name="StopWhen">Condition under which the starter shuts itself off.</param>
public sealed record BottlesDefinition(IReadOnlyList<string> Fire, double Seconds, double FadeShare, double SpoolS, string StopWhen, string? Needs = null);
