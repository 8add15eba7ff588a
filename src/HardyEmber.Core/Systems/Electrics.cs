using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Sources, contactors with priority, buses and loads. The battery is an open-circuit voltage behind an internal
/// resistance feeding constant-power loads: V² − OCV·V + P·R = 0 (the greater root). See docs/models/electrics.md.
/// </summary>
public sealed class Electrics : MachineSystem
{
    private readonly BatteryDefinition _battery;
    private readonly BusState[] _buses;
    private readonly double _temperatureC;
    private readonly int _health, _volts, _amps, _charge, _minutes;
    private readonly Func<string, bool> _generatorOnline;
    private double _chargeAh;
    private double _batteryAmps;
    private bool _dropped;
    private double[] _v = [], _f = [];
    private (Load Load, BusState Bus)[] _loads = [];

    private sealed class BusState(BusDefinition definition, int volts, int live)
    {
        public BusDefinition Definition { get; } = definition;
        public int Volts { get; } = volts;
        public int Live { get; } = live;
        public Feed[] Feeds { get; set; } = [];
        public double DemandW;
        public bool OnBattery;
        public bool Fed;
    }

    /// <summary>Where a bus may be fed from: the battery, a generator by its drive, or another bus.</summary>
    private sealed record Feed(bool Battery, string? Generator, BusState? Bus, Switch When);

    /// <param name="generatorOnline">Whether the generator of a drive (a side, or <c>aux</c>) delivers now.</param>
    public Electrics(MachineContext context, Func<string, bool> generatorOnline)
    {
        _battery = context.Aircraft.Electrics.Battery;
        _generatorOnline = generatorOnline;
        _temperatureC = context.Header.Conditions.OatC;
        var s = context.Signals;
        _volts = s.AddNumber("battery.volts", "V", 0.1);
        _amps = s.AddNumber("battery.amps", "A", 1);
        _charge = s.AddNumber("battery.charge", "%", 1);
        _minutes = s.AddNumber("battery.minutes-left", "min", 1);
        _health = context.Faults.Add("battery.health", 1);
        _buses = [.. context.Aircraft.Electrics.Buses.Select(b =>
            new BusState(b, s.AddNumber($"bus.{b.Id}", "V", 0.1), s.AddFlag($"bus.{b.Id}.live")))];
        for (var i = 0; i < _buses.Length; i++)
        {
            var bus = _buses[i];
            bus.Feeds = [.. bus.Definition.Feeds.Select((f, k) => MakeFeed(context, bus, i, f, k))];
        }

        foreach (var load in context.Aircraft.Electrics.Loads)
        {
            context.AddLoad(load.Id, load.Bus, load.Watts, context.Switch(load.When, $"electrics.loads.{load.Id}.when"));
        }

        // A parked jet's battery is rarely quite full.
        _chargeAh = CapacityAh * context.Random("battery").Between(0.9, 1.0);
    }

    private Feed MakeFeed(MachineContext context, BusState bus, int index, FeedDefinition feed, int number)
    {
        var from = feed.From;
        var earlier = _buses.Take(index).FirstOrDefault(b => b.Definition.Id == from);
        var known = earlier is not null || from == "battery" || from == "gen.aux"
            || context.Aircraft.Engines.Any(e => from == $"gen.{e.Id}");
        return known
            ? new Feed(from == "battery", from.StartsWith("gen.", StringComparison.Ordinal) ? from[4..] : null, earlier, context.Switch(feed.When, $"electrics.buses.{bus.Definition.Id}.feeds[{number}].when"))
            : throw new FormatException($"electrics.buses.{bus.Definition.Id}.feeds[{number}].from: \"{from}\" is no source and no earlier bus");
    }

    /// <summary>Usable capacity today: about 0.8 % less for each kelvin below 20 °C (×0.6 at −30 °C).</summary>
    private double CapacityAh => _battery.CapacityAh * Math.Clamp(1 - 0.4 * (20 - _temperatureC) / 50, 0.4, 1.05);

    /// <summary>Internal resistance today: ×2.5 at −30 °C, and rising as the battery empties.</summary>
    private double ResistanceOhm(double soc) => _battery.ResistanceOhm
        * Math.Clamp(Math.Exp((20 - _temperatureC) / 54.6), 0.8, 3.5) * (1 + 0.8 * (1 - soc)) / Math.Max(0.05, Health);

    private double Health => _f.Length > 0 ? _f[_health] : 1;

    private double OpenCircuitV(double soc) =>
        _battery.NominalV * (0.95 + 0.12 * soc) * (0.7 + 0.3 * Health) * (soc < 0.08 ? 0.75 + soc / 0.32 : 1);

    /// <summary>Terminal voltage under a constant-power load, or 0 where the battery cannot deliver it.</summary>
    public static double VoltageUnderLoad(double openCircuitV, double resistanceOhm, double watts)
    {
        var root = openCircuitV * openCircuitV - 4 * watts * resistanceOhm;
        return root < 0 ? 0 : (openCircuitV + Math.Sqrt(root)) / 2;
    }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
        _loads = [.. context.Loads.Select(l => (l, _buses.First(b => b.Definition.Id == l.Bus)))];
    }

    public override void Logic()
    {
        var wantsBattery = false;
        foreach (var bus in _buses)
        {
            wantsBattery |= HasBatteryFeed(bus);
            bus.Fed = false;
            bus.OnBattery = false;
            bus.DemandW = 0;
            foreach (var feed in bus.Feeds)
            {
                if (!feed.When.On)
                {
                    continue;
                }

                var battery = feed.Battery && !_dropped || feed.Bus is { OnBattery: true };
                if (battery || feed.Bus is { Fed: true } || feed.Generator is { } drive && _generatorOnline(drive))
                {
                    bus.Fed = true;
                    bus.OnBattery = battery;
                    break;
                }
            }
        }

        // The contactor that fell out closes again only when the switch is worked.
        _dropped &= wantsBattery;
        var watts = 0.0;
        for (var i = 0; i < _loads.Length; i++)
        {
            var (load, bus) = _loads[i];
            load.Powered = bus.Fed && load.Wanted.On;
            if (load.Powered)
            {
                bus.DemandW += load.Watts;
                watts += bus.OnBattery ? load.Watts : 0;
            }
        }

        var capacity = CapacityAh;
        var soc = Math.Clamp(_chargeAh / capacity, 0, 1);
        var ocv = OpenCircuitV(soc);
        var volts = VoltageUnderLoad(ocv, ResistanceOhm(soc), watts);
        if (volts < _battery.DropOutV)
        {
            _dropped = true;
            foreach (var bus in _buses)
            {
                bus.Fed &= !bus.OnBattery;
            }

            foreach (var (load, bus) in _loads)
            {
                load.Powered &= bus.Fed;
            }

            watts = 0;
            volts = ocv;
        }

        _batteryAmps = watts / Math.Max(volts, 1);
        _v[_volts] = wantsBattery && !_dropped ? volts : 0;
        _v[_amps] = _batteryAmps;
        _v[_charge] = soc * 100;
        _v[_minutes] = _batteryAmps > 0.5 ? Math.Min(999, _chargeAh / _batteryAmps * 60) : 999;
        foreach (var bus in _buses)
        {
            _v[bus.Volts] = !bus.Fed ? 0 : bus.OnBattery ? volts : bus.Definition.Volts;
            _v[bus.Live] = bus.Fed ? 1 : 0;
        }
    }

    public override void Slow(double dt)
    {
        _chargeAh -= _batteryAmps * dt / 3600;
        foreach (var bus in _buses)
        {
            // A bus the battery could feed charges it when a machine feeds the bus.
            if (bus.Fed && !bus.OnBattery && HasBatteryFeed(bus))
            {
                var capacity = CapacityAh;
                _chargeAh += Math.Min(_battery.ChargeLimitA, (capacity - _chargeAh) * 6) * dt / 3600;
            }
        }

        _chargeAh = Math.Clamp(_chargeAh, 0, CapacityAh);
    }

    private static bool HasBatteryFeed(BusState bus)
    {
        foreach (var feed in bus.Feeds)
        {
            if (feed.Battery && feed.When.On)
            {
                return true;
            }
        }

        return false;
    }
}
