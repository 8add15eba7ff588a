using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The brake accumulator: leaks slowly, is filled by the aircraft's hydraulics or the hand pump. Pressure in psi.</summary>
public sealed class BrakeAccumulator : MachineSystem
{
    private readonly double _fullPsi;
    private readonly Switch _brake;
    private readonly int _signal, _leak, _held;
    private readonly Func<double> _hydraulicsPsi;
    private double _psi;
    private bool _wasSet = true;
    private double[] _v = [], _f = [];

    public BrakeAccumulator(MachineContext context, Func<double> hydraulicsPsi)
    {
        var d = context.Aircraft.BrakeAccumulator;
        _hydraulicsPsi = hydraulicsPsi;
        _fullPsi = d.FullPsi;
        _brake = context.Switch(d.Brake, "brakeAccumulator.brake");
        _psi = _fullPsi * (1 - 0.001 * Math.Max(0, 15 - context.Header.Conditions.OatC)) * context.Random("brake").Between(0.94, 1);
        _signal = context.Signals.AddNumber("brake.psi", "psi", 10, _psi);
        _held = context.Signals.AddFlag("brake.holding", true);
        _leak = context.Faults.Add("brake.leak", 1);
    }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
    }

    public override void Logic()
    {
        if (_brake.On != _wasSet)
        {
            _psi -= _fullPsi * 0.05; // each stroke of the brake costs fluid
            _wasSet = _brake.On;
        }

        _v[_held] = _brake.On && _psi > 600 ? 1 : 0;
    }

    public override void Slow(double dt)
    {
        _psi = Math.Max(0, _psi - dt * 0.04 * _f[_leak]);
        var hydraulics = _hydraulicsPsi();
        if (hydraulics > _psi)
        {
            _psi = Math.Min(_fullPsi, _psi + dt / 8 * (hydraulics - _psi));
        }

        _v[_signal] = _psi;
    }
}
