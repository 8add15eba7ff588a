using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Fires in the zones round engines and auxiliary unit. A leak fills a puddle, what is hot lights it, it grows towards what the puddle feeds, warms its
/// zone and eats into it. Shut off, it burns what is left; agent puts out what it is thick enough for, and what is still hot may light the rest again.
/// Agent is shared among the zones that are shut off when it is released. All amounts are shares of one; times in s, temperatures in °C.
/// </summary>
public sealed class Fires : MachineSystem
{
    /// <summary>A leak of one fills the puddle in twenty seconds, a fire of one eats it a little faster, and a shut zone drains.</summary>
    private const double LeakPerS = 0.05, BurnPerS = 0.06, DrainPerS = 0.01;

    /// <summary>With the fuel valve shut and the line still under pressure so much of a leak is left; of what a leak has over one no handle stops this.</summary>
    private const double ValveShutShare = 0.4, PastHandleShare = 0.5;

    /// <summary>What lights: so much in the puddle, a running core or metal so hot, and air that is not full of agent.</summary>
    private const double LightsAt = 0.05, LightsC = 350, LightsBelowAgent = 0.3;

    /// <summary>It grows and shrinks with this time constant; where agent smothers it, with that.</summary>
    private const double GrowS = 6, SmotherS = 0.7;

    /// <summary>A lit puddle burns with this strength even when it is thin; what is weaker than that goes out.</summary>
    private const double ThinStrength = 0.3, OutBelow = 0.03;

    /// <summary>Agent smothers from this share on, and a strong fire needs so much more.</summary>
    private const double SmothersAt = 0.3, StrongNeeds = 0.4;

    /// <summary>Air carries the agent away with this time constant, twice as fast at this airspeed (kt).</summary>
    private const double AgentS = 25, AgentKt = 250;

    /// <summary>The air of a zone, the full fire over it, how the air and the metal follow.</summary>
    private const double ZoneC = 60, FireC = 700, AirS = 4, MetalS = 25;

    /// <summary>Loops report over this and are quiet again under that.</summary>
    private const double AlarmC = 250, QuietC = 180;

    /// <summary>A full fire burns a zone through in a hundred seconds; where it then goes on the aircraft is lost. A neighbour then leaks like this.</summary>
    private const double DamagePerS = 1, ThroughPct = 100, LostPct = 130, SpreadLeak = 0.8;

    /// <summary>Smoke is seen behind after a moment, and is a sign from here on, %.</summary>
    private const double SmokeS = 3, SmokeSignPct = 15;

    private readonly MachineContext _context;
    private readonly FireDefinition _d;
    private readonly Zone[] _zones;
    private readonly Switch[] _release;
    private readonly int[] _full, _loops;
    private readonly int _smoke, _bottles, _since, _lost, _wasted, _out;
    private readonly bool[] _was;
    private int _eas;
    private double _sinceS, _smokeNow;
    private bool _released;
    private double[] _v = [], _f = [];

    public Fires(MachineContext context, FireDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(definition);
        (_context, _d) = (context, definition);
        var s = context.Signals;
        _zones = [.. _d.Zones.DistinctBy(z => z.Loop).Select(z => new Zone(context, z))];
        _release = [.. _d.Release.Select((r, i) => context.Switch(r, $"fire.release[{i}]"))];
        _was = new bool[_release.Length];
        _full = [.. _d.Release.Select((_, i) => s.AddFlag($"fire.bottle-{i + 1}", true))];
        _bottles = s.AddNumber("fire.bottles", "", 1, _d.Release.Count);
        _smoke = s.AddNumber("smoke.behind", "%", 5);
        _since = s.AddNumber("fire.since-release", "s", 1);
        (_lost, _wasted, _out) = (s.AddFlag("fire.lost"), s.AddFlag("fire.agent-wasted"), s.AddFlag("fire.out"));
        _loops = new int[context.Aircraft.FireDetection?.Loops.Count ?? 0];
        if (context.Explains)
        {
            Explain(context);
        }
    }

    private void Explain(MachineContext context)
    {
        if (_zones.Length < _d.Zones.Count)
        {
            context.Wrong("fire.zones", "two of them have the same loop");
        }

        for (var i = 0; i < _zones.Length; i++)
        {
            var (zone, where) = (_d.Zones[i], $"fire.zones[{i}]");
            if (context.Aircraft.FireDetection is not { } detection || zone.Loop < 1 || zone.Loop > detection.Zones.Count)
            {
                context.Wrong($"{where}.loop", $"{zone.Loop} is none of the zones of fireDetection");
            }

            if (zone.SpreadsTo is { } next && Array.FindIndex(_zones, z => z.Id == next) < 0)
            {
                context.Wrong($"{where}.spreadsTo", $"there is no zone \"{next}\"");
            }

            context.Gate($"fire.{zone.Id}.shut", GateKind.Is, where, $"{zone.Label}: shut off", _zones[i].Shut);
            context.Gate($"fire.{zone.Id}.sure", GateKind.Comes, where, $"{zone.Label}: fire, twice told", Term.Fact($"fire.{zone.Id}.alarm"),
                "A second loop or smoke tells a fire from a fault.", aside: true);
            context.Gate($"fire.{zone.Id}.burnt", GateKind.Comes, where, $"{zone.Label}: burnt through", Term.All(_zones[i].Fed, _zones[i].Hot), "Shut its fuel off.", aside: true);
        }

        for (var i = 0; i < _release.Length; i++)
        {
            context.Gate($"fire.bottle-{i + 1}", GateKind.Goes, $"fire.release[{i}]", $"Fire bottle {i + 1}: full", _release[i], "A spent bottle is filled on the ground.");
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _eas = context.Reads("flight.eas", Phase.Tick);
        if (context.Aircraft.FireDetection is not { } detection)
        {
            return; // that was told when it was explained
        }

        foreach (var zone in _zones)
        {
            zone.Bind(context, detection, _zones);
        }

        for (var i = 0; i < _loops.Length; i++)
        {
            _loops[i] = context.Faults.Find($"fire.{detection.Loops[i]}-open");
        }
    }

    public override void Logic()
    {
        var shut = 0;
        foreach (var zone in _zones)
        {
            var was = zone.IsShut;
            zone.Decide();
            shut += zone.IsShut ? 1 : 0;
            if (zone.IsShut && !was && zone.Ran && _v[zone.Alarm] < 0.5 && AnyAlarm())
            {
                _v[zone.Wrong] = 1;
            }

            _v[zone.ShutSignal] = zone.IsShut ? 1 : 0;
            zone.Ran = zone.Hot.On;
        }

        for (var i = 0; i < _release.Length; i++)
        {
            if (_release[i].On && !_was[i] && _v[_full[i]] > 0.5)
            {
                (_v[_full[i]], _sinceS, _released) = (0, 0, true);
                _v[_bottles]--;
                foreach (var zone in _zones)
                {
                    zone.Agent += zone.IsShut ? 1.0 / shut : 0;
                }

                _v[_wasted] = shut == 0 ? 1 : _v[_wasted];
            }

            _was[i] = _release[i].On;
        }
    }

    private bool AnyAlarm()
    {
        foreach (var zone in _zones)
        {
            if (_v[zone.Alarm] > 0.5)
            {
                return true;
            }
        }

        return false;
    }

    public override void Slow(double dt)
    {
        var (strongest, idle) = (0.0, true);
        foreach (var zone in _zones)
        {
            var leak = Math.Max(_f[zone.LeakInput], zone.Reached ? SpreadLeak : 0);
            zone.Step(dt, leak, AgentS / (1 + _v[_eas] / AgentKt));
            _v[zone.Heat] = zone.AirC;
            _v[zone.Burns] = zone.Strength > 0 ? 1 : 0;
            _v[zone.Burnt] = zone.DamagePct >= ThroughPct ? 1 : 0;
            _v[zone.Damage] = Math.Min(ThroughPct, zone.DamagePct);
            _v[_lost] = zone.DamagePct >= LostPct ? 1 : _v[_lost];
            if (zone.DamagePct >= ThroughPct && zone.Next is { } next)
            {
                next.Reached = true;
            }

            strongest = Math.Max(strongest, zone.Strength);
            idle &= zone.Idle && leak <= 0;
        }

        _smokeNow += Math.Min(1, dt / SmokeS) * (100 * strongest - _smokeNow);
        _smokeNow = _smokeNow < 0.5 ? 0 : _smokeNow;
        _v[_smoke] = _smokeNow;
        _sinceS += _released ? dt : 0;
        _v[_since] = _sinceS;
        var (had, alarm) = (false, false);
        foreach (var zone in _zones)
        {
            Report(zone);
            (had, alarm) = (had || _v[zone.Had] > 0.5, alarm || _v[zone.Alarm] > 0.5);
        }

        _v[_out] = had && !alarm ? 1 : 0;
        PaceS = !idle || _smokeNow > 0 ? 0 : _released ? Drifting : Asleep;
    }

    // Sure is what two things say that do not hang on each other: two loops, or a loop and the smoke.
    private void Report(Zone zone)
    {
        var heat = zone.AirC > (zone.Told ? QuietC : AlarmC);
        var sensing = 0;
        for (var i = 0; i < _loops.Length; i++)
        {
            sensing += heat && (_loops[i] < 0 || _f[_loops[i]] >= zone.LoopShare) ? 1 : 0;
        }

        zone.Told = heat && sensing > 0;
        _context.Disturbed |= _v[zone.Sensed] != (zone.Told ? sensing : 0); // who reports it may be asleep
        _v[zone.Sensed] = zone.Told ? sensing : 0;
        var alarm = _v[zone.LoopAlarm] > 0.5;
        _v[zone.Alarm] = alarm ? 1 : 0;
        _v[zone.Sure] = alarm && (sensing > 1 || _smokeNow > SmokeSignPct) ? 1 : 0;
        zone.WasSure |= _v[zone.Sure] > 0.5; // cut off it may be quiet before it is shut off
        _v[zone.Had] = zone.WasSure && zone.IsShut ? 1 : _v[zone.Had];
    }

    /// <summary>One zone and what goes on in it.</summary>
    private sealed class Zone
    {
        private readonly int _loop;
        private readonly string? _spreadsTo;
        private double _puddle, _metalC = ZoneC;
        private bool _fedThen, _hotThen;

        public Zone(MachineContext context, FireZoneDefinition d)
        {
            (Id, _spreadsTo) = (d.Id, d.SpreadsTo);
            (Fed, Hot, Shut) = (context.Switch(d.Fed, $"fire.{Id}.fed"), context.Switch(d.Hot, $"fire.{Id}.hot"), context.Switch(d.Shut, $"fire.{Id}.shut"));
            var s = context.Signals;
            (Burns, Heat) = (s.AddNumber($"fire.{Id}.burns", "", 1, hidden: true), s.AddNumber($"fire.{Id}.heat", "°C", 5, ZoneC, hidden: true));
            Damage = s.AddNumber($"fire.{Id}.damage", "%", 1, hidden: true);
            (Alarm, Sure, ShutSignal) = (s.AddFlag($"fire.{Id}.alarm"), s.AddFlag($"fire.{Id}.sure"), s.AddFlag($"fire.{Id}.shut"));
            (Burnt, Had, Wrong) = (s.AddFlag($"fire.{Id}.burnt"), s.AddFlag($"fire.{Id}.had"), s.AddFlag($"fire.{Id}.wrong"));
            Sensed = s.AddNumber(FireDetection.SensedSignal(d.Loop), "", 1, hidden: true);
            LeakInput = context.Faults.Add($"fire.{Id}.leak", 0);
            (_loop, LoopShare) = (d.Loop, Math.Round((double)d.Loop / Math.Max(1, context.Aircraft.FireDetection?.Zones.Count ?? 1), 4));
        }

        public string Id { get; }
        public Zone? Next { get; private set; }
        public Switch Fed { get; }
        public Switch Hot { get; }
        public Switch Shut { get; }
        public int Burns { get; }
        public int Heat { get; }
        public int Damage { get; }
        public int Alarm { get; }
        public int Sure { get; }
        public int ShutSignal { get; }
        public int Burnt { get; }
        public int Had { get; }
        public int Wrong { get; }
        public int Sensed { get; }
        public int LeakInput { get; }
        public double LoopShare { get; }
        public int LoopAlarm { get; private set; }
        public bool Ran { get; set; }
        public bool Reached { get; set; }
        public bool Told { get; set; }
        public bool WasSure { get; set; }
        public bool IsShut { get; private set; }
        public double Strength { get; private set; }
        public double Agent { get; set; }
        public double AirC { get; private set; } = ZoneC;
        public double DamagePct { get; private set; }

        /// <summary>Nothing burns, cools or drains.</summary>
        public bool Idle => Strength <= 0 && _puddle <= 0 && Agent < 0.01 && AirC < ZoneC + 1 && _metalC < ZoneC + 1;

        public void Bind(MachineContext context, FireDetectionDefinition detection, Zone[] all)
        {
            LoopAlarm = _loop >= 1 && _loop <= detection.Zones.Count ? context.Reads($"fire.alarm-{_loop}", Phase.Before) : LoopAlarm;
            Next = Array.Find(all, z => z.Id == _spreadsTo);
        }

        // What is caught up on before a change goes by what was.
        public void Decide() => (_fedThen, _hotThen, IsShut) = (Fed.On, Hot.On, Shut.On);

        public void Step(double dt, double leak, double agentS)
        {
            var fed = IsShut ? PastHandleShare * Math.Max(0, leak - 1) : leak * (_fedThen ? 1 : ValveShutShare);
            _puddle = Math.Clamp(_puddle + dt * (LeakPerS * fed - BurnPerS * Strength - (fed <= 0 ? DrainPerS : 0)), 0, 1);
            if (Strength <= 0 && _puddle > LightsAt && Agent < LightsBelowAgent && (_hotThen || _metalC > LightsC))
            {
                Strength = 2 * OutBelow;
            }

            if (Strength > 0)
            {
                var smothered = Agent >= SmothersAt + StrongNeeds * Strength;
                var target = smothered || _puddle <= 0 ? 0 : Math.Min(1, ThinStrength + _puddle);
                Strength += Math.Min(1, dt / (smothered ? SmotherS : GrowS)) * (target - Strength);
                Strength = Strength < OutBelow && target <= 0 ? 0 : Strength;
            }

            Agent -= Math.Min(1, dt / agentS) * Agent;
            AirC += Math.Min(1, dt / AirS) * (ZoneC + FireC * Strength - AirC);
            _metalC += Math.Min(1, dt / MetalS) * (AirC - _metalC);
            DamagePct = Math.Min(LostPct, DamagePct + dt * DamagePerS * Strength);
        }
    }
}
