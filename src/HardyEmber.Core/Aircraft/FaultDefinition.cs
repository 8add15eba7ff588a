namespace HardyEmber.Core.Aircraft;

/// <summary>The faults a run may carry, as read from <c>fleet/faults.json</c>.</summary>
public sealed record FaultCatalog(string Format, int Version, IReadOnlyList<FaultDefinition> Faults);

/// <param name="Input">The fault input it drives; <c>{engine}</c> stands for the side named in the run.</param>
/// <param name="Level">Value given to the input unless the run says otherwise.</param>
public sealed record FaultDefinition(string Code, string Label, string Input, double Level, double MinLevel, double MaxLevel, string Signature, string Response);
