using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The battery: an open-circuit voltage behind an internal resistance feeding constant-power loads,
/// V² − OCV·V + P·R = 0 (the greater root). Cold raises the resistance and takes capacity. Volts, amperes, ampere-hours, °C.
/// </summary>
public sealed class Battery
{
    private const double ForecastEveryS = 1;
    private const double LongestS = 5999;

    /// <summary>The file's attempt is one at this temperature; stiff with cold it takes half as long again at 45 K less.</summary>
    private const double StatedC = 15, ColdAttemptK = 90;

    /// <summary>Below this charge the voltage falls off a cliff.</summary>
    private const double CliffSoc = 0.08;
    private readonly BatteryDefinition _d;
    private readonly double _coldOhm, _capacityAh, _attemptS;
    private readonly int _volts, _open, _amps, _charge, _left, _attempts, _holds, _health;
    private double _chargeAh, _ampsNow;
    private readonly Flat _flatNow = new(), _flatInAttempt = new();

    // The last answer: loads seldom change.
    private sealed class Flat
    {
        public double Watts = double.NaN, Health, Soc;
    }
    private readonly Func<double, double> _loadedNow, _loadedAsked; // made once: nothing is allocated in a step
    private double _askedW, _askedS;
    private bool _dropped;
    private double _forecastIn, _losesAttemptInS, _foreseenW;
    private double[] _v = [], _f = [];

    public Battery(MachineContext context, BatteryDefinition definition)
    {
        _d = definition;
        (_loadedNow, _loadedAsked) = (soc => Loaded(soc, DemandW), soc => Loaded(soc, _askedW, _askedS));
        var temperatureC = context.Soak.BatteryC; // too heavy to follow the air within a start
        (_capacityAh, _coldOhm) = (CapacityAh(_d, temperatureC), ResistanceOhm(_d, temperatureC, 1));
        _attemptS = _d.AttemptS * (1 + Math.Max(0, StatedC - temperatureC) / ColdAttemptK);
        var s = context.Signals;
        _volts = s.AddNumber("battery.volts", "V", 0.1);
        _open = s.AddNumber("battery.open-volts", "V", 0.1);
        _amps = s.AddNumber("battery.amps", "A", 1);
        _charge = s.AddNumber("battery.charge", "%", 1);
        _left = s.AddNumber("battery.left", "s", 1, LongestS);
        _attempts = s.AddNumber("battery.attempts", "", 1, StartAttempts.Most);
        _holds = s.AddFlag("battery.holds", true);
        _health = context.Faults.Add("battery.health", 1);
        // A parked jet's battery is rarely quite full; one that has just flown a little less so.
        var share = context.Header.Beginning == "turnaround" ? context.Random("battery-left").Between(0.72, 0.95) : context.Random("battery").Between(0.9, 1.0);
        _chargeAh = _capacityAh * share;

        if (context.Explains)
        {
            context.Gate("battery.volts", GateKind.Moves, "electrics.battery", "Battery: volts", Term.Fact("battery.holds"), "Take loads off, or ask for ground power.");
            context.Gate("battery.holds", GateKind.Comes, "electrics.battery", "Battery contactor: holds", Term.All(),
                "It fell out for low volts: battery off and on again, with fewer loads.");
        }
    }

    public double DemandW { get; set; }

    /// <summary>Conductance of the starters that it turns, W/V².</summary>
    public double StarterSiemens { get; set; }

    /// <summary>Terminal voltage under the present load.</summary>
    public double Volts { get; private set; }

    /// <summary>What flows back into it.</summary>
    public double ChargeA { get; private set; }

    /// <summary>The contactor has not fallen out.</summary>
    public bool Holds => !_dropped;

    /// <summary>Usable capacity: 0.8 % less for each kelvin below 20 °C (×0.6 at −30 °C).</summary>
    public static double CapacityAh(BatteryDefinition d, double temperatureC)
    {
        ArgumentNullException.ThrowIfNull(d);
        return d.CapacityAh * Math.Clamp(1 - 0.4 * (20 - temperatureC) / 50, 0.4, 1.05);
    }

    /// <summary>Internal resistance: ×2.5 at −30 °C, and rising as the battery empties.</summary>
    /// <param name="soc">State of charge, 0 to 1.</param>
    /// <param name="health">1 sound, towards 0 worn out.</param>
    public static double ResistanceOhm(BatteryDefinition d, double temperatureC, double soc, double health = 1)
    {
        ArgumentNullException.ThrowIfNull(d);
        return Worn(d.ResistanceOhm * Math.Clamp(Math.Exp((20 - temperatureC) / 54.6), 0.8, 3.5), soc, health);
    }

    private static double Worn(double fullOhm, double soc, double health) => fullOhm * (1 + 0.8 * (1 - soc)) / Math.Max(0.05, health);

    /// <summary>Voltage without load; falls off a cliff in the last twelfth of the charge.</summary>
    public static double OpenCircuitV(BatteryDefinition d, double soc, double health = 1)
    {
        ArgumentNullException.ThrowIfNull(d);
        return d.NominalV * (0.95 + 0.12 * soc) * (0.7 + 0.3 * health) * (soc < CliffSoc ? 0.75 + soc / (4 * CliffSoc) : 1);
    }

    /// <summary>Terminal voltage under a constant-power load and, besides, one that goes with the square of the voltage; or 0 where the battery cannot deliver it.</summary>
    /// <param name="siemens">That second load's conductance, W/V².</param>
    public static double VoltageUnderLoad(double openCircuitV, double resistanceOhm, double watts, double siemens = 0)
    {
        var beside = 1 + resistanceOhm * siemens;
        var root = openCircuitV * openCircuitV - 4 * beside * watts * resistanceOhm;
        return root < 0 ? 0 : (openCircuitV + Math.Sqrt(root)) / (2 * beside);
    }

    /// <summary>Seconds for which a sound battery carries a constant load from full, until its contactor falls out.</summary>
    public static double FullLastsS(BatteryDefinition d, double temperatureC, double watts)
    {
        ArgumentNullException.ThrowIfNull(d);
        double Volts(double soc) => VoltageUnderLoad(OpenCircuitV(d, soc), ResistanceOhm(d, temperatureC, soc), watts);
        var flat = FlatAt(Volts, d.DropOutV);
        return flat > 1 ? 0 : LastsS(d, Volts, 1, flat, CapacityAh(d, temperatureC), watts);
    }

    /// <summary>What a current takes of the charge, A: more than itself where it would empty the battery within the hour (Peukert).</summary>
    private static double Takes(BatteryDefinition d, double amps) =>
        d.Peukert > 1 && amps > d.CapacityAh ? amps * Math.Pow(amps / d.CapacityAh, d.Peukert - 1) : amps;

    // A constant load draws more as the voltage sinks: seconds are charge over current, meant over the way (Simpson).
    private static double LastsS(BatteryDefinition d, Func<double, double> voltsAt, double from, double to, double capacityAh, double watts)
    {
        double PerA(double soc) => 1 / Takes(d, watts / Math.Max(voltsAt(soc), 1));
        double Over(double high, double low) => low >= high ? 0 : (high - low) * (PerA(high) + 4 * PerA((high + low) / 2) + PerA(low)) / 6;
        // In two pieces: below the edge of the cliff the voltage runs another way.
        return capacityAh * 3600 * (Over(from, Math.Max(to, CliffSoc)) + Over(Math.Min(from, CliffSoc), to));
    }

    private double Loaded(double soc, double watts, double siemens = 0) =>
        VoltageUnderLoad(OpenCircuitV(_d, soc, _f[_health]), Worn(_coldOhm, soc, _f[_health]), watts, siemens);

    // State of charge at which a load pulls the voltage down to the drop-out mark; above 1 where it cannot be carried at all.
    private double FlatAt(double watts, double siemens)
    {
        (_askedW, _askedS) = (watts, siemens);
        return FlatAt(_loadedAsked, siemens > 0 ? Math.Max(_d.AttemptV ?? 0, _d.DropOutV) : _d.DropOutV);
    }

    private static double FlatAt(Func<double, double> voltsAt, double dropOutV)
    {
        if (voltsAt(1) < dropOutV)
        {
            return 1.01;
        }

        double low = 0, high = 1;
        for (var i = 0; i < 16; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = voltsAt(middle) < dropOutV ? (middle, high) : (low, middle);
        }

        return high;
    }

    public void Bind(MachineContext context) => (_v, _f) = (context.Signals.Values, context.Faults.Values);

    private bool _wanted;

    /// <summary>Whether a switch asks for it. A contactor that fell out closes again only when the switch is worked.</summary>
    public void Hear(bool wanted)
    {
        _wanted = wanted;
        _dropped &= wanted;
    }

    /// <summary>Solves for the voltage under what it carries; false when the contactor falls out.</summary>
    public bool Solve()
    {
        var soc = Soc;
        var watts = _dropped ? 0 : DemandW;
        var siemens = _dropped ? 0 : StarterSiemens;
        Volts = Loaded(soc, watts, siemens);
        var fell = Volts < _d.DropOutV && _wanted && !_dropped;
        _dropped |= fell;
        _ampsNow = watts / Math.Max(Volts, 1) + siemens * Volts;
        _v[_open] = OpenCircuitV(_d, soc, _f[_health]);
        _v[_volts] = _wanted && !_dropped ? Volts : 0;
        _v[_amps] = _ampsNow;
        _v[_holds] = _dropped ? 0 : 1;
        return !fell;
    }

    private double Soc => Math.Clamp(_chargeAh / _capacityAh, 0, 1);

    /// <param name="charging">A machine feeds a bus that the battery could feed.</param>
    public void Slow(double dt, bool charging)
    {
        _chargeAh -= Takes(_d, _ampsNow) * dt / 3600;
        ChargeA = charging ? Math.Min(_d.ChargeLimitA, (_capacityAh - _chargeAh) * 6) : 0;
        _chargeAh += ChargeA * dt / 3600;

        _chargeAh = Math.Clamp(_chargeAh, 0, _capacityAh);
        _v[_charge] = Soc * 100;
        _losesAttemptInS -= dt;
        _forecastIn -= dt;
        if (_forecastIn <= 1e-9)
        {
            _forecastIn = ForecastEveryS;
            Forecast();
        }
    }

    /// <summary>When one attempt less may be left in it, s: not before the next look ahead, nor before it has sunk so far under the load of the last.</summary>
    public double NextLossS => DemandW == _foreseenW ? Math.Max(_forecastIn, _losesAttemptInS) : _forecastIn;

    private double FlatUnder(double watts, double siemens, Flat last)
    {
        if (watts != last.Watts || _f[_health] != last.Health)
        {
            (last.Watts, last.Health, last.Soc) = (watts, _f[_health], FlatAt(watts, siemens));
        }

        return last.Soc;
    }

    private void Forecast()
    {
        var soc = Soc;
        _v[_left] = _ampsNow > 0.5 ? Math.Clamp(LastsS(_d, _loadedNow, soc, FlatUnder(DemandW, 0, _flatNow), _capacityAh, DemandW), 0, LongestS) : LongestS;
        var (attempts, spareS) = _dropped ? (0, 0) : Attempts(soc);
        _v[_attempts] = attempts;
        _foreseenW = DemandW;
        _losesAttemptInS = attempts > 0 && _ampsNow > 0 ? spareS : double.PositiveInfinity;
    }

    // One after the other, each followed by its rest, in which the battery goes on carrying what is on; and how long it may wait before there is one less.
    private (int Count, double SpareS) Attempts(double soc)
    {
        // A starter takes by the square of its voltage.
        var starter = _d.AttemptW / (_d.NominalV * _d.NominalV);
        var flat = FlatUnder(DemandW, starter, _flatInAttempt);
        var (count, spare) = (0, 0.0);
        while (count < StartAttempts.Most)
        {
            soc -= Drawn(soc, starter, _attemptS);
            if (soc < flat)
            {
                break;
            }

            spare = soc - flat;
            count++;
            soc -= Drawn(soc, 0, _d.RestS);
        }

        return (count, spare * _capacityAh / Takes(_d, _ampsNow) * 3600);
    }

    private double Drawn(double soc, double siemens, double seconds)
    {
        var volts = Math.Max(Loaded(soc, DemandW, siemens), 1);
        return Takes(_d, DemandW / volts + siemens * volts) * seconds / 3600 / _capacityAh;
    }
}
