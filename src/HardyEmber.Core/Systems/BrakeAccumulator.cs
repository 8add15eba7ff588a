using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The parking brake and the accumulator that holds it.</summary>
public sealed class BrakeAccumulator : MachineSystem
{
    private readonly BrakeAccumulatorDefinition _d;
    private readonly Accumulator _accumulator;
    private readonly Switch _brake;
    private readonly int _held;
    private int[] _hydraulics = [];
    private bool _wasSet, _begun;
    private double[] _v = [];

    public BrakeAccumulator(MachineContext context, BrakeAccumulatorDefinition definition)
    {
        var d = _d = definition;
        _brake = context.Switch(d.Brake, "brakeAccumulator.brake");
        _accumulator = new Accumulator(context, d.Store, "brake.psi", "brakeAccumulator.store", "Brake accumulator");
        _held = context.Signals.AddFlag("brake.holding", true);

        if (context.Explains)
        {
            context.Gate("brake.holding", GateKind.Is, "brakeAccumulator", "Brake holds the jet",
                Term.All(_brake, Term.Fact(FormattableString.Invariant($"brake.psi > {d.HoldsAbovePsi}"))));
        }
    }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _accumulator.Bind(context);
        _hydraulics = [.. context.Aircraft.Engines.Select(e => context.Reads($"{e.Id}.hydraulics", Phase.Tick))];
    }

    public override void Logic()
    {
        if (_begun && _brake.On != _wasSet)
        {
            _accumulator.Spend(_d.StrokePsi);
        }

        (_wasSet, _begun) = (_brake.On, true);
        _v[_held] = _brake.On && _accumulator.Psi > _d.HoldsAbovePsi ? 1 : 0;
    }

    public override void Slow(double dt)
    {
        // Whichever pump has more fills it.
        var best = 0.0;
        foreach (var pump in _hydraulics)
        {
            best = Math.Max(best, _v[pump]);
        }

        _accumulator.Slow(dt, best);
        PaceS = Drifting;
    }
}
