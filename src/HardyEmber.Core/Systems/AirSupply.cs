using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Duct air for the starters from the auxiliary unit or another engine's bleed, and bleed air for cabin and cooling. The fire test latches
/// the bleed valves shut as a fire would; each comes free when its own switch is shut and opened again with an engine running. Duct
/// pressure as a share of full supply, 0 to 1 (<see cref="ShareSignal"/>); shown in psi.
/// </summary>
public sealed class AirSupply : MovingSystem
{
    /// <summary>Duct pressure at one open starter valve, 0 to 1.</summary>
    public const string ShareSignal = "air.share";

    /// <summary>Bleed air reaches cabin and cooling.</summary>
    public const string CabinSignal = "air.cabin";

    /// <summary>A running engine has bleed for them, whatever the switches say.</summary>
    public const string OfferedSignal = "air.offered";

    /// <summary>Air taken from an engine, as a share of what cabin and cooling take; many times that where its duct is torn behind the open valve.</summary>
    public static string BleedSignal(string engine) => $"air.{engine}.bleed";

    private const double LagS = 0.5;
    private const double StillShare = 1e-4;
    private const double RunningShare = 0.6;
    private readonly Valve[] _valves;
    private readonly Switch _crossFeed;
    private readonly Switch? _cart, _latchWhen, _unlatch, _cabinTakes;
    private readonly int[] _takes, _torn;
    private readonly AirDefinition _d;
    private readonly int _duct, _share, _latch, _cabin, _offered, _supply, _stuck;
    private int[] _starters = [];
    private int _auxiliary = -1, _bottles = -1;
    private double _pressure;
    private bool _still, _cabinAir, _bleedThere;
    private double[] _v = [], _f = [];

    private sealed class Valve(BleedValveDefinition definition, Switch open, int latchedSignal, int freedSignal)
    {
        public BleedValveDefinition Definition { get; } = definition;
        public Switch Open { get; } = open;
        public int LatchedSignal { get; } = latchedSignal;
        public int FreedSignal { get; } = freedSignal;
        public (int Lit, int N2, double RunningPct, int Takes, int Torn)[] Engines { get; set; } = [];

        /// <summary>Shut, whatever its switch says; and its switch has been shut since it could come free.</summary>
        public bool Latched, Freed;
    }

    public AirSupply(MachineContext context)
    {
        var d = _d = context.Aircraft.Air;
        var s = context.Signals;
        var latches = d.UnlatchWhen is not null;
        _valves = [.. d.Bleed.Select(b => new Valve(b, context.Switch(b.Open, $"air.bleed.{b.Id}.open"),
            latches ? s.AddFlag($"air.{b.Id}-latched") : -1, latches ? s.AddFlag($"air.{b.Id}-freed") : -1))];
        _latchWhen = latches ? context.Switch(d.LatchWhen, "air.latchWhen") : null;
        _unlatch = latches ? context.Switch(d.UnlatchWhen, "air.unlatchWhen") : null;
        _stuck = latches ? context.Faults.Add("air.latch-stuck", 0) : -1;
        _crossFeed = context.Switch(d.CrossFeed, "air.crossFeed");
        _cabinTakes = context.Aircraft.Cabin is { } cabin ? context.Word(cabin.Air, "cabin.air") : null; // the cabin says what it rests on
        _takes = [.. context.Aircraft.Engines.Select(e => s.AddNumber(BleedSignal(e.Id), "", 0.01, hidden: true))];
        _torn = [.. context.Aircraft.Engines.Select(e => context.Faults.Add($"{e.Id}.duct-torn", 0))];
        _cart = d.Cart is null ? null : context.Switch(d.Cart, "air.cart");
        (_duct, _latch, _cabin) = (s.AddNumber("air.duct", "psi", 0.5), s.AddFlag("air.latched"), s.AddFlag(CabinSignal));
        _offered = s.AddFlag(OfferedSignal);
        _share = s.AddNumber(ShareSignal, "", 0.01, hidden: true);
        _supply = context.Faults.Add("air.supply", 1);
        if (context.Explains)
        {
            Explain(context, d);
        }
    }

    private void Explain(MachineContext context, AirDefinition d)
    {
        var running = Term.Fact(string.Join(" or ", context.Aircraft.Engines.Select(e => $"{e.Id}.lit")));
        context.Gate("air.duct", GateKind.Moves, "air", "Duct air", Term.Any(context.Aircraft.AuxiliaryUnit is null ? null : Term.Fact("aux.ready"),
            d.Bottles is null ? null : Term.Fact("bottle.burning"), _cart, Term.All(_crossFeed, running)));
        Term Behind(BleedValveDefinition valve) => Term.Any([.. context.Aircraft.Engines.Where(e => valve.Engine is null || valve.Engine == e.Id)
            .Select(e => Term.Fact(FormattableString.Invariant($"{e.Id}.lit and {e.Id}.n2 > {d.CabinN2Pct}")))]);
        // A latched one has to be shut before it is any use to open it.
        var open = _valves.Select(v => _unlatch is null ? Term.All(v.Open, Behind(v.Definition))
            : Term.All(Term.Any(Term.Fact($"air.{v.Definition.Id}-latched"), v.Open), Term.Fact($"not air.{v.Definition.Id}-latched"), Behind(v.Definition)));
        context.Gate(OfferedSignal, GateKind.Is, "air", "Bleed air: an engine gives it", Term.Any([.. _valves.Select(v => Behind(v.Definition))]));
        context.Gate(CabinSignal, GateKind.Comes, "air", "Cabin air", Term.Any([.. open]), "A running engine gives it.");
        foreach (var valve in _unlatch is null ? [] : _valves)
        {
            var (id, where) = (valve.Definition.Id, $"air.bleed.{valve.Definition.Id}");
            context.Gate($"air.{id}-freed", GateKind.Comes, where, $"{valve.Definition.Label}: shut once with an engine running", Term.All(_unlatch, Term.Not(valve.Open)));
            // Opened before, it has to be shut again
            context.Gate($"air.{id}-latched", GateKind.Goes, where, $"{valve.Definition.Label}: latched shut",
                Term.All(_unlatch, Term.Fact($"air.{id}-freed"), Term.Any(Term.Fact($"not air.{id}-freed"), valve.Open), Term.Not(_latchWhen!)));
        }

        if (_unlatch is not null)
        {
            context.Gate("air.latched", GateKind.Is, "air.bleed", "Bleed air: latched shut", Term.Any([.. _valves.Select(v => Term.Fact($"air.{v.Definition.Id}-latched"))]));
        }
    }

    public override bool Follows => true;

    /// <exception cref="FormatException">A valve names an engine that the aircraft does not have.</exception>
    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
        _starters = [.. context.Aircraft.Engines.Select(e => context.Reads($"{e.Id}.starter-valve", Phase.Before))];
        _auxiliary = context.Aircraft.AuxiliaryUnit is null ? -1 : context.Reads(AuxiliaryUnit.GivesAirSignal, Phase.Move);
        _bottles = context.Aircraft.Air.Bottles is null ? -1 : context.Reads(StarterBottles.ShareSignal, Phase.Move);
        EngineSideDefinition[] engines = [.. context.Aircraft.Engines];
        foreach (var valve in _valves)
        {
            valve.Engines = [.. context.Aircraft.Engines.Where(e => valve.Definition.Engine is not { } own || own == e.Id)
                .Select(e => (context.Reads($"{e.Id}.lit", Phase.Before), context.Reads(EngineBay.TrueSpeedSignal(e.Id), Phase.Before),
                    RunningShare * context.Aircraft.EngineOf(e).IdleN2Pct, _takes[Array.IndexOf(engines, e)], _torn[Array.IndexOf(engines, e)]))];
            if (valve.Engines.Length == 0)
            {
                throw new FormatException($"air.bleed.{valve.Definition.Id}.engine: there is no engine \"{valve.Definition.Engine}\"");
            }
        }
    }

    public override void Logic()
    {
        if (_unlatch is null)
        {
            return;
        }

        var any = 0;
        foreach (var valve in _valves)
        {
            if (_latchWhen!.On)
            {
                (valve.Latched, valve.Freed) = (true, false);
            }
            else if (valve.Latched && _unlatch.On)
            {
                valve.Freed |= !valve.Open.On;
                valve.Latched = !(valve.Freed && valve.Open.On && _f[_stuck] < 0.5);
            }

            _v[valve.FreedSignal] = valve.Freed ? 1 : 0;
            _v[valve.LatchedSignal] = valve.Latched ? 1 : 0;
            any |= valve.Latched ? 1 : 0;
        }

        _v[_latch] = any;
    }

    // The best bleed that a valve can have, as N2 of a running engine, %.
    private double Behind(Valve valve)
    {
        var best = 0.0;
        foreach (var (lit, n2, running, _, _) in valve.Engines)
        {
            best = _v[lit] > 0.5 && _v[n2] > running ? Math.Max(best, _v[n2]) : best;
        }

        return best;
    }

    // Cabin and cooling are fed by all that run behind the open valves: each gives its part.
    private void Take(Valve valve)
    {
        var (running, valves) = (0, 0);
        foreach (var (lit, n2, from, _, _) in valve.Engines)
        {
            running += _v[lit] > 0.5 && _v[n2] > from ? 1 : 0;
        }

        foreach (var other in _valves)
        {
            valves += other.Open.On && !other.Latched && Behind(other) > _d.CabinN2Pct ? 1 : 0;
        }

        foreach (var (lit, n2, from, takes, _) in valve.Engines)
        {
            _v[takes] += _v[lit] > 0.5 && _v[n2] > from ? 1.0 / running / valves : 0;
        }
    }

    // What blows out of a torn duct, whether cabin and cooling ask for air or not.
    private void Lose(Valve valve)
    {
        foreach (var (lit, n2, from, takes, torn) in valve.Engines)
        {
            _v[takes] += _v[lit] > 0.5 && _v[n2] > from ? _f[torn] : 0;
        }
    }

    /// <inheritdoc/>
    public override void Move(double dt)
    {
        foreach (var takes in _takes)
        {
            _v[takes] = 0;
        }

        var (cabin, cross, there) = (0.0, 0.0, 0.0);
        foreach (var valve in _valves)
        {
            var behind = Behind(valve);
            there = Math.Max(there, behind);
            if (!valve.Latched)
            {
                cross = Math.Max(cross, behind);
                cabin = valve.Open.On ? Math.Max(cabin, behind) : cabin;
                if (valve.Open.On && behind > _d.CabinN2Pct && _cabinTakes is { On: true })
                {
                    Take(valve);
                }

                if (valve.Open.On)
                {
                    Lose(valve);
                }
            }
        }

        var open = 0;
        foreach (var starter in _starters)
        {
            open += _v[starter] > 0.5 ? 1 : 0;
        }

        var auxiliary = _auxiliary >= 0 && _v[_auxiliary] > 0.5;
        var outside = auxiliary || _cart is { On: true } ? 1 : _bottles >= 0 ? _v[_bottles] : 0;
        var fromBleed = _crossFeed.On ? Math.Min(1, cross / _d.FullBleedN2Pct) : 0;
        var source = Math.Max(outside, fromBleed) * _f[_supply];
        if (_cabinAir && outside < 1)
        {
            source *= 1 - _d.CoolingDraw;
        }

        if (open > 1)
        {
            source *= _d.StarterDraw;
        }

        _still = Math.Abs(source - _pressure) < StillShare;
        _pressure = _still ? source : _pressure + Math.Min(1, dt / LagS) * (source - _pressure);
        _v[_share] = _pressure;
        (_cabinAir, _bleedThere) = (cabin > _d.CabinN2Pct, there > _d.CabinN2Pct);
    }

    public override void Slow(double dt)
    {
        _v[_duct] = _d.FullPsi * _pressure;
        _v[_cabin] = _cabinAir ? 1 : 0;
        _v[_offered] = _bleedThere ? 1 : 0;
        PaceS = _still ? Drifting : 0;
    }
}
