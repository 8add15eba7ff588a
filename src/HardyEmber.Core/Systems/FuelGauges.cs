using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Fuel quantity pointers, in lb: slow, blind without their bus, and driven to a known mark by their test.</summary>
public sealed class FuelGauges : MachineSystem
{
    private const double LagS = 1.2;
    private const double SettledS = 4 * LagS;
    private const double StillLb = 0.1;
    private readonly FuelGaugesDefinition _d;
    private readonly Gauge[] _gauges;
    private readonly Switch _test;
    private readonly Load _power;
    private readonly int _settled, _off;
    private double _testS;
    private double[] _v = [], _f = [];

    private sealed class Gauge(double fuelLb, int signal, int fault)
    {
        public double FuelLb { get; } = fuelLb;
        public int Signal { get; } = signal;
        public int Fault { get; } = fault;
        public double ShownLb;
    }

    public FuelGauges(MachineContext context, FuelGaugesDefinition definition)
    {
        _d = definition;
        var random = context.Random("fuel-gauges");
        var aboard = context.Header.Loading?.FuelLb ?? context.Aircraft.Numbers.InternalFuelLb;
        _test = context.Switch(_d.Test, "fuelGauges.test");
        _power = context.AddLoad("fuel-gauges", "Fuel gauges", _d.Bus, 15, context.Switch(null, "fuelGauges"));
        _gauges = [.. _d.Gauges.Select(g => new Gauge(aboard * g.Share + random.Normal() * _d.ToleranceLb * 0.2, context.Signals.AddNumber($"fuel.{g.Id}", "lb", 10),
            context.Faults.Add($"fuel.{g.Id}", 0)))];
        _settled = context.Signals.AddFlag("fuel.test-settled");
        _off = context.Signals.AddFlag("fuel.off-mark");

        if (context.Explains)
        {
            context.Gate("fuel.test-settled", GateKind.Comes, "fuelGauges", "Fuel pointers: settled at the test mark", Term.All(_test, Term.Fact("load.fuel-gauges")),
                "Hold the test until the pointers stand still.");
        }
    }

    public override void Bind(MachineContext context) => (_v, _f) = (context.Signals.Values, context.Faults.Values);

    public override void Slow(double dt)
    {
        var testing = _test.On && _power.Powered;
        _testS = testing ? _testS + dt : 0;
        var settled = _testS > SettledS;
        _v[_off] = 0;
        var moving = false;
        foreach (var gauge in _gauges)
        {
            var target = (testing ? _d.MarkLb : gauge.FuelLb) + _f[gauge.Fault];
            if (_power.Powered)
            {
                moving |= Math.Abs(target - gauge.ShownLb) > StillLb;
                gauge.ShownLb = moving ? target + Math.Exp(-dt / LagS) * (gauge.ShownLb - target) : target;
            }

            _v[gauge.Signal] = Math.Max(0, gauge.ShownLb);
            if (settled && Math.Abs(gauge.ShownLb - _d.MarkLb) > _d.ToleranceLb)
            {
                _v[_off] = 1;
            }
        }

        _v[_settled] = settled || _v[_settled] > 0.5 ? 1 : 0;
        PaceS = testing && !settled ? SettledS - _testS + 0.01 : moving ? Easing : Asleep;
    }
}
