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
    private const double MostAttempts = 99;
    private readonly BatteryDefinition _d;
    private readonly double _coldOhm, _capacityAh;
    private readonly int _volts, _open, _amps, _charge, _left, _attempts, _holds, _health;
    private double _chargeAh, _ampsNow;
    private readonly Flat _flatNow = new(), _flatInAttempt = new();

    // The last answer: loads seldom change.
    private sealed class Flat
    {
        public double Watts = double.NaN, Health, Soc;
    }
    private bool _dropped;
    private double _forecastIn, _losesAttemptInS, _foreseenW;
    private double[] _v = [], _f = [];

    public Battery(MachineContext context, BatteryDefinition definition)
    {
        _d = definition;
        var temperatureC = context.Header.Conditions.OatC;
        (_capacityAh, _coldOhm) = (CapacityAh(_d, temperatureC), ResistanceOhm(_d, temperatureC, 1));
        var s = context.Signals;
        _volts = s.AddNumber("battery.volts", "V", 0.1);
        _open = s.AddNumber("battery.open-volts", "V", 0.1);
        _amps = s.AddNumber("battery.amps", "A", 1);
        _charge = s.AddNumber("battery.charge", "%", 1);
        _left = s.AddNumber("battery.left", "s", 1, LongestS);
        _attempts = s.AddNumber("battery.attempts", "", 1, MostAttempts);
        _holds = s.AddFlag("battery.holds", true);
        _health = context.Faults.Add("battery.health", 1);
        // A parked jet's battery is rarely quite full; one that has just flown a little less so.
        var share = context.Header.Beginning == "turnaround" ? context.Random("battery-left").Between(0.72, 0.95) : context.Random("battery").Between(0.9, 1.0);
        _chargeAh = _capacityAh * share;

        if (context.Explains)
        {
            context.Gate("battery.volts", GateKind.Moves, "electrics.battery", "Battery: volts", Term.Fact("battery.holds"), "Take loads off, or ask for ground power.");
            context.Gate("battery.holds", GateKind.Comes, "electrics.battery", "Battery contactor: holds", Term.All(), "It fell out for low volts: battery off and on again, with fewer loads.");
        }
    }

    public double DemandW { get; set; }

    /// <summary>Terminal voltage under the present load.</summary>
    public double Volts { get; private set; }

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
        return d.NominalV * (0.95 + 0.12 * soc) * (0.7 + 0.3 * health) * (soc < 0.08 ? 0.75 + soc / 0.32 : 1);
    }

    /// <summary>Terminal voltage under a constant-power load, or 0 where the battery cannot deliver it.</summary>
    public static double VoltageUnderLoad(double openCircuitV, double resistanceOhm, double watts)
    {
        var root = openCircuitV * openCircuitV - 4 * watts * resistanceOhm;
        return root < 0 ? 0 : (openCircuitV + Math.Sqrt(root)) / 2;
    }

    private double Loaded(double soc, double watts) =>
        VoltageUnderLoad(OpenCircuitV(_d, soc, _f[_health]), Worn(_coldOhm, soc, _f[_health]), watts);

    /// <summary>State of charge at which a load pulls the voltage down to the drop-out mark; above 1 where it cannot be carried at all.</summary>
    public double FlatAt(double watts)
    {
        if (Loaded(1, watts) < _d.DropOutV)
        {
            return 1.01;
        }

        double low = 0, high = 1;
        for (var i = 0; i < 16; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = Loaded(middle, watts) < _d.DropOutV ? (middle, high) : (low, middle);
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

    /// <summary>Solves for the voltage under <see cref="DemandW"/>; false when the contactor falls out.</summary>
    public bool Solve()
    {
        var soc = Soc;
        var watts = _dropped ? 0 : DemandW;
        Volts = Loaded(soc, watts);
        var fell = Volts < _d.DropOutV && _wanted && !_dropped;
        _dropped |= fell;
        _ampsNow = watts / Math.Max(Volts, 1);
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
        _chargeAh -= _ampsNow * dt / 3600;
        if (charging)
        {
            _chargeAh += Math.Min(_d.ChargeLimitA, (_capacityAh - _chargeAh) * 6) * dt / 3600;
        }

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

    private double FlatAt(double watts, Flat last)
    {
        if (watts != last.Watts || _f[_health] != last.Health)
        {
            (last.Watts, last.Health, last.Soc) = (watts, _f[_health], FlatAt(watts));
        }

        return last.Soc;
    }

    private void Forecast()
    {
        var soc = Soc;
        _v[_left] = _ampsNow > 0.5 ? Math.Clamp((soc - FlatAt(DemandW, _flatNow)) * _capacityAh / _ampsNow * 3600, 0, LongestS) : LongestS;
        var watts = DemandW + _d.AttemptW;
        var each = watts / _d.NominalV * _d.AttemptS / 3600;
        var attempts = (soc - FlatAt(watts, _flatInAttempt)) * _capacityAh / each;
        _v[_attempts] = Math.Clamp(Math.Floor(attempts), 0, MostAttempts);
        _foreseenW = DemandW;
        _losesAttemptInS = attempts > 0 && _ampsNow > 0 ? (attempts - Math.Floor(attempts)) * each / _ampsNow * 3600 : double.PositiveInfinity;
    }
}
