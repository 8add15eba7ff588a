namespace HardyEmber.Core.Definitions;

/// <summary>Watches that all aircraft have in common, as read from <c>fleet/watches.json</c>; parts are put in for each aircraft.</summary>
public sealed record WatchFile(string Format, int Version, IReadOnlyList<WatchDefinition> Watches);

/// <summary>
/// A finding written as data: from when, while what, for how long, how bad, what it rests on, and its words. In the words <c>{right.egt-highest}</c> is a
/// signal's value, <c>{seconds}</c> how long it lasted or how long the answer took, <c>{value}</c> and <c>{limit}</c> those of the evidence.
/// </summary>
public sealed record WatchDefinition
{
    /// <summary>Stable word for the kind of finding. Of two with one code and one evidence the worse stands.</summary>
    public required string Code { get; init; }

    /// <summary>Condition: it is so now. For <see cref="Answered"/>, the sign that asks for an answer.</summary>
    public string? When { get; init; }

    /// <summary>In place of <see cref="When"/>: a number that is counted up; each time is a finding.</summary>
    public string? Counts { get; init; }

    /// <summary>Seconds that it must last without a break.</summary>
    public double ForS { get; init; }

    /// <summary>It began so many seconds before it is found.</summary>
    public double BackS { get; init; }

    /// <summary>note, caution, warning or damage.</summary>
    public required string Severity { get; init; }
    public required string What { get; init; }
    public required string Cost { get; init; }
    public required string Instead { get; init; }

    /// <summary>The signal that it rests on, and the limit that it was held against.</summary>
    public string? Evidence { get; init; }
    public double? Limit { get; init; }

    /// <summary>Signal with the seconds that it lasted, where its condition stays.</summary>
    public string? Lasted { get; init; }

    /// <summary>The words are filled in at the end of the run, not when it is found.</summary>
    public bool AtEnd { get; init; }

    /// <summary>Only if it is still so at the end of the run: what was mended in time is no finding.</summary>
    public bool Standing { get; init; }

    /// <summary>Every time, not the first only.</summary>
    public bool Repeats { get; init; }

    /// <summary>Condition that answers the sign. What is found is the answer and its time.</summary>
    public string? Answered { get; init; }

    /// <summary>Seconds within which the answer is good.</summary>
    public double WithinS { get; init; }

    /// <summary>A sign that has been gone for so long did not come true and is forgotten, s.</summary>
    public double LapseS { get; init; } = 5;

    /// <summary>What is said of an answer that came later.</summary>
    public LateAnswer? Late { get; init; }

    /// <summary>Only runs that begin so.</summary>
    public IReadOnlyList<string>? Beginnings { get; init; }
}

public sealed record LateAnswer(string Severity, string Instead);
