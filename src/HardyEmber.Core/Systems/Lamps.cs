using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Lamps with their bus, bulb, latch and inhibit; the lamp test; and the master caution. A new caution or warning lights the
/// master until acknowledged, which arms it again for the next. The stack keeps cautions in the order they came: one that
/// goes leaves its gap until the stack is restacked (acknowledge once more with the master out). Each call for attention
/// is counted, with the place of its lamp in the data, so that a voice can speak it.
/// </summary>
public sealed class Lamps : MachineSystem
{
    private readonly Lamp[] _lamps;
    private readonly Switch _test, _acknowledge;
    private readonly int _master, _unacknowledged, _count, _warning, _calls, _caller;
    private double[] _v = [], _f = [];
    private bool _begun, _wasAcknowledged, _decided;
    private int _next = 1;

    private sealed class Lamp(LampDefinition definition, Switch lit, Switch? until, Switch? inhibit, string bus, int signal, int place, int bulb)
    {
        public Switch Lit { get; } = lit;
        public Switch? Until { get; } = until;
        public Switch? Inhibit { get; } = inhibit;
        public string Bus { get; } = bus;
        public int BusLive { get; set; }
        public string Id { get; } = definition.Id;
        public int Signal { get; } = signal;
        public int Place { get; } = place;
        public int Bulb { get; } = bulb;
        public bool Warns { get; } = definition.Class == "warning";
        public bool Alerts { get; } = definition.Class is "caution" or "warning";
        public bool Spare { get; } = definition.Spare;
        public bool Was, Latched, Raised;
    }

    public Lamps(MachineContext context)
    {
        var s = context.Signals;
        _test = context.Switch(context.Aircraft.LampTest, "lampTest");
        _acknowledge = context.Switch(context.Aircraft.Acknowledge, "acknowledge");
        _lamps = [.. context.Aircraft.Lamps.Select(l => Make(context, s, l))];
        (_master, _warning) = (s.AddFlag("caution.master"), s.AddFlag("caution.warning"));
        (_unacknowledged, _count) = (s.AddNumber("caution.unacknowledged", "s", 1), s.AddNumber("caution.count", "", 1));
        (_calls, _caller) = (s.AddNumber("caution.calls", "", 1), s.AddNumber("caution.caller", "", 1));
        if (context.Explains)
        {
            var calls = _lamps.Where(l => l.Alerts).Select(l => Term.All(l.Lit, l.Inhibit is null ? null : Term.Not(l.Inhibit)));
            context.Gate("caution.calls", GateKind.Moves, "lamps", "Cautions: calls", Term.Any([.. calls]));
            context.Gate("caution.master", GateKind.Ends, "acknowledge", "Master caution: acknowledged", _acknowledge);
        }
    }

    private Lamp Make(MachineContext context, SignalTable s, LampDefinition l)
    {
        var alerts = l.Class is "caution" or "warning";
        var lamp = new Lamp(l, context.Switch(l.Lit, $"lamps.{l.Id}.lit"), l.LatchedUntil is null ? null : context.Switch(l.LatchedUntil, $"lamps.{l.Id}.latchedUntil"),
            l.Inhibit is null ? null : context.Switch(l.Inhibit, $"lamps.{l.Id}.inhibit"),
            l.Bus,
            s.AddFlag($"lamp.{l.Id}"), alerts ? s.AddNumber($"stack.{l.Id}", "", 1) : -1, l.Spare ? -1 : context.Faults.Add($"bulb.{l.Id}", 1));

        if (context.Explains)
        {
            var (where, label) = ($"lamps.{l.Id}", $"Lamp {l.Label}");
            context.Gate($"lamp.{l.Id}", lamp.Until is null ? GateKind.Is : GateKind.Comes, where, label, Term.All(Term.Any(lamp.Lit, _test), Term.Fact($"bus.{l.Bus}.live")));
            if (lamp.Until is not null)
            {
                context.Gate($"lamp.{l.Id}", GateKind.Ends, where, $"{label}: out", Term.All(Term.Not(lamp.Lit), lamp.Until));
            }
        }

        return lamp;
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        foreach (var lamp in _lamps)
        {
            lamp.BusLive = context.IndexOf($"bus.{lamp.Bus}.live", $"lamps.{lamp.Id}.bus", "bus");
            context.Reads(lamp.BusLive, Phase.Tick);
        }
    }

    public override void Quiet() { }

    public override void Logic()
    {
        var warning = false;
        foreach (var lamp in _lamps)
        {
            var powered = _v[lamp.BusLive] > 0.5;
            lamp.Latched = powered && lamp.Until is { On: false } && (lamp.Latched || lamp.Lit.On);
            var wanted = (lamp.Lit.On || lamp.Latched) && powered && !lamp.Spare;
            lamp.Was = wanted;
            var bulb = !lamp.Spare && _f[lamp.Bulb] > 0.5;
            _v[lamp.Signal] = bulb && (wanted || _test.On && powered) ? 1 : 0;
            warning |= wanted && lamp.Warns;
        }

        _v[_warning] = warning ? 1 : 0;
        if (_acknowledge.On && !_wasAcknowledged)
        {
            Acknowledge();
        }

        _wasAcknowledged = _acknowledge.On;
        _decided = true;
    }

    // Of several that come at once the first warning is the caller, else the first caution. Returns how grave the call was.
    private int Raise(Lamp lamp, int number, int called)
    {
        lamp.Raised = true;
        if (_v[lamp.Place] < 0.5)
        {
            _v[lamp.Place] = _next++;
        }

        if (_begun && lamp.Inhibit is not { On: true })
        {
            _v[_master] = 1;
            var grave = lamp.Warns ? 2 : 1;
            if (grave > called)
            {
                _v[_calls] += 1;
                _v[_caller] = number;
                return grave;
            }
        }

        return called;
    }

    private void Acknowledge()
    {
        if (_v[_master] > 0.5)
        {
            _v[_master] = 0;
            return;
        }

        // Restack: gaps close, the order stays.
        var place = 1;
        for (var number = 1; number < _next; number++)
        {
            foreach (var lamp in _lamps)
            {
                if (lamp.Alerts && (int)_v[lamp.Place] == number)
                {
                    _v[lamp.Place] = lamp.Was ? place++ : 0;
                    break;
                }
            }
        }

        _next = place;
    }

    public override void Slow(double dt)
    {
        // Calls are counted here, when contactors have settled: in the middle of a decision a lamp may be wanted for a moment.
        if (_decided)
        {
            Call();
            _decided = false;
        }

        _begun = true; // what was lit before the run began alerts nobody
        _v[_unacknowledged] = _v[_master] > 0.5 ? _v[_unacknowledged] + dt : 0;
        PaceS = _v[_master] > 0.5 ? Drifting : Asleep;
    }

    private void Call()
    {
        var (called, count) = (0, 0);
        for (var i = 0; i < _lamps.Length; i++)
        {
            var lamp = _lamps[i];
            lamp.Raised &= lamp.Was;
            if (lamp.Was && lamp.Alerts)
            {
                count++;
                called = lamp.Raised ? called : Raise(lamp, i + 1, called);
            }
        }

        _v[_count] = count;
    }
}
