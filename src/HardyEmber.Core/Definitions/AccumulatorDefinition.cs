namespace HardyEmber.Core.Definitions;

/// <summary>Fluid against nitrogen.</summary>
/// <param name="MinPsi">Mark below which what hangs on it will not work.</param>
/// <param name="LeakPsiPerS">Loss of a sound one near full pressure.</param>
/// <param name="Pump">Condition: the hand pump is worked.</param>
/// <param name="PumpS">Seconds of pumping from the mark to full.</param>
public sealed record AccumulatorDefinition(double FullPsi, double MinPsi, double PrechargePsi, double LeakPsiPerS = 0.02, string? Pump = null, double PumpS = 90);

/// <param name="Brake">Condition: the parking brake is set.</param>
/// <param name="HoldsAbovePsi">Pressure above which a set brake holds the jet.</param>
/// <param name="StrokePsi">What setting it or letting it go spends.</param>
public sealed record BrakeAccumulatorDefinition(AccumulatorDefinition Store, string Brake, double HoldsAbovePsi, double StrokePsi);
