using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The avionics bay: it follows the heat of what is switched on in it, first order with the time constant of the type (about three minutes), and
/// trips when it is too hot.
/// </summary>
public sealed class Cooling : MachineSystem
{
    private readonly CoolingDefinition _cooling;
    private readonly Switch _on;
    private readonly double _ambientC, _mostW;
    private readonly int _temperature, _cooled, _tripped;
    private int _heat, _air;
    private double _cabinetC;
    private double[] _v = [];

    public Cooling(MachineContext context, CoolingDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _cooling = definition;
        _on = context.Switch(_cooling.On, "cooling.on");
        _cabinetC = _ambientC = context.Header.Conditions.OatC;
        _mostW = context.Aircraft.Tasks.Sum(t => t.States.Max(s => s.HeatW));
        var s = context.Signals;
        (_temperature, _cooled, _tripped) = (s.AddNumber("cabinet.temperature", "°C", 0.5, _ambientC), s.AddFlag("cabinet.cooled"), s.AddFlag("cabinet.tripped"));
        if (context.Explains)
        {
            context.Gate("cabinet.cooled", GateKind.Comes, "cooling", "Avionics bay: cooled", Term.All(_on, Term.Fact("air.cabin")));
            context.Gate("cabinet.temperature", GateKind.Moves, "cooling", "Avionics bay: temperature", Term.Fact("cabinet.cooled"));
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _v = context.Signals.Values;
        (_heat, _air) = (context.Reads(Tasks.HeatSignal, Phase.Tick), context.Reads(AirSupply.CabinSignal, Phase.Tick));
    }

    public override void Slow(double dt)
    {
        PaceS = Drifting;
        var cooled = _on.On && _v[_air] > 0.5;
        var target = cooled ? Math.Clamp(_ambientC, 5, 30) : _ambientC + _cooling.RiseC * (_mostW > 0 ? _v[_heat] / _mostW : 0);
        _cabinetC += dt / (_cooling.TimeConstantS * (cooled ? _cooling.CooledShare : 1)) * (target - _cabinetC);
        (_v[_temperature], _v[_cooled]) = (_cabinetC, cooled ? 1 : 0);
        if (_cabinetC > _cooling.TripC)
        {
            _v[_tripped] = 1;
        }
        else if (_cabinetC < _cooling.TripC - _cooling.BackC)
        {
            _v[_tripped] = 0;
        }
    }
}
