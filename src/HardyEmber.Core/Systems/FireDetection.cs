using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Detection loops tested by holding a switch while each zone in turn is driven (and, where there is an announcer, spoken
/// twice). Let go early, the rest is unproved. The first call latches the bleed valves shut where the type has that. A short
/// in a loop looks like a fire in its zone; a break keeps the zones behind it silent.
/// </summary>
public sealed class FireDetection : MachineSystem
{
    private readonly FireDetectionDefinition _d;
    private readonly Loop[] _loops;
    private readonly int[] _zoneFlags;
    private readonly Load _announcer;
    private readonly AirSupply? _latched;
    private readonly int _zone, _rewind, _left, _alarm, _fAnnouncer;
    private double _rewindS;
    private bool _wasPowered;
    private double[] _v = [], _f = [];

    private sealed class Loop(Switch test, int proved, int calledZones, int silent, int open, int shorted)
    {
        public Switch Test { get; } = test;
        public int Proved { get; } = proved;
        public int CalledZones { get; } = calledZones;
        public int Silent { get; } = silent;
        public int Open { get; } = open;
        public int Shorted { get; } = shorted;
        public double HeldS;
    }

    public FireDetection(MachineContext context, FireDetectionDefinition definition, AirSupply air)
    {
        (_d, _latched) = (definition, definition.LatchesBleed ? air : null);
        var s = context.Signals;
        _loops = [.. _d.Loops.Select(l => new Loop(context.Switch(l.Test, $"fireDetection.loops.{l.Id}.test"),
            s.AddFlag($"fire.{l.Id}-proved"), s.AddNumber($"fire.{l.Id}-zones", "", 1), s.AddFlag($"fire.{l.Id}-silent"),
            context.Faults.Add($"fire.{l.Id}-open", 1), context.Faults.Add($"fire.{l.Id}-short", 0)))];
        _zone = s.AddNumber("fire.zone", "", 1);
        _alarm = s.AddNumber("fire.alarm", "", 1);
        _zoneFlags = [.. _d.Zones.Select((_, i) => s.AddFlag($"fire.zone-{i + 1}"))];
        _rewind = s.AddNumber("fire.rewind", "s", 1);
        _left = s.AddNumber("fire.left", "s", 0.2);
        _fAnnouncer = _d.Announcer ? context.Faults.Add("fire.announcer", 1) : -1;
        _announcer = context.AddLoad("fire-announcer", _d.Announcer ? "Fire announcer" : "Fire detection", _d.Bus, 25, context.Switch(null, "fireDetection"));
        if (context.Explains)
        {
            Explain(context);
        }
    }

    private void Explain(MachineContext context)
    {
        foreach (var (d, loop) in _d.Loops.Zip(_loops))
        {
            context.Gate($"fire.{d.Id}-proved", GateKind.Comes, $"fireDetection.loops.{d.Id}", $"{d.Label}: proved",
                Term.All(loop.Test, Term.Fact("load.fire-announcer"), Term.Fact($"fire.rewind < 0.5 or fire.{d.Id}-zones > 0")), "Hold the test until the last zone has come.");
        }

        context.Gate("fire.rewind", GateKind.Moves, "fireDetection", "Announcer: rewound", Term.All([.. _loops.Select(l => Term.Not(l.Test))]), "Let the test go and wait, or break its power.");
    }

    private double FullS => _d.Zones.Count * 2 * _d.CallS;

    public override void Bind(MachineContext context) => (_v, _f) = (context.Signals.Values, context.Faults.Values);

    public override void Slow(double dt)
    {
        var powered = _announcer.Powered;
        if (powered && !_wasPowered)
        {
            _rewindS = 0; // a power break sets the announcer back to its beginning
        }

        _wasPowered = powered;
        _v[_zone] = 0;
        _v[_left] = 0;
        foreach (var flag in _zoneFlags)
        {
            _v[flag] = 0;
        }

        var testing = false;
        foreach (var loop in _loops)
        {
            testing |= Test(loop, powered, dt);
        }

        Alarm(powered);
        if (!testing && _rewindS > 0)
        {
            _rewindS = Math.Max(0, _rewindS - dt);
        }

        _v[_rewind] = _rewindS;
        PaceS = Math.Min(NextCallS(), _rewindS > 0 ? Math.Min(Drifting, _rewindS) : Asleep);
    }

    // What it says next, it says at the beginning of a call.
    private double NextCallS()
    {
        var next = Asleep;
        foreach (var loop in _loops)
        {
            next = loop.Test.On && _announcer.Powered ? Math.Min(next, _d.CallS - loop.HeldS % _d.CallS) : next;
        }

        return next;
    }

    private bool Test(Loop loop, bool powered, double dt)
    {
        if (!loop.Test.On || !powered)
        {
            if (loop.HeldS > 0)
            {
                loop.HeldS = 0;
                _rewindS = _d.RewindS;
            }

            return false;
        }

        if (_rewindS > 0 && loop.HeldS <= 0)
        {
            return false; // the announcer is still winding back: silence
        }

        Hold(loop, dt);
        return true;
    }

    private void Hold(Loop loop, double dt)
    {
        loop.HeldS += dt;
        // An open loop carries the test current only as far as the break: the later zones stay silent.
        var reach = _f[loop.Open] >= 1 ? _d.Zones.Count : (int)(_f[loop.Open] * _d.Zones.Count);
        var spoken = _fAnnouncer < 0 || _f[_fAnnouncer] > 0.5;
        var zone = Math.Min((int)(loop.HeldS / (2 * _d.CallS)), _d.Zones.Count);
        var called = Math.Min(zone, reach);
        _v[loop.CalledZones] = Math.Max(_v[loop.CalledZones], called);
        _v[_zone] = loop.HeldS < FullS && zone < reach && spoken ? zone + 1 : 0;
        _v[_left] = Math.Max(0, FullS - loop.HeldS);
        for (var i = 0; i < Math.Min(zone + 1, reach); i++)
        {
            _v[_zoneFlags[i]] = 1;
        }

        if (loop.HeldS >= _d.CallS && reach > 0)
        {
            _latched?.Latch();
        }

        if (zone >= reach + (reach < _d.Zones.Count ? 1 : 0) && reach < _d.Zones.Count || !spoken && zone > 0)
        {
            _v[loop.Silent] = 1; // a zone's time went by without its sign
        }

        if (called == _d.Zones.Count)
        {
            _v[loop.Proved] = 1;
        }
    }

    private void Alarm(bool powered)
    {
        _v[_alarm] = 0;
        foreach (var loop in _loops)
        {
            var zone = (int)_f[loop.Shorted];
            if (powered && zone > 0 && zone <= _zoneFlags.Length)
            {
                _v[_alarm] = zone;
                _v[_zoneFlags[zone - 1]] = 1;
                _latched?.Latch();
            }
        }
    }
}
