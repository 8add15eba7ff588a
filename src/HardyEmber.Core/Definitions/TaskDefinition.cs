namespace HardyEmber.Core.Definitions;

/// <summary>
/// Order, time and outcome written as data: a small state machine. A box that warms up, a self-test, a key that is held, a call to the crew, a
/// fire line with its places are tasks. It begins in its first state. A condition may ask for a fault by <c>fault.INPUT</c>, which nobody is told of.
/// <para>
/// Its signals: <c>ID.state</c>, <c>ID.left</c> (s until the wait is over), <c>ID.progress</c> (% of the wait), <c>ID.since</c> (when it came into its
/// state, s), and the flags that its states give.
/// </para>
/// </summary>
public sealed record TaskDefinition
{
    /// <summary>The bay of an aircraft that has no other.</summary>
    public const string FirstBay = "cabinet";

    public required string Id { get; init; }
    public required string Label { get; init; }

    /// <summary>Who speaks what its states say: crew, tower, voice or sound.</summary>
    public string? Who { get; init; }

    /// <summary>What it draws, where it draws anything.</summary>
    public TaskLoad? Load { get; init; }

    /// <summary>The bay that it warms.</summary>
    public string Bay { get; init; } = FirstBay;

    /// <summary>Tasks that name the same stream draw from it in turn; one of its own where none is named.</summary>
    public string? Stream { get; init; }

    /// <summary>Places where a fault takes hold of it, with the level of a sound one.</summary>
    public IReadOnlyDictionary<string, double> Faults { get; init; } = new Dictionary<string, double>();

    /// <summary>What to do about it besides, where hands alone do not bring what it gives.</summary>
    public string? Remedy { get; init; }
    public required IReadOnlyList<TaskState> States { get; init; }
}

/// <param name="When">Condition: it is switched on.</param>
/// <param name="HoldUpS">Seconds without power that it survives.</param>
public sealed record TaskLoad(string Id, string Label, string Bus, double Watts, string When, double HoldUpS = 0);

public sealed record TaskState
{
    public const string Previous = "previous";

    public required string Id { get; init; }

    /// <summary>What a screen shows; none where there is nothing to show.</summary>
    public string? Word { get; init; }

    /// <summary>What is said when it begins.</summary>
    public string? Says { get; init; }

    /// <summary>How long it lasts, s: a number, or least and most of a time that is drawn. Without end where there is none.</summary>
    public IReadOnlyList<double>? Seconds { get; init; }

    /// <summary>Where it goes when its time is over: the first that holds. The next state where none is named.</summary>
    public IReadOnlyList<TaskExit> Ends { get; init; } = [];

    /// <summary>Condition that must hold all the while: without it the time stands still, and after <see cref="PatienceS"/> it goes to <see cref="Broken"/>.</summary>
    public string? While { get; init; }
    public double PatienceS { get; init; }

    /// <summary>The first state where none is named.</summary>
    public string? Broken { get; init; }

    /// <summary>Where it goes at any time: the first that holds.</summary>
    public IReadOnlyList<TaskExit> Exits { get; init; } = [];

    /// <summary>Flags that stand while it lasts, each with a further condition (empty for none). A flag that several tasks give stands while one does.</summary>
    public IReadOnlyDictionary<string, string> Gives { get; init; } = new Dictionary<string, string>();

    /// <summary>Flags that stand from its beginning on, whatever comes.</summary>
    public IReadOnlyList<string> Leaves { get; init; } = [];

    /// <summary>A state whose flags stand in this one too; <see cref="Previous"/> for the one written before it.</summary>
    public string? Keeps { get; init; }

    /// <summary>Nobody wants it: no answer tells how to bring it about.</summary>
    public bool Fails { get; init; }

    /// <summary>Heat that it gives to its bay, W.</summary>
    public double HeatW { get; init; }
}

/// <param name="When">Condition; none where it always goes.</param>
/// <param name="Anew">The condition must have been false since the state began: an answer waits for a new question.</param>
/// <param name="Odds">Chance that it goes, drawn once in a state, when the condition first holds.</param>
/// <param name="Forced">Condition under which no chance is needed.</param>
public sealed record TaskExit(string To, string? When = null, bool Anew = false, double Odds = 1, string? Forced = null);
