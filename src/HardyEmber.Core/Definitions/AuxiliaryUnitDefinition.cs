namespace HardyEmber.Core.Definitions;

public sealed record AuxiliaryUnitDefinition
{
    public required string Label { get; init; }

    /// <summary>Condition under which the pilot asks for it.</summary>
    public required string Run { get; init; }

    /// <summary>What else must hold at the moment it is asked for.</summary>
    public string? Needs { get; init; }

    /// <summary>Condition under which it stops itself after <see cref="StopAfterS"/>.</summary>
    public required string StopWhen { get; init; }
    public required double StopAfterS { get; init; }
    public required double ReadyPct { get; init; }
    public required double ReadyS { get; init; }
    public required double SettleC { get; init; }
    public required double PeakC { get; init; }

    /// <summary>Gas temperature above which it is too hot.</summary>
    public required double LimitC { get; init; }

    /// <summary>Gas temperature above which it stops itself.</summary>
    public required double TripC { get; init; }

    /// <summary>Speed from which it can light.</summary>
    public required double LightsAtPct { get; init; }

    /// <summary>Speed at which its starter lets go.</summary>
    public required double StarterOutPct { get; init; }

    /// <summary>Speed above which it stops itself.</summary>
    public required double OverspeedPct { get; init; }

    /// <summary>Share of its air that cabin and cooling take.</summary>
    public required double CabinShare { get; init; }

    /// <summary>What full air and generator load add to the settled temperature, °C.</summary>
    public double LoadC { get; init; } = 60;

    /// <summary>Pressure altitude above which it gives no air.</summary>
    public required double CeilingFt { get; init; }

    /// <summary>Hydraulic start: the accumulator, and what a start from full spends of it in psi.</summary>
    public AccumulatorDefinition? Accumulator { get; init; }
    public double AccumulatorUsePsi { get; init; }

    /// <summary>Electric start: what the starter draws at standstill, W, falling with speed.</summary>
    public double StarterW { get; init; }

    /// <summary>Voltage at which that starter gives its full torque, V.</summary>
    public double StarterV { get; init; }

    public required DutyDefinition Duty { get; init; }
    public required string Bus { get; init; }

    /// <summary>Own generator, where it has one.</summary>
    public double GeneratorW { get; init; }

    /// <summary>It trips after so long at a quarter more than that.</summary>
    public double GeneratorOverloadS { get; init; } = 30;
    public string? GeneratorSwitch { get; init; }
}

/// <param name="Starts">Attempts before a long rest.</param>
/// <param name="BetweenS">Cooling after each attempt.</param>
/// <param name="CoolS">Cooling after the last of them, which gives all back.</param>
public sealed record DutyDefinition(int Starts, double BetweenS, double CoolS);
