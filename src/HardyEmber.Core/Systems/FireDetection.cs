using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Two detection loops tested by holding a switch while the announcer speaks each zone twice. The first call latches the
/// bleed valves shut. Let go early, the loop is unproved, and the announcer must rewind before either loop is tested again.
/// </summary>
public sealed class FireDetection : MachineSystem
{
    private readonly FireDetectionDefinition _d;
    private readonly Loop[] _loops;
    private readonly Switch _resetWhen;
    private readonly Load _announcer;
    private readonly AirSupply _air;
    private readonly int _zone, _rewind, _selector, _selectorPositions, _left;
    private double _rewindS;
    private int _visited;
    private bool _wasPowered;
    private double[] _v = [], _f = [];

    private sealed class Loop(Switch test, int proved, int calledZones, int fault)
    {
        public Switch Test { get; } = test;
        public int Proved { get; } = proved;
        public int CalledZones { get; } = calledZones;
        public int Fault { get; } = fault;
        public double HeldS;
    }

    public FireDetection(MachineContext context, FireDetectionDefinition definition, AirSupply air)
    {
        _d = definition;
        _air = air;
        var s = context.Signals;
        _loops = [.. new[] { ("a", _d.TestA), ("b", _d.TestB) }.Select(l => new Loop(
            context.Switch(l.Item2, $"fireDetection.test{l.Item1}"),
            s.AddFlag($"fire.{l.Item1}-proved"), s.AddNumber($"fire.{l.Item1}-zones", "", 1), context.Faults.Add($"fire.loop-{l.Item1}", 1)))];
        _zone = s.AddNumber("fire.zone", "", 1);
        _rewind = s.AddNumber("fire.rewind", "s", 1);
        _left = s.AddNumber("fire.left", "s", 0.2);
        _announcer = context.AddLoad("fire-announcer", _d.Bus, 25, context.Switch(null, "fireDetection"));
        _resetWhen = context.Switch(_d.ResetWhen, "fireDetection.resetWhen");
        var selector = s.Find(_d.BleedSelector) ?? throw new FormatException($"fireDetection.bleedSelector: there is no control \"{_d.BleedSelector}\"");
        _selector = selector.Index;
        _selectorPositions = selector.Positions.Count;
    }

    private double FullS => _d.Zones.Count * 2 * _d.CallS;

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
    }

    public override void Logic()
    {
        if (!_resetWhen.On || !_air.Latched)
        {
            _visited = 0;
            return;
        }

        // The circle counts from the moment it can work: every position once, then back where the latch lets go.
        var position = (int)_v[_selector];
        _visited |= 1 << position;
        if (_visited == (1 << _selectorPositions) - 1 && position == 0)
        {
            _air.Latched = false;
            _visited = 0;
        }
    }

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
        var testing = false;
        foreach (var loop in _loops)
        {
            if (!loop.Test.On || !powered)
            {
                if (loop.HeldS > 0)
                {
                    loop.HeldS = 0;
                    _rewindS = _d.RewindS;
                }

                continue;
            }

            if (_rewindS > 0 && loop.HeldS <= 0)
            {
                continue; // the announcer is still winding back: silence
            }

            testing = true;
            Hold(loop, dt);
        }

        if (!testing && _rewindS > 0)
        {
            _rewindS = Math.Max(0, _rewindS - dt);
        }

        _v[_rewind] = _rewindS;
    }

    private void Hold(Loop loop, double dt)
    {
        loop.HeldS += dt;
        // An open loop carries the test current only as far as the break: the later zones stay silent.
        var reach = _f[loop.Fault] >= 1 ? _d.Zones.Count : (int)(_f[loop.Fault] * _d.Zones.Count);
        var zone = Math.Min((int)(loop.HeldS / (2 * _d.CallS)), _d.Zones.Count);
        var called = Math.Min(zone, reach);
        _v[loop.CalledZones] = Math.Max(_v[loop.CalledZones], called);
        _v[_zone] = loop.HeldS < FullS && zone < reach ? zone + 1 : 0;
        _v[_left] = Math.Max(0, FullS - loop.HeldS);
        if (loop.HeldS >= _d.CallS && reach > 0)
        {
            _air.Latched = true;
        }

        if (called == _d.Zones.Count)
        {
            _v[loop.Proved] = 1;
        }
    }
}
