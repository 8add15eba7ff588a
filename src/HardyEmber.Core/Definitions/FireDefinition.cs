namespace HardyEmber.Core.Definitions;

/// <summary>Where this aircraft can burn, and what puts it out.</summary>
/// <param name="Release">Condition that empties each bottle, one a bottle; none where the only answer is to shut the fuel off.</param>
public sealed record FireDefinition(IReadOnlyList<FireZoneDefinition> Zones, IReadOnlyList<string> Release);

/// <param name="Id">The engine in it, or a name of its own.</param>
/// <param name="Loop">Its place in <see cref="FireDetectionDefinition.Zones"/>, counted from 1.</param>
/// <param name="Fed">Condition: fuel flows through it under pressure.</param>
/// <param name="Hot">Condition: something in it is hot enough to light what leaks.</param>
/// <param name="Shut">Condition: its fuel is shut off, and the bottles are led to it.</param>
/// <param name="SpreadsTo">The zone that a fire reaches once this one has burnt through.</param>
public sealed record FireZoneDefinition(string Id, string Label, int Loop, string Fed, string Hot, string Shut, string? SpreadsTo = null);

/// <summary>Loops of wire through the zones. Their tests are tasks; here is what a short does.</summary>
/// <param name="Loops">Names of the loops.</param>
/// <param name="Sound">Condition: the loops are fed.</param>
public sealed record FireDetectionDefinition(IReadOnlyList<string> Loops, IReadOnlyList<string> Zones, string Sound);
