namespace HardyEmber.Core.Definitions;

public enum ControlKind
{
    /// <summary>Two or more stable positions.</summary>
    Toggle,

    /// <summary>Like a toggle, under a guard: two acts in the interface.</summary>
    Guarded,

    /// <summary>Some positions are only held; on release it returns to its rest position.</summary>
    Sprung,

    /// <summary>Turned; passes through every position on the way.</summary>
    Knob,

    /// <summary>A lever with detents.</summary>
    Lever,

    /// <summary>A number dialled in.</summary>
    Dial,

    /// <summary>A word to crew or tower: asked by <see cref="ControlDefinition.Asking"/>, it comes back by itself when it is answered.</summary>
    Call,

    /// <summary>A position typed in, or taken from the ramp spot by <see cref="ControlDefinition.TakesSpot"/>.</summary>
    Position,
}

/// <summary>Something that hands move.</summary>
public sealed record ControlDefinition
{
    public const string Asking = "asking";

    /// <summary>What a position is set to that is the survey's of the ramp spot.</summary>
    public const string TakesSpot = "spot";
    private const string Quiet = "quiet", Empty = "none";
    private static readonly string[] CallPositions = [Quiet, Asking], EntryPositions = [Empty, "entered"];

    public required string Id { get; init; }
    public required string Label { get; init; }
    public required ControlKind Kind { get; init; }

    /// <summary>The link of the chain whose panel shows it.</summary>
    public required string Link { get; init; }
    public IReadOnlyList<string> Positions
    {
        get => field.Count > 0 ? field : Kind switch { ControlKind.Call => CallPositions, ControlKind.Position => EntryPositions, _ => field };
        init;
    } = [];

    /// <summary>Position of a cold jet; for a dial, its number.</summary>
    public string? Default { get => field ?? Kind switch { ControlKind.Call => Quiet, ControlKind.Position => Empty, _ => null }; init; }

    /// <summary>For a call: the task that answers, which gives the flags <c>TASK</c> and <c>TASK.refused</c>.</summary>
    public string? Task { get; init; }
    public double DefaultNumber { get; init; }

    /// <summary>Sprung positions: valid only for hold.</summary>
    public IReadOnlyList<string> Sprung { get; init; } = [];

    /// <summary>Where it rests on a ship, where that is elsewhere than its default.</summary>
    public string? Aboard { get; init; }

    /// <summary>
    /// Where the last pilot may have left it: position and chance; the rest of the chance is its default. For a turnaround start. On a ship a chance of
    /// where it rests there (<see cref="Aboard"/>) is one of its default.
    /// </summary>
    public IReadOnlyDictionary<string, double> LeftAt { get; init; } = new Dictionary<string, double>();

    /// <summary>For a dial: the range in which the last pilot left it.</summary>
    public IReadOnlyList<double>? LeftBetween { get; init; }

    /// <summary>For a dial of whole numbers: each figure has a wheel of its own.</summary>
    public bool Wheels { get; init; }

    /// <summary>It is looked at before power, and put where a cold jet has it.</summary>
    public SweepDefinition? Sweep { get; init; }

    /// <summary>Where the machine itself puts the control back.</summary>
    public IReadOnlyList<ReturnDefinition> Returns
    {
        get => field.Count == 0 && Kind == ControlKind.Call ? [new ReturnDefinition(Asking, Quiet, $"{Task} or {Task}.refused")] : field;
        init;
    } = [];

    public double Min { get; init; }
    public double Max { get; init; }
    public double Step { get; init; } = 1;
    public string Unit { get; init; } = "";

    /// <summary>Where alone the control is shown: ground, air, or of the ground only field or ship; empty for everywhere.</summary>
    public string? Only { get; init; }

    /// <summary>Whether it is shown where a run begins.</summary>
    public bool IsAt(bool air, PlaceDefinition place)
    {
        ArgumentNullException.ThrowIfNull(place);
        return Only switch { null => true, "air" => air, "ship" => !air && place.Ship is not null, "field" => !air && place.Ship is null, _ => !air };
    }

    /// <summary>A caution shown beside the control.</summary>
    public string? Hazard { get; init; }
}

/// <param name="Why">What it may do to one who does not look.</param>
/// <param name="Always">Also on a first start, where it is found right; otherwise on a turnaround only.</param>
public sealed record SweepDefinition(string Why, bool Always = false);

/// <summary>While the control is at <paramref name="From"/> and the condition holds, it springs back to <paramref name="To"/>.</summary>
public sealed record ReturnDefinition(string From, string To, string When);

/// <param name="Control">A control of an earlier version.</param>
/// <param name="To">One of its positions.</param>
/// <param name="Now">What that is today: controls and their positions.</param>
public sealed record FormerPosition(string Control, string To, IReadOnlyDictionary<string, string> Now);
