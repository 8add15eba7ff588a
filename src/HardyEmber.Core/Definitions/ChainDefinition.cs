namespace HardyEmber.Core.Definitions;

/// <summary>A link of the chain of energy: the map of the start screen.</summary>
/// <param name="Number">The signal whose value is shown.</param>
/// <param name="States">The first state whose condition holds gives the link its word.</param>
/// <param name="Takes">What the links before it hand to it; nothing is drawn between them where nothing is said.</param>
public sealed record LinkDefinition(string Id, string Label, string Number, IReadOnlyList<LinkState> States, HandedDefinition? Takes = null);

/// <summary>What is handed to a link: the sum of its parts.</summary>
/// <param name="What">In words, such as "torque of the starters".</param>
/// <param name="Most">The value at which the line is as wide as can be.</param>
public sealed record HandedDefinition(string What, string Unit, double Most, IReadOnlyList<HandedPart> Of);

/// <param name="Signal">A reading; or else</param>
/// <param name="Watts">what is drawn on these buses now, of all where none is named.</param>
/// <param name="When">It counts only while this holds.</param>
public sealed record HandedPart(string? Signal = null, IReadOnlyList<string>? Watts = null, string? When = null);

/// <param name="Status">off, advisory, ready, caution or warning.</param>
public sealed record LinkState(string Word, string Status, string? When = null);
