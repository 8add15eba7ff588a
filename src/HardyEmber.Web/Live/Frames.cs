using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;

namespace HardyEmber.Web.Live;

/// <summary>What changed between two states of a run. Values are absolute: a page that knows more than <paramref name="Base"/> may apply it.</summary>
/// <param name="N">Number of the state it leads to.</param>
/// <param name="Base">Number of the state it builds on; 0 where it is the whole.</param>
/// <param name="T">Run time, s.</param>
/// <param name="S">Pairs of signal index and value in units of the signal's quantum.</param>
/// <param name="Done">One character a step, 1 where done; null where unchanged.</param>
/// <param name="Actions">Actions since; null where there were none.</param>
/// <param name="ActionsFrom">How many actions of the run come before the first of them.</param>
/// <param name="Trouble">Why it does not keep its time; null where it does.</param>
public sealed record Frame(int N, int Base, double T, double Rate, bool Paused, bool Ended, long[] S, CueView? Cue, string? Done,
    IReadOnlyList<ActionView>? Actions, int? ActionsFrom, string? Trouble = null);

/// <summary>A command was stored and applied.</summary>
/// <param name="T">Run time at which, s.</param>
/// <param name="N">The state of the run that shows it.</param>
/// <param name="Held">The controls that are held now, if the command was a hold.</param>
public sealed record Ack(double T, int N, IReadOnlyList<string>? Held = null);

/// <summary>What a page may do in a run.</summary>
public enum Role
{
    /// <summary>It flies: every command.</summary>
    Fly,

    /// <summary>It looks on.</summary>
    Look,
}

/// <summary>Everything a page needs that joins a run. Its header names no fault: a pilot is not told.</summary>
/// <param name="LongestS">A run ends by itself at this time.</param>
/// <param name="IdleAfterS">Hands that did nothing for so long while a step was open are idle.</param>
/// <param name="SilenceS">A server that is silent for so long is lost to the page, and a page so silent to the server.</param>
/// <param name="Recomputed">Why it is not computed with what it was begun with; null where it is.</param>
public sealed record Snapshot(string Id, RunHeader Header, string Title, IReadOnlyList<PhaseView> Phases, IReadOnlyList<SignalView> Signals, Frame Frame,
    HistoryView History, bool Fresh, string? Parent, Role Role, double LongestS, double IdleAfterS, double SilenceS, string? Recomputed);

public sealed record SignalView(string Name, string Unit, double Quantum, SignalKind Kind, IReadOnlyList<string> Positions);

public sealed record PhaseView(string Id, string Title, IReadOnlyList<StepView> Steps);

/// <param name="Target">The control or signal that it is about.</param>
/// <param name="Link">The link of the chain where that is.</param>
public sealed record StepView(string Id, string Cue, string Why, string? Hazard, bool Optional, string? Target, string? Link);

/// <param name="Link">The link of the chain where hands or eyes are wanted.</param>
/// <param name="TakesS">Seconds that hands and eyes need for it; 0 where it is no step.</param>
/// <param name="Next">What comes after it.</param>
/// <param name="Sign">What has shown that is wrong, and nobody has said so; never told to who flies alone.</param>
public sealed record CueView(CueKind Kind, string Id, string Text, string Why, string? Hazard, bool Drill, ActView? Act, double TakesS,
    IReadOnlyList<string> Watch, IReadOnlyList<WaitView> Waiting, IReadOnlyList<RunningView> Running, IReadOnlyList<NextView> Next, string? Left, string? Link, SignView? Sign);

/// <summary>The sign of a fault that is to be reported.</summary>
/// <param name="Seen">What can be seen of it.</param>
/// <param name="Response">What is right then.</param>
public sealed record SignView(string Seen, string Response);

/// <summary>What hands or eyes are to do.</summary>
public enum ActKind
{
    Set,
    Hold,
    Look,

    /// <summary>Nothing for the hands.</summary>
    Watch,
}

/// <summary>The command that does what the cue asks, as the machine stands.</summary>
/// <param name="Number">For a dial: the number to set.</param>
/// <param name="With">What the other hand holds meanwhile.</param>
public sealed record ActView(ActKind Kind, string? Target, string? To, double? Number, string? With);

/// <param name="Label">The signal in words.</param>
/// <param name="Test">What it is asked to be, after its name.</param>
public sealed record WaitView(string Signal, string Label, string Test, string? Link);

/// <param name="SpoiledBy">What would throw it away.</param>
public sealed record RunningView(string Id, string Text, string? Left, string? SpoiledBy);

/// <param name="TakesS">Seconds for hands and eyes.</param>
/// <param name="Open">It can be done now.</param>
public sealed record NextView(string Id, string Text, double TakesS, bool Open);

public sealed record ActionView(double T, string Kind, string Target, string? Position, double? Number);

/// <summary>Trace signals since the beginning of the run, the older the sparser.</summary>
/// <param name="T">Run time of each point, s.</param>
public sealed record HistoryView(IReadOnlyList<float> T, IReadOnlyDictionary<string, IReadOnlyList<float>> Values);
