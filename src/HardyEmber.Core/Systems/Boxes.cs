using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Avionics boxes: each draws power, warms up, restarts after a power break past its hold-up, and cooks without cooling.
/// The cabinet follows its target temperature with the time constant of the type (about three minutes).
/// </summary>
public sealed class Boxes : MachineSystem
{
    private const double HoldUpS = 0.2;
    private readonly Box[] _boxes;
    private readonly Switch _coolingOn;
    private readonly CoolingDefinition _cooling;
    private readonly AirSupply _air;
    private readonly double _ambientC;
    private readonly int _cabinet, _cooled, _tripped;
    private double _cabinetC;
    private double[] _v = [];

    private sealed class Box(BoxDefinition definition, Load load, Switch needs, int powered, int ready, int left)
    {
        public BoxDefinition Definition { get; } = definition;
        public Load Load { get; } = load;
        public Switch Needs { get; } = needs;
        public int Powered { get; } = powered;
        public int Ready { get; } = ready;
        public int Left { get; } = left;
        public double WarmS, OffS;
    }

    public Boxes(MachineContext context, AirSupply air)
    {
        _air = air;
        _cooling = context.Aircraft.Cooling;
        _coolingOn = context.Switch(_cooling.On, "cooling.on");
        _ambientC = context.Header.Conditions.OatC;
        _cabinetC = _ambientC;
        var s = context.Signals;
        _cabinet = s.AddNumber("cabinet.temperature", "°C", 0.5, _ambientC);
        _cooled = s.AddFlag("cabinet.cooled");
        _tripped = s.AddFlag("cabinet.tripped");
        _boxes = [.. context.Aircraft.Boxes.Select(b => new Box(b,
            context.AddLoad($"box-{b.Id}", b.Label, b.Bus, b.Watts, context.Switch(b.When, $"boxes.{b.Id}.when"), HoldUpS),
            context.Switch(b.Needs, $"boxes.{b.Id}.needs"),
            s.AddFlag($"box.{b.Id}.powered"), s.AddFlag($"box.{b.Id}.ready"), s.AddNumber($"box.{b.Id}.left", "s", 1)))];
        if (context.Explains)
        {
            Explain(context);
        }
    }

    private void Explain(MachineContext context)
    {
        foreach (var box in _boxes)
        {
            var d = box.Definition;
            var (where, on) = ($"boxes.{d.Id}", Term.Fact($"box.{d.Id}.powered"));
            context.Gate($"box.{d.Id}.powered", GateKind.Comes, where, $"{d.Label}: on", Term.All(Term.Fact($"load.box-{d.Id}"), d.Cooled ? Term.Fact("not cabinet.tripped") : null));
            context.Gate($"box.{d.Id}.ready", GateKind.Comes, where, $"{d.Label}: ready", Term.All(on, box.Needs), "Let it warm up.");
            context.Gate($"box.{d.Id}.left", GateKind.Moves, where, $"{d.Label}: warm-up", on);
        }

        context.Gate("cabinet.cooled", GateKind.Comes, "cooling", "Avionics bay: cooled", Term.All(_coolingOn, Term.Fact("air.cabin")));
        context.Gate("cabinet.temperature", GateKind.Moves, "cooling", "Avionics bay: temperature", Term.Fact("cabinet.cooled"));
    }

    public override void Bind(MachineContext context) => _v = context.Signals.Values;

    public override void Slow(double dt)
    {
        double hot = 0, all = 0;
        PaceS = Drifting;
        foreach (var box in _boxes)
        {
            var powered = box.Load.Powered && !(_v[_tripped] > 0.5 && box.Definition.Cooled);
            box.OffS = powered ? 0 : box.OffS + dt;
            if (powered)
            {
                box.WarmS += dt;
            }
            else if (box.OffS > HoldUpS)
            {
                box.WarmS = 0;
            }

            var left = Math.Max(0, box.Definition.WarmUpS - box.WarmS);
            _v[box.Powered] = powered ? 1 : 0;
            _v[box.Left] = powered ? left : 0;
            PaceS = powered && left > 0 ? Math.Min(PaceS, left) : !powered && box.OffS <= HoldUpS ? 0 : PaceS;
            _v[box.Ready] = powered && left <= 0 && box.Needs.On ? 1 : 0;
            all += box.Definition.Cooled ? box.Definition.Watts : 0;
            hot += powered && box.Definition.Cooled ? box.Definition.Watts : 0;
        }

        var cooled = _coolingOn.On && _air.CabinAir;
        var target = cooled ? Math.Clamp(_ambientC, 5, 30) : _ambientC + _cooling.RiseC * (all > 0 ? hot / all : 0);
        _cabinetC += dt / (_cooling.TimeConstantS * (cooled ? 0.4 : 1)) * (target - _cabinetC);
        _v[_cabinet] = _cabinetC;
        _v[_cooled] = cooled ? 1 : 0;
        // A tripped cabinet comes back ten degrees cooler, not at the first dip.
        if (_cabinetC > _cooling.TripC)
        {
            _v[_tripped] = 1;
        }
        else if (_cabinetC < _cooling.TripC - 10)
        {
            _v[_tripped] = 0;
        }
    }
}
