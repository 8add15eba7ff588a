using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Lamps with their bus, the lamp test, and the master caution: a new caution or warning lights it until acknowledged.</summary>
public sealed class Lamps : MachineSystem
{
    private readonly Lamp[] _lamps;
    private readonly Switch _test, _acknowledge;
    private readonly int _master, _unacknowledged;
    private double[] _v = [];
    private bool _begun;

    private sealed class Lamp(Switch lit, int busLive, int signal, bool alerts)
    {
        public Switch Lit { get; } = lit;
        public int BusLive { get; } = busLive;
        public int Signal { get; } = signal;
        public bool Alerts { get; } = alerts;
        public bool Was;
    }

    public Lamps(MachineContext context)
    {
        var s = context.Signals;
        _lamps = [.. context.Aircraft.Lamps.Select(l => new Lamp(
            context.Switch(l.Lit, $"lamps.{l.Id}.lit"),
            s.Find($"bus.{l.Bus}.live")?.Index ?? throw new FormatException($"lamps.{l.Id}.bus: there is no bus \"{l.Bus}\""),
            s.AddFlag($"lamp.{l.Id}"), l.Class is "caution" or "warning"))];
        _master = s.AddFlag("caution.master");
        _unacknowledged = s.AddNumber("caution.unacknowledged", "s", 1);
        _test = context.Switch(context.Aircraft.LampTest, "lampTest");
        _acknowledge = context.Switch(context.Aircraft.Acknowledge, "acknowledge");
    }

    public override void Bind(MachineContext context) => _v = context.Signals.Values;

    public override void Logic()
    {
        foreach (var lamp in _lamps)
        {
            var wanted = lamp.Lit.On && _v[lamp.BusLive] > 0.5;
            if (wanted && !lamp.Was && lamp.Alerts && _begun)
            {
                _v[_master] = 1;
            }

            lamp.Was = wanted;
            _v[lamp.Signal] = wanted || _test.On && _v[lamp.BusLive] > 0.5 ? 1 : 0;
        }

        _begun = true; // what was lit before the run began alerts nobody
        if (_acknowledge.On)
        {
            _v[_master] = 0;
        }
    }

    public override void Slow(double dt) => _v[_unacknowledged] = _v[_master] > 0.5 ? _v[_unacknowledged] + dt : 0;
}
