namespace HardyEmber.Core.Definitions;

/// <summary>How a signal is drawn: scale, normal band and limits, all in the signal's unit.</summary>
public sealed record GaugeDefinition
{
    public required string Signal { get; init; }
    public required string Label { get; init; }
    public required string Link { get; init; }
    public required double Min { get; init; }
    public required double Max { get; init; }

    /// <summary>From this value on it means nothing and is shown as a dash: a battery that feeds nothing lasts for no time one could name.</summary>
    public double? DashFrom { get; init; }
    public IReadOnlyList<double>? Normal { get; init; }
    public IReadOnlyList<GaugeLimit> Limits { get; init; } = [];

    /// <summary>Signals behind the peak tick and the tick of what is to come, where the gauge has them.</summary>
    public string? Peak { get; init; }
    public string? Ahead { get; init; }

    /// <summary>Bus without which the gauge is blind.</summary>
    public string? Bus { get; init; }
}

/// <param name="Kind">warning or caution.</param>
public sealed record GaugeLimit(double At, string Kind, string Label);

/// <summary>A lamp and what makes it light.</summary>
public sealed record LampDefinition
{
    public required string Id { get; init; }
    public required string Label { get; init; }

    /// <summary>warning, caution, ready or advisory.</summary>
    public required string Class { get; init; }

    /// <summary>Condition under which it lights, power permitting.</summary>
    public required string Lit { get; init; }

    /// <summary>The bus that feeds it.</summary>
    public required string Bus { get; init; }
    public required string Link { get; init; }
    public required string Meaning { get; init; }

    /// <summary>Once lit it stays lit until this condition holds; none where it follows its source.</summary>
    public string? LatchedUntil { get; init; }

    /// <summary>While this holds it may light but calls nobody.</summary>
    public string? Inhibit { get; init; }

    /// <summary>A place without a function: the lamp test does not light it.</summary>
    public bool Spare { get; init; }

    /// <summary>Tone when it comes up (a name of the sound set), and words to speak.</summary>
    public string? Tone { get; init; }
    public string? Speech { get; init; }
}
