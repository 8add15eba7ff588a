namespace HardyEmber.Core.Definitions;

/// <summary>
/// A procedure as read from <c>fleet/procedures/*.json</c>. <c>{first}</c> and <c>{second}</c> in any text stand for
/// the sides in the order the school starts them.
/// </summary>
public sealed record ProcedureDefinition
{
    public required string Format { get; init; }
    public required int Version { get; init; }
    public required string Id { get; init; }
    public required string Aircraft { get; init; }
    public required string Title { get; init; }

    /// <summary>The kinds of start it serves: first, turnaround, air.</summary>
    public required IReadOnlyList<string> Beginnings { get; init; }
    public required IReadOnlyList<PhaseDefinition> Phases { get; init; }

    /// <summary>Drills that come before any step while their condition holds.</summary>
    public IReadOnlyList<DrillDefinition> Drills { get; init; } = [];
    public required IReadOnlyList<SchoolQuestion> Schools { get; init; }

    /// <summary>Findings of this procedure.</summary>
    public IReadOnlyList<WatchDefinition> Watches { get; init; } = [];

    /// <summary>Conditions that must hold at the end for the verdict launch-ready, each with its words.</summary>
    public required IReadOnlyList<RequirementDefinition> Ready { get; init; }
}

/// <param name="Sweep">It begins with the sweep of the aircraft's controls, which follows from what stands at them.</param>
public sealed record PhaseDefinition(string Id, string Title, IReadOnlyList<StepDefinition> Steps, bool Sweep = false);

public sealed record StepDefinition
{
    public required string Id { get; init; }

    /// <summary>What to do now, in the active voice.</summary>
    public required string Cue { get; init; }
    public required string Why { get; init; }
    public string? Hazard { get; init; }
    public required ActDefinition Act { get; init; }

    /// <summary>What must be true before. A waiting step holds the cue until it is; any other is passed over.</summary>
    public string? Needs { get; init; }
    public bool Wait { get; init; }

    /// <summary>What ends it; by itself the control is where it was set, or was looked at.</summary>
    public string Done
    {
        get => field ?? (Act.Set is { } set && Act.To is { } to ? $"{set} is {to}" : Act.Look is { } look ? $"seen {look}" : "");
        init;
    }

    /// <summary>The eyes stay here until it is done.</summary>
    public bool Attention { get; init; }
    public IReadOnlyList<string> Watch { get; init; } = [];

    /// <summary>Steps whose result this one relies on.</summary>
    public IReadOnlyList<Dependency> After { get; init; } = [];

    /// <summary>Signal with the seconds left while it runs.</summary>
    public string? Left { get; init; }

    /// <summary>What would throw away the wait that it begins.</summary>
    public string? SpoiledBy { get; init; }

    /// <summary>Only part of the procedure under these school choices, "question is answer and question is not answer".</summary>
    public string? School { get; init; }
    public bool Optional { get; init; }

    /// <summary>Only part of the procedure in this kind of start.</summary>
    public string? OnlyBeginning { get; init; }

    /// <summary>Seconds that hands need for it: 1 for a look and 1.5 for an act where nothing is said.</summary>
    public double HandsS { get => field > 0 ? field : Act.Look is null ? 1.5 : 1; init; }

    /// <summary>What is wrong with doing what relies on it first, and how bad that is: for dependencies that say nothing themselves.</summary>
    public string? Relied { get; init; }
    public string ReliedSeverity { get; init; } = "caution";

    /// <summary>Seconds in which it is to be done once it can be; later is late.</summary>
    public double? WithinS { get; init; }

    /// <summary>What it costs to be late.</summary>
    public string? IfLate { get; init; }

    /// <summary>The faults that it would have shown, by their codes: what a school that leaves it out gives up.</summary>
    public IReadOnlyList<string> Catches { get; init; } = [];

    /// <summary>What leaving it out may cost.</summary>
    public string? IfOmitted { get; init; }
}

/// <summary>One act: exactly one of set, hold, look or watch.</summary>
/// <param name="Set">Control to move to <paramref name="To"/>.</param>
/// <param name="Hold">Control to hold at <paramref name="To"/> until the step is done.</param>
/// <param name="Look">Control or signal to look at.</param>
/// <param name="Watch">Nothing for the hands: watch.</param>
/// <param name="Signal">For a dial: the signal that holds the number to set.</param>
/// <param name="With">For a hold: the control that the other hand holds meanwhile, where its spring lets it be held.</param>
public sealed record ActDefinition(string? Set = null, string? Hold = null, string? Look = null, bool Watch = false, string? To = null, string? Signal = null, string? With = null)
{
    /// <summary>The control or signal it is about.</summary>
    public string? Target => Set ?? Hold ?? Look;
}

/// <param name="Step">The step whose result is relied on.</param>
/// <param name="Reason">What is wrong with doing it the other way round; what the step says of itself where nothing stands here.</param>
/// <param name="School">Only under these school choices, as in <see cref="StepDefinition.School"/>.</param>
public sealed record Dependency(string Step, string? Reason = null, string? Severity = null, string? School = null);

/// <param name="Waits">Where it is only to be watched: something is still to come of it. Elsewhere nothing is left to do aboard.</param>
public sealed record DrillDefinition(string Id, string When, string Cue, string Why, ActDefinition Act, IReadOnlyList<string> Watch, bool Waits = false);

public sealed record SchoolQuestion(string Id, string Question, IReadOnlyList<SchoolAnswer> Answers);

/// <param name="Needs">headingStored where it can be chosen only after a shutdown that stored the heading.</param>
public sealed record SchoolAnswer(string Id, string Label, string Reason, string? Needs = null)
{
    public const string HeadingStored = "headingStored";

    /// <summary>Whether it can be chosen in a situation.</summary>
    public bool IsOffered(RunHeader situation)
    {
        ArgumentNullException.ThrowIfNull(situation);
        return Needs is null || Needs == HeadingStored && situation.Parked is { HeadingStored: true };
    }
}

/// <param name="School">Only under these school choices, as in <see cref="StepDefinition.School"/>.</param>
public sealed record RequirementDefinition(string Text, string When, string? School = null);
