using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Sources, contactors with priority, inverters, buses and loads, solved anew at every decision: first who feeds whom, then
/// which loads that carries, then the voltages. See docs/models/electrics.md.
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
    private double[] _v = [], _f = [];
    private double _decidedV;
    private (Load Load, BusState Bus)[] _loads = [];

    private enum FeedKind { Battery, Generator, Source, Inverter, Bus }

    private sealed class Feed(FeedKind kind, int index, string from, Switch when)
    {
        public FeedKind Kind { get; } = kind;

        /// <summary>Place of the source, inverter or bus; of a generator the signal that says that it delivers.</summary>
        public int Index { get; set; } = index;
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
        public double DemandW, PerUnit;
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
        _sources = [.. d.Sources.Select(x => new SourceState(x, context.Switch(x.Present, $"electrics.sources.{x.Id}.present"),
            s.AddNumber($"source.{x.Id}", "V", 0.1), s.AddFlag($"source.{x.Id}.good"), context.Faults.Add($"source.{x.Id}.volts", 1), context.Faults.Add($"source.{x.Id}.drop", 1)))];
        _buses = [.. d.Buses.Select(b => new BusState(b, s.AddNumber($"bus.{b.Id}", "V", 0.1), s.AddFlag($"bus.{b.Id}.live"), s.AddNumber($"bus.{b.Id}.feed", "", 1)))];
        _inverters = [.. d.Inverters.Select(x => MakeInverter(context, x))];
        for (var i = 0; i < _buses.Length; i++)
        {
            var (bus, earlier) = (_buses[i], i);
            bus.Feeds = [.. bus.Definition.Feeds.Select((f, k) => MakeFeed(context, bus, earlier, f, k))];
        }

        foreach (var load in d.Loads)
        {
            context.AddLoad(load.Id, load.Label, load.Bus, load.Watts, context.Switch(load.When, $"electrics.loads.{load.Id}.when"), minV: load.MinV);
        }

        if (context.Explains)
        {
            Explain(context);
        }
    }

    private InverterState MakeInverter(MachineContext context, InverterDefinition d)
    {
        var bus = Array.FindIndex(_buses, b => b.Definition.Id == d.Bus);
        return bus >= 0 ? new InverterState(d, bus, context.Switch(d.When, $"electrics.inverters.{d.Id}.when"), context.Signals.AddFlag($"inverter.{d.Id}"), context.Signals.AddFlag($"inverter.{d.Id}-silent"), context.Faults.Add($"inverter.{d.Id}", 1))
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
            var f when f.StartsWith("gen.", StringComparison.Ordinal) => (FeedKind.Generator, id == "aux" && context.Aircraft.AuxiliaryUnit is not null || context.Aircraft.Engines.Any(e => e.Id == id) ? 0 : -1),
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
            context.Gate($"source.{d.Id}.good", GateKind.Is, $"electrics.sources.{d.Id}", $"{d.Label}: steady power", source.Present, "Its voltage must be right: have the crew look at it.");
        }

        foreach (var inverter in _inverters)
        {
            var d = inverter.Definition;
            var enough = FormattableString.Invariant($"bus.{d.Bus} >= {d.CutOutV + _guard.ReturnV} or inverter.{d.Id} and bus.{d.Bus} >= {d.CutOutV}");
            context.Gate($"inverter.{d.Id}", GateKind.Is, $"electrics.inverters.{d.Id}", $"{d.Label}: output", Term.All(inverter.When, Term.Fact($"bus.{d.Bus}.live"), Term.Fact(enough)));
        }

        foreach (var bus in _buses)
        {
            var d = bus.Definition;
            var feeds = bus.Feeds.Zip(d.Feeds, (made, feed) => Term.All(made.When, Term.Fact(FlagOf(feed.From))));
            context.Gate($"bus.{d.Id}.live", GateKind.Is, $"electrics.buses.{d.Id}", $"{d.Label} bus: live", Term.Any([.. feeds]));
            context.Gate($"bus.{d.Id}", GateKind.Moves, $"electrics.buses.{d.Id}", $"{d.Label} bus: volts", Term.Fact($"bus.{d.Id}.live"), "Take loads off, or add a source.");
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
        foreach (var feed in _buses.SelectMany(b => b.Feeds).Where(f => f.Kind == FeedKind.Generator))
        {
            feed.Index = context.Reads(FlagOf(feed.From), Phase.Tick);
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
    }

    private double PerUnit(BusState bus) => bus.FedBy?.Kind switch
    {
        FeedKind.Battery => _battery!.Volts / bus.Definition.Volts,
        FeedKind.Source => _v[_sources[bus.FedBy.Index].Volts] / _sources[bus.FedBy.Index].Definition.Volts,
        FeedKind.Bus => _buses[bus.FedBy.Index].PerUnit,
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
                return _v[feed.Index] > 0.5;
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
            bus.DemandW = 0;
        }

        foreach (var (load, bus) in _loads)
        {
            load.Starved = load.MinV > 0 && _v[bus.Volts] > 0 && _v[bus.Volts] < load.MinV + (load.Starved ? _guard.ReturnV : 0);
            load.Powered = bus.Fed && load.Wanted.On && !load.Starved;
            bus.DemandW += load.Powered ? load.Watts : 0;
        }

        foreach (var source in _sources)
        {
            source.DemandW = 0;
        }

        var fromBattery = 0.0;
        for (var i = _buses.Length - 1; i >= 0; i--)
        {
            var bus = _buses[i];
            switch (bus.FedBy?.Kind)
            {
                case FeedKind.Battery:
                    fromBattery += bus.DemandW;
                    break;
                case FeedKind.Source:
                    _sources[bus.FedBy.Index].DemandW += bus.DemandW;
                    break;
                case FeedKind.Inverter:
                    var inverter = _inverters[bus.FedBy.Index];
                    inverter.DemandW = bus.DemandW;
                    _buses[inverter.Bus].DemandW += bus.DemandW / inverter.Definition.Efficiency;
                    break;
                case FeedKind.Bus:
                    _buses[bus.FedBy.Index].DemandW += bus.DemandW;
                    break;
            }
        }

        if (_battery is not null)
        {
            _battery.DemandW = fromBattery;
        }
    }

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
