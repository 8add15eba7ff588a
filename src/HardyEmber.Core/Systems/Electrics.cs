using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Sources, contactors with priority, inverters, buses and loads, solved anew at every decision: first who feeds whom, then
/// which loads that carries, then the voltages; at last who has had too much. See docs/models/electrics.md.
/// </summary>
public sealed class Electrics : MachineSystem
{
    private const double NoticedV = 0.01;
    private readonly MachineContext _context;
    private readonly GuardDefinition _guard;
    private readonly Battery? _battery;
    private readonly BusState[] _buses;
    private readonly SourceState[] _sources;
    private readonly InverterState[] _inverters;
    private readonly Generator[] _generators;
    private readonly Shedding? _shedding;
    private double[] _v = [], _f = [];
    private double _decidedV;
    private (Load Load, BusState Bus)[] _loads = [];

    private enum FeedKind { Battery, Generator, Source, Inverter, Bus }

    private sealed class Feed(FeedKind kind, int index, string from, Switch when)
    {
        public FeedKind Kind { get; } = kind;

        /// <summary>Place of the source, generator, inverter or bus.</summary>
        public int Index { get; } = index;
        public string From { get; } = from;
        public Switch When { get; } = when;
    }

    private sealed class BusState(BusDefinition definition, int volts, int live, int feed)
    {
        public BusDefinition Definition { get; } = definition;
        public int Volts { get; } = volts;
        public int Live { get; } = live;

        /// <summary>Which of its feeds is closed, counted from 1.</summary>
        public int FeedSignal { get; } = feed;
        public Feed[] Feeds { get; set; } = [];
        public Feed? FedBy;
        public double DemandW, StarterW, StarterSiemens, PerUnit;
        public bool OnBattery, Fed;
    }

    private sealed class SourceState(SourceDefinition definition, Switch present, int volts, int good, int fault, int drop)
    {
        public SourceDefinition Definition { get; } = definition;
        public Switch Present { get; } = present;
        public int Volts { get; } = volts;
        public int Good { get; } = good;
        public int Fault { get; } = fault;
        public int Drop { get; } = drop;
        public double DemandW;
    }

    private sealed class InverterState(InverterDefinition definition, int bus, Switch when, int on, int silent, int fault)
    {
        public InverterDefinition Definition { get; } = definition;
        public int Bus { get; } = bus;
        public Switch When { get; } = when;
        public int On { get; } = on;

        /// <summary>Asked for and fed, and gives nothing.</summary>
        public int Silent { get; } = silent;
        public int Fault { get; } = fault;
        public double DemandW;
        public bool WasOn, Starved;
    }

    public Electrics(MachineContext context)
    {
        _context = context;
        var d = context.Aircraft.Electrics;
        _guard = d.Guard;
        _battery = d.Battery is { } battery ? new Battery(context, battery) : null;
        var s = context.Signals;
        _generators = [.. Generators(context).Select(context.AddGenerator)];
        _sources = [.. d.Sources.Select(x => new SourceState(x, context.Switch(x.Present, $"electrics.sources.{x.Id}.present"),
            s.AddNumber($"source.{x.Id}", "V", 0.1), s.AddFlag($"source.{x.Id}.good"), context.Faults.Add($"source.{x.Id}.volts", 1),
                context.Faults.Add($"source.{x.Id}.drop", 1)))];
        _buses = [.. d.Buses.Select(b => new BusState(b, s.AddNumber($"bus.{b.Id}", "V", 0.1), s.AddFlag($"bus.{b.Id}.live"), s.AddNumber($"bus.{b.Id}.feed", "", 1)))];
        _inverters = [.. d.Inverters.Select(x => MakeInverter(context, x))];
        for (var i = 0; i < _buses.Length; i++)
        {
            var (bus, earlier) = (_buses[i], i);
            bus.Feeds = [.. bus.Definition.Feeds.Select((f, k) => MakeFeed(context, bus, earlier, f, k))];
        }

        foreach (var load in d.Loads)
        {
            _ = context.AddLoad(load.Id, load.Label, load.Bus, load.Watts, context.Switch(load.When, $"electrics.loads.{load.Id}.when"), minV: load.MinV);
        }

        _shedding = d.Shed is { } shed ? new Shedding(context, shed, _generators) : null;
        if (context.Explains)
        {
            Explain(context);
        }
    }

    private static IEnumerable<Generator> Generators(MachineContext context)
    {
        foreach (var side in context.Aircraft.Engines)
        {
            var unit = context.Aircraft.EngineOf(side).Generator;
            yield return new Generator(context, side.Id, $"{side.Label} generator", unit.RatedW, unit.OverloadS);
        }

        if (context.Aircraft.AuxiliaryUnit is { GeneratorW: > 0 } aux)
        {
            yield return new Generator(context, "aux", $"{aux.Label} generator", aux.GeneratorW, aux.GeneratorOverloadS);
        }
    }

    private InverterState MakeInverter(MachineContext context, InverterDefinition d)
    {
        var bus = Array.FindIndex(_buses, b => b.Definition.Id == d.Bus);
        return bus >= 0 ? new InverterState(d, bus, context.Switch(d.When, $"electrics.inverters.{d.Id}.when"), context.Signals.AddFlag($"inverter.{d.Id}"),
            context.Signals.AddFlag($"inverter.{d.Id}-silent"), context.Faults.Add($"inverter.{d.Id}", 1))
            : throw new FormatException($"electrics.inverters.{d.Id}.bus: there is no bus \"{d.Bus}\"");
    }

    private Feed MakeFeed(MachineContext context, BusState bus, int index, FeedDefinition feed, int number)
    {
        var where = $"electrics.buses.{bus.Definition.Id}.feeds[{number}]";
        var id = feed.From[(feed.From.IndexOf('.', StringComparison.Ordinal) + 1)..];
        var (kind, at) = feed.From switch
        {
            "battery" => (FeedKind.Battery, _battery is null ? -1 : 0),
            var f when f.StartsWith("source.", StringComparison.Ordinal) => (FeedKind.Source, Array.FindIndex(_sources, x => x.Definition.Id == id)),
            var f when f.StartsWith("inverter.", StringComparison.Ordinal) => (FeedKind.Inverter, Array.FindIndex(_inverters, x => x.Definition.Id == id && x.Bus < index)),
            var f when f.StartsWith("gen.", StringComparison.Ordinal) => (FeedKind.Generator, Array.FindIndex(_generators, g => g.Id == id)),
            var f => (FeedKind.Bus, Array.FindIndex(_buses, 0, index, b => b.Definition.Id == f)),
        };
        return at >= 0 ? new Feed(kind, at, feed.From, context.Switch(feed.When, $"{where}.when"))
            : throw new FormatException($"{where}.from: \"{feed.From}\" is no source and no earlier bus");
    }

    private void Explain(MachineContext context)
    {
        foreach (var source in _sources)
        {
            var d = source.Definition;
            context.Gate($"source.{d.Id}.good", GateKind.Is, $"electrics.sources.{d.Id}", $"{d.Label}: steady power", source.Present,
                "Its voltage must be right: have the crew look at it.");
        }

        foreach (var inverter in _inverters)
        {
            var d = inverter.Definition;
            var enough = FormattableString.Invariant($"bus.{d.Bus} >= {d.CutOutV + _guard.ReturnV} or inverter.{d.Id} and bus.{d.Bus} >= {d.CutOutV}");
            context.Gate($"inverter.{d.Id}", GateKind.Is, $"electrics.inverters.{d.Id}", $"{d.Label}: output",
                Term.All(inverter.When, Term.Fact($"bus.{d.Bus}.live"), Term.Fact(enough)));
        }

        foreach (var bus in _buses)
        {
            var d = bus.Definition;
            var feeds = bus.Feeds.Zip(d.Feeds, (made, feed) => Term.All(made.When, Term.Fact(FlagOf(feed.From))));
            context.Gate($"bus.{d.Id}.live", GateKind.Is, $"electrics.buses.{d.Id}", $"{d.Label} bus: live", Term.Any([.. feeds]));
            context.Gate($"bus.{d.Id}", GateKind.Moves, $"electrics.buses.{d.Id}", $"{d.Label} bus: volts", Term.Fact($"bus.{d.Id}.live"), "Take loads off, or add a source.");
        }
    }

    private void ExplainGenerators(MachineContext context)
    {
        foreach (var generator in _generators)
        {
            var where = generator.Id == "aux" ? "auxiliaryUnit.generatorSwitch" : $"engines.{generator.Id}.generatorSwitch";
            context.Gate($"{generator.Id}.generator-tripped", GateKind.Goes, where, $"{generator.Label}: tripped, overloaded for too long", Term.All(),
                "Take loads off, then its switch off and on again.");
            context.Gate($"{generator.Id}.generator-over", GateKind.Goes, where, $"{generator.Label}: overloaded", Term.All(),
                _shedding?.Advice ?? "Take loads off, or bring another source on line.");
        }
    }

    /// <summary>The flag that says that a feed's source delivers.</summary>
    public static string FlagOf(string from) => from switch
    {
        "battery" => "battery.holds",
        "gen.aux" => "aux.generator",
        _ when from.StartsWith("gen.", StringComparison.Ordinal) => $"{from[4..]}.generator",
        _ when from.StartsWith("source.", StringComparison.Ordinal) => $"{from}.good",
        _ when from.StartsWith("inverter.", StringComparison.Ordinal) => from,
        _ => $"bus.{from}.live",
    };

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
        _battery?.Bind(context);
        foreach (var generator in _generators)
        {
            _ = context.Reads($"{generator.Id}.generator", Phase.Tick);
            generator.Bind(context);
        }

        _shedding?.Bind(context);
        if (context.Explains)
        {
            ExplainGenerators(context);
        }

        _loads = [.. context.Loads.Select(l => (l, _buses.First(b => b.Definition.Id == l.Bus)))];
    }

    private void Write(int signal, bool on)
    {
        var value = on ? 1 : 0;
        _context.Undecided |= _v[signal] != value; // whoever looked before has seen the past
        _v[signal] = value;
    }

    /// <summary>Nothing was switched, but a battery sinks: what rests on its voltage is asked again once it has moved.</summary>
    public override void Quiet()
    {
        var before = _decidedV;
        if (_battery is not null && (!_battery.Solve() || Math.Abs(_battery.Volts - before) > NoticedV))
        {
            Logic();
        }
    }

    public override void Logic()
    {
        foreach (var source in _sources)
        {
            var perUnit = _f[source.Fault] * (1 - source.Definition.SagPerUnit * source.DemandW / source.Definition.RatedW);
            var present = source.Present.On && _f[source.Drop] > 0.5;
            _v[source.Volts] = present ? source.Definition.Volts * perUnit : 0;
            // The guard of the socket lets only a right voltage through.
            Write(source.Good, present && perUnit >= _guard.LowestPerUnit && perUnit <= _guard.HighestPerUnit);
        }

        var wantsBattery = false;
        foreach (var bus in _buses)
        {
            wantsBattery |= HasBatteryFeed(bus);
        }

        _battery?.Hear(wantsBattery);
        Connect();
        Carry();
        if (_battery?.Solve() == false)
        {
            Connect(); // the contactor fell out: whoever else can feed does
            Carry();
            _battery.Solve();
        }

        _decidedV = _battery?.Volts ?? 0;

        foreach (var bus in _buses)
        {
            bus.PerUnit = PerUnit(bus);
            _v[bus.Volts] = bus.Fed ? bus.Definition.Volts * bus.PerUnit : 0;
            Write(bus.Live, bus.Fed);
            _v[bus.FeedSignal] = bus.FedBy is { } by ? Array.IndexOf(bus.Feeds, by) + 1 : 0;
        }

        foreach (var inverter in _inverters)
        {
            _context.Undecided |= inverter.WasOn != _v[inverter.On] > 0.5;
            inverter.WasOn = _v[inverter.On] > 0.5;
            var asked = inverter.When.On && _buses[inverter.Bus].Fed && !inverter.Starved;
            _v[inverter.Silent] = asked && !inverter.WasOn ? 1 : 0;
        }

        foreach (var (load, _) in _loads)
        {
            Write(load.Signal, load.Powered);
        }

        foreach (var generator in _generators)
        {
            generator.Publish();
        }
    }

    private double PerUnit(BusState bus) => bus.FedBy?.Kind switch
    {
        FeedKind.Battery => _battery!.Volts / bus.Definition.Volts,
        FeedKind.Source => _v[_sources[bus.FedBy.Index].Volts] / _sources[bus.FedBy.Index].Definition.Volts,
        FeedKind.Bus => _buses[bus.FedBy.Index].PerUnit,
        FeedKind.Generator => _generators[bus.FedBy.Index].PerUnit,
        // An inverter holds its voltage until it is asked for more than it has.
        FeedKind.Inverter => Math.Min(1, _inverters[bus.FedBy.Index].Definition.RatedW / Math.Max(1, _inverters[bus.FedBy.Index].DemandW)),
        _ => 1,
    };

    private void Connect()
    {
        foreach (var inverter in _inverters)
        {
            _v[inverter.On] = 0;
        }

        for (var i = 0; i < _buses.Length; i++)
        {
            var bus = _buses[i];
            bus.Fed = bus.OnBattery = false;
            bus.FedBy = null;
            foreach (var feed in bus.Feeds)
            {
                if (feed.When.On && Delivers(feed, out var onBattery))
                {
                    (bus.Fed, bus.OnBattery, bus.FedBy) = (true, onBattery, feed);
                    break;
                }
            }

            foreach (var inverter in _inverters)
            {
                if (inverter.Bus == i)
                {
                    // One that has cut out comes back a little higher: its own load would pull the bus down again at once.
                    var enough = _v[bus.Volts] >= inverter.Definition.CutOutV + (inverter.Starved ? _guard.ReturnV : 0);
                    inverter.Starved = bus.Fed && inverter.When.On && !enough;
                    _v[inverter.On] = bus.Fed && inverter.When.On && enough && _f[inverter.Fault] > 0.5 ? 1 : 0;
                }
            }
        }
    }

    private bool Delivers(Feed feed, out bool onBattery)
    {
        onBattery = feed.Kind == FeedKind.Battery;
        switch (feed.Kind)
        {
            case FeedKind.Battery:
                return _battery!.Holds;
            case FeedKind.Source:
                return _v[_sources[feed.Index].Good] > 0.5;
            case FeedKind.Generator:
                return _generators[feed.Index].Online;
            case FeedKind.Inverter:
                onBattery = _buses[_inverters[feed.Index].Bus].OnBattery;
                return _v[_inverters[feed.Index].On] > 0.5;
            default:
                onBattery = _buses[feed.Index].OnBattery;
                return _buses[feed.Index].Fed;
        }
    }

    // Demand runs from the loads up to the sources, so the buses are taken backwards.
    private void Carry()
    {
        foreach (var bus in _buses)
        {
            bus.StarterW = bus.StarterSiemens = 0;
            // A battery is charged by the bus that it could feed.
            bus.DemandW = bus.Fed && !bus.OnBattery && HasBatteryFeed(bus) ? _battery!.ChargeA * bus.Definition.Volts : 0;
        }

        foreach (var (load, bus) in _loads)
        {
            load.Starved = load.MinV > 0 && _v[bus.Volts] > 0 && _v[bus.Volts] < load.MinV + (load.Starved ? _guard.ReturnV : 0);
            load.Powered = bus.Fed && load.Wanted.On && !load.Starved && !load.Shed;
            bus.DemandW += load.Powered ? load.Watts : 0;
            if (load is { Powered: true, StarterV: > 0 })
            {
                bus.StarterW += load.Watts;
                bus.StarterSiemens += load.Watts / (load.StarterV * load.StarterV);
            }
        }

        foreach (var source in _sources)
        {
            source.DemandW = 0;
        }

        foreach (var generator in _generators)
        {
            generator.DemandW = 0;
        }

        var (fromBattery, starters) = (0.0, 0.0);
        for (var i = _buses.Length - 1; i >= 0; i--)
        {
            var bus = _buses[i];
            switch (bus.FedBy?.Kind)
            {
                case FeedKind.Battery:
                    fromBattery += bus.DemandW - bus.StarterW;
                    starters += bus.StarterSiemens;
                    break;
                case FeedKind.Source:
                    _sources[bus.FedBy.Index].DemandW += bus.DemandW;
                    break;
                case FeedKind.Generator:
                    fromBattery += CarryByGenerators(bus);
                    break;
                case FeedKind.Inverter:
                    var inverter = _inverters[bus.FedBy.Index];
                    inverter.DemandW = bus.DemandW;
                    _buses[inverter.Bus].DemandW += bus.DemandW / inverter.Definition.Efficiency;
                    break;
                case FeedKind.Bus:
                    var feeder = _buses[bus.FedBy.Index];
                    (feeder.DemandW, feeder.StarterW, feeder.StarterSiemens) = (feeder.DemandW + bus.DemandW, feeder.StarterW + bus.StarterW,
                        feeder.StarterSiemens + bus.StarterSiemens);
                    break;
            }
        }

        if (_battery is not null)
        {
            (_battery.DemandW, _battery.StarterSiemens) = (fromBattery, starters);
        }
    }

    // Those that work together on one bus share by their ratings; elsewhere the first in the order carries all.
    // What they have not to spare for a starter the battery gives, where it is on; that is returned.
    private double CarryByGenerators(BusState bus)
    {
        var (ratedW, spareW) = (0.0, 0.0);
        foreach (var feed in bus.Feeds)
        {
            if (Carries(bus, feed))
            {
                var generator = _generators[feed.Index];
                (ratedW, spareW) = (ratedW + generator.RatedW, spareW + generator.RatedW - generator.DemandW);
            }
        }

        var assist = bus.StarterW > 0 && _battery is { Holds: true } && HasBatteryFeed(bus) ? Math.Clamp(bus.DemandW - spareW, 0, bus.StarterW) : 0;
        foreach (var feed in bus.Feeds)
        {
            if (Carries(bus, feed))
            {
                _generators[feed.Index].DemandW += (bus.DemandW - assist) * _generators[feed.Index].RatedW / ratedW;
            }
        }

        return assist;
    }

    // An auxiliary unit's generator works alone or not at all.
    private bool Carries(BusState bus, Feed feed) => feed == bus.FedBy || bus.Definition.Parallel && Works(feed) && _generators[feed.Index].Id != "aux";

    private bool Works(Feed feed) => feed.Kind == FeedKind.Generator && feed.When.On && _generators[feed.Index].Online;

    public override void Slow(double dt)
    {
        var charging = false;
        foreach (var bus in _buses)
        {
            // A bus the battery could feed charges it when a machine feeds the bus.
            charging |= bus.Fed && !bus.OnBattery && HasBatteryFeed(bus);
        }

        _battery?.Slow(dt, charging);
        PaceS = Math.Min(Drifting, _battery?.NextLossS ?? Drifting);
        foreach (var generator in _generators)
        {
            _context.Disturbed |= generator.Slow(dt);
            generator.Publish();
            PaceS = Math.Min(PaceS, generator.NextS);
        }

        if (_shedding is not null)
        {
            _context.Disturbed |= _shedding.Slow(dt);
            PaceS = Math.Min(PaceS, _shedding.NextS);
        }
    }

    private static bool HasBatteryFeed(BusState bus)
    {
        foreach (var feed in bus.Feeds)
        {
            if (feed.Kind == FeedKind.Battery && feed.When.On)
            {
                return true;
            }
        }

        return false;
    }
}
