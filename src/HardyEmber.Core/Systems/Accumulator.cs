using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Fluid stored against nitrogen: p = p₀·V/(V − f), with precharge p₀, bottle volume V and fluid f (isothermal gas law).
/// Empty of fluid it reads nothing. Leaks, is spent by strokes and starts, filled by a hand pump or the hydraulics.
/// Pressure in psi, fluid as a share of the bottle.
/// </summary>
public sealed class Accumulator
{
    private readonly AccumulatorDefinition _d;
    private readonly double _prechargePsi, _pumpPerS;
    private readonly Switch? _pump;
    private readonly int _signal, _low, _leak;
    private double _fluid;
    private double[] _v = [], _f = [];

    /// <param name="signal">Its signal and random stream; the fault input is that name with <c>-leak</c>.</param>
    /// <param name="where">Its place in the data file, for errors.</param>
    public Accumulator(MachineContext context, AccumulatorDefinition definition, string signal, string where, string label)
    {
        _d = definition;
        var oat = context.Soak.FluidC;
        // Nitrogen loses pressure with temperature; crews top up, but not fully.
        var fill = context.Header.Beginning == "turnaround" ? context.Random($"{signal}-left").Between(0.80, 0.97) : context.Random(signal).Between(0.97, 1.0);
        _prechargePsi = _d.PrechargePsi * (1 - 0.0012 * Math.Clamp(15 - oat, -40, 100));
        Psi = _d.FullPsi * (1 - 0.0012 * Math.Max(0, 15 - oat)) * fill;
        _fluid = FluidAt(Psi);
        _pumpPerS = (FluidAt(_d.FullPsi) - FluidAt(_d.MinPsi)) / Math.Max(1, _d.PumpS);
        _signal = context.Signals.AddNumber(signal, "psi", 5, Psi);
        _low = context.Signals.AddFlag($"{signal}-low");
        _leak = context.Faults.Add($"{signal}-leak", 1);
        _pump = _d.Pump is null ? null : context.Switch(_d.Pump, $"{where}.pump");

        if (context.Explains)
        {
            context.Gate(signal, GateKind.Moves, $"{where}.pump", $"{label}: pumped up", _pump ?? Term.All(), _pump is null ? "Its own machine fills it, or the crew does." : null);
        }
    }

    public double Psi { get; private set; }
    public double MinPsi => _d.MinPsi;

    private double FluidAt(double psi) => Math.Max(0, 1 - _prechargePsi / Math.Max(psi, _prechargePsi));

    public void Bind(MachineContext context) => (_v, _f) = (context.Signals.Values, context.Faults.Values);

    /// <summary>Takes the fluid that brings a full bottle down by so many psi.</summary>
    public void Spend(double psiFromFull)
    {
        _fluid = Math.Max(0, _fluid - (FluidAt(_d.FullPsi) - FluidAt(_d.FullPsi - psiFromFull)));
        Publish();
    }

    /// <summary>How often so much can be spent before it is below its mark, up to <paramref name="most"/>.</summary>
    public int Spends(double psiFromFull, int most)
    {
        var (each, least) = (FluidAt(_d.FullPsi) - FluidAt(_d.FullPsi - psiFromFull), FluidAt(_d.MinPsi));
        return _fluid < least ? 0 : each <= 0 ? most : Math.Min(most, 1 + (int)((_fluid - least) / each));
    }

    /// <param name="supplyPsi">Pressure of whatever fills it besides the hand pump.</param>
    public void Slow(double dt, double supplyPsi = 0)
    {
        // The leak is given in psi per second near full; the gas law turns it into fluid.
        var leak = _d.LeakPsiPerS * _f[_leak] * (FluidAt(_d.FullPsi) - FluidAt(_d.FullPsi - 100)) / 100;
        _fluid = Math.Max(0, _fluid - dt * leak);
        if (supplyPsi > Psi)
        {
            _fluid += dt / 8 * Math.Max(0, FluidAt(Math.Min(supplyPsi, _d.FullPsi)) - _fluid);
        }

        if (_pump is { On: true })
        {
            _fluid = Math.Min(FluidAt(_d.FullPsi), _fluid + dt * _pumpPerS);
        }

        Publish();
    }

    private void Publish()
    {
        Psi = _fluid <= 1e-6 ? 0 : _prechargePsi / (1 - Math.Min(_fluid, 0.95));
        _v[_signal] = Psi;
        _v[_low] = Psi < _d.MinPsi ? 1 : 0;
    }
}
