namespace HardyEmber.Core.Definitions;

/// <summary>Fuel quantity gauges and their self-test, which drives every pointer to a known mark.</summary>
/// <param name="Test">Condition: the test is held.</param>
/// <param name="MarkLb">Where the pointers must go.</param>
/// <param name="ToleranceLb">How far off is still right.</param>
public sealed record FuelGaugesDefinition(string Test, string Bus, double MarkLb, double ToleranceLb, IReadOnlyList<FuelGaugeDefinition> Gauges);

/// <param name="Share">Share of the fuel aboard that it shows.</param>
public sealed record FuelGaugeDefinition(string Id, string Label, double Share);
