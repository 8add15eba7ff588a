namespace HardyEmber.Core.Definitions;

/// <summary>The faults a run may carry, as read from <c>fleet/faults.json</c>.</summary>
public sealed record FaultCatalog(string Format, int Version, IReadOnlyList<FaultDefinition> Faults);

/// <summary>One kind of fault: where it takes hold, how it shows, what the right answer is.</summary>
public sealed record FaultDefinition
{
    public required string Code { get; init; }
    public required string Label { get; init; }

    /// <summary>The fault input it drives; <c>{engine}</c> stands for the side and <c>{item}</c> for the part named in the run.</summary>
    public required string Input { get; init; }

    /// <summary>Value given to the input unless the run says otherwise.</summary>
    public required double Level { get; init; }
    public required double MinLevel { get; init; }
    public required double MaxLevel { get; init; }
    public required string Signature { get; init; }
    public required string Response { get; init; }

    /// <summary>Condition from which the pilot could see it; the reaction is counted from there. Empty: from its onset.</summary>
    public string? Sign { get; init; }

    /// <summary>Condition that says that the right thing was done.</summary>
    public string? Answer { get; init; }

    /// <summary>Condition that breaks something once it has lasted <see cref="DamageS"/> seconds without a break.</summary>
    public string? Damage { get; init; }

    public double DamageS { get; init; }

    /// <summary>To report it is an answer by itself.</summary>
    public bool Report { get; init; }

    /// <summary>With it found, not to launch is right.</summary>
    public bool Grounds { get; init; }

    /// <summary>Seconds from the sign within which the answer is good.</summary>
    public double WithinS { get; init; } = 60;

    /// <summary>What it does to one who misses it.</summary>
    public required string Consequence { get; init; }

    /// <summary>How often it is drawn against the others.</summary>
    public double Odds { get; init; } = 1;

    /// <summary>Where it can be noticed at all, written as a step's school is: "place is ship", "alignment is stored". It is drawn only there.</summary>
    public string? Felt { get; init; }

    public bool OfEngine => Input.Contains("{engine}", StringComparison.Ordinal);
}
