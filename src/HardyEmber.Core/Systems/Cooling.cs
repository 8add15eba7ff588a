using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A bay of boxes: it follows the heat of what is switched on in it, first order with the time constant of the type (about three minutes), and
/// trips when it is too hot. Its clock says how long it still has at the heat of this moment, s.
/// </summary>
public sealed class Cooling : MachineSystem
{
    /// <summary>Cabin air, and the bay cooled by it, come no nearer to the air outside than this, °C.</summary>
    private const double LeastC = 5, MostC = 30;

    // Air is on, and it is not the warmth of before: a hand on the bay would notice.
    private const double NoticedS = 20, NoticedC = 8;
    private readonly CoolingDefinition _d;
    private readonly Switch _on;
    private readonly double _mostW;
    private readonly int _temperature, _cooled, _tripped, _uncooled, _clock, _fan;
    private int _heat, _air, _outsideC;
    private double _bayC, _blownS;
    private bool _letIn;
    private double[] _v = [], _f = [];

    public Cooling(MachineContext context, CoolingDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        var id = _d.Id;
        _on = context.Switch(_d.On, $"{id}.on");
        _bayC = context.Soak.BaysC;
        _mostW = context.Aircraft.Tasks.Where(t => t.Bay == id).Sum(t => t.States.Max(s => s.HeatW));
        var s = context.Signals;
        (_temperature, _cooled, _tripped) = (s.AddNumber($"{id}.temperature", "°C", 0.5, _bayC), s.AddFlag($"{id}.cooled"), s.AddFlag($"{id}.tripped"));
        _uncooled = s.AddFlag($"{id}.uncooled");
        _clock = s.AddNumber($"{id}.clock", "s", 1, InertialSet.Nothing);
        _fan = _d.Fan ? context.Faults.Add($"{id}.fan", 1) : -1;
        if (context.Explains)
        {
            context.Gate($"{id}.cooled", GateKind.Comes, "cooling", $"{_d.Label}: cooled", Term.All(_on, Term.Fact(AirSupply.CabinSignal)));
            context.Gate($"{id}.temperature", GateKind.Moves, "cooling", $"{_d.Label}: temperature", Term.Fact($"{id}.cooled"));
        }
    }

    public override string Name => $"Cooling {_d.Id}";

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        (_heat, _air) = (context.Reads(Tasks.HeatSignal(_d.Id), Phase.Tick), context.Reads(AirSupply.CabinSignal, Phase.Tick));
        _outsideC = context.Reads(FlightState.TemperatureSignal, Phase.Tick);
    }

    // What is caught up on before a change goes by what was.
    public override void Logic() => _letIn = _on.On;

    public override void Quiet() { }

    public override void Slow(double dt)
    {
        PaceS = Drifting;
        var blown = _letIn && _v[_air] > 0.5;
        var cooled = blown && (_fan < 0 || _f[_fan] > 0.5);
        var target = cooled ? Math.Clamp(_v[_outsideC], LeastC, MostC) : _v[_outsideC] + _d.RiseC * (_mostW > 0 ? _v[_heat] / _mostW : 0);
        var constantS = _d.TimeConstantS * (cooled ? _d.CooledShare : 1);
        _bayC += dt / constantS * (target - _bayC);
        (_v[_temperature], _v[_cooled]) = (_bayC, cooled ? 1 : 0);
        if (_bayC > _d.TripC)
        {
            _v[_tripped] = 1;
        }
        else if (_bayC < _d.TripC - _d.BackC)
        {
            _v[_tripped] = 0;
        }

        _blownS = blown && !cooled ? _blownS + dt : 0;
        _v[_uncooled] = _blownS > NoticedS && _bayC > Math.Clamp(_v[_outsideC], LeastC, MostC) + NoticedC ? 1 : 0;

        // When an exponential approach passes the trip: t = T ln((target - now) / (target - trip)).
        _v[_clock] = target > _d.TripC && _bayC < _d.TripC ? constantS * Math.Log((target - _bayC) / (target - _d.TripC)) : InertialSet.Nothing;
    }
}
