using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>One engine in the aircraft: its controls, faults and generator on the input side, its signals on the output side.</summary>
public sealed class EngineBay : MachineSystem
{
    private readonly Switch _fuelOn, _starter, _igniter, _generator, _ignitionPower;
    private readonly double[] _throttleN2;
    private readonly int _throttle, _n2, _n1, _gas, _trueGas, _ahead, _peak, _over, _fuel, _oil, _hyd, _nozzle, _lit, _cycle, _gen, _puddle,
        _starterS, _torch, _maxPeak, _totalOver, _oilC, _fuelOns, _fuelValve;
    private readonly int _fIgniter, _fTrim, _fOil, _fBlock, _fGen;
    private double[] _v = [], _f = [];

    public EngineBay(MachineContext context, EngineSideDefinition side)
    {
        var d = context.Aircraft.Engine;
        Id = side.Id;
        Core = new Engine(d, context.Header.Conditions.OatC, context.Random($"engine-{side.Id}"));
        _fuelOn = context.Switch(side.FuelOn, $"engines.{side.Id}.fuelOn");
        _starter = context.Switch(side.StarterValve, $"engines.{side.Id}.starterValve");
        _igniter = context.Switch(side.Igniter, $"engines.{side.Id}.igniter");
        _generator = context.Switch(side.GeneratorSwitch, $"engines.{side.Id}.generatorSwitch");
        _ignitionPower = context.Switch($"bus.{side.IgniterBus}.live", $"engines.{side.Id}.igniterBus");
        var s = context.Signals;
        var throttle = s.Find(side.Throttle) ?? throw new FormatException($"engines.{side.Id}.throttle: there is no control \"{side.Throttle}\"");
        _throttle = throttle.Index;
        _throttleN2 = [.. throttle.Positions.Select(p => d.ThrottleN2Pct.TryGetValue(p, out var n2) ? n2
            : throw new FormatException($"engine.throttleN2Pct: the throttle's position \"{p}\" is missing"))];
        var oat = context.Header.Conditions.OatC;
        (_n2, _n1) = (s.AddNumber($"{Id}.n2", "%", 0.1), s.AddNumber($"{Id}.fan", "%", 0.1));
        (_gas, _trueGas) = (s.AddNumber($"{Id}.egt", "°C", 1, oat), s.AddNumber($"{Id}.egt-true", "°C", 1, oat));
        (_ahead, _peak) = (s.AddNumber($"{Id}.egt-ahead", "°C", 1, oat), s.AddNumber($"{Id}.egt-peak", "°C", 1, oat));
        (_over, _fuel) = (s.AddNumber($"{Id}.over-limit", "s", 0.1), s.AddNumber($"{Id}.fuel-flow", "lb/h", 5));
        (_oil, _hyd) = (s.AddNumber($"{Id}.oil", "psi", 1), s.AddNumber($"{Id}.hydraulics", "psi", 10));
        (_nozzle, _lit) = (s.AddNumber($"{Id}.nozzle", "%", 1), s.AddFlag($"{Id}.lit"));
        (_cycle, _gen) = (s.AddFlag($"{Id}.start-cycle"), s.AddFlag($"{Id}.generator"));
        (_puddle, _starterS) = (s.AddNumber($"{Id}.puddle", "", 0.05), s.AddNumber($"{Id}.starter-time", "s", 0.2));
        _torch = s.AddFlag($"{Id}.torching");
        (_maxPeak, _totalOver) = (s.AddNumber($"{Id}.egt-highest", "°C", 1, oat), s.AddNumber($"{Id}.over-limit-total", "s", 0.1));
        _oilC = s.AddNumber($"{Id}.oil-temperature", "°C", 1, oat);
        _fuelOns = s.AddNumber($"{Id}.fuel-ons", "", 1);
        _fuelValve = s.AddFlag($"{Id}.fuel-valve");
        _fIgniter = context.Faults.Add($"{Id}.igniter", 1);
        _fTrim = context.Faults.Add($"{Id}.fuel-trim", 1);
        _fOil = context.Faults.Add($"{Id}.oil-pump", 1);
        _fBlock = context.Faults.Add($"{Id}.inlet-blockage", 0);
        _fGen = context.Faults.Add($"{Id}.generator", 1);
    }

    public string Id { get; }
    public Engine Core { get; }
    public bool StarterValveOpen { get; private set; }
    public bool GeneratorOnline { get; private set; }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
        Publish();
    }

    public override void Logic()
    {
        if (_fuelOn.On && !Core.In.FuelOn && !Core.Lit)
        {
            _v[_fuelOns] += 1;
        }

        Core.In.FuelOn = _fuelOn.On;
        _v[_fuelValve] = _fuelOn.On ? 1 : 0;
        Core.In.Igniter = _igniter.On && _ignitionPower.On;
        Core.In.TargetN2Pct = _throttleN2[(int)_v[_throttle]];
        Core.Faults.Igniter = _f[_fIgniter];
        Core.Faults.FuelTrim = _f[_fTrim];
        Core.Faults.OilPump = _f[_fOil];
        Core.Faults.InletBlockage = _f[_fBlock];
        GeneratorOnline = Core.GeneratorReady && _generator.On && _f[_fGen] > 0.5;
        if (_starter.On && !StarterValveOpen && Core.N2Pct < 1)
        {
            Core.BeginAttempt();
        }

        StarterValveOpen = _starter.On;
        _v[_gen] = GeneratorOnline ? 1 : 0;
    }

    public override void Slow(double dt)
    {
        Core.Slow(dt);
        _v[_ahead] = Core.AheadC;
        _v[_nozzle] = Core.NozzlePct;
        _v[_puddle] = Core.Puddle;
        _v[_starterS] = Core.StarterS;
        _v[_torch] = Core.Torching ? 1 : 0;
        _v[_maxPeak] = Math.Max(_v[_maxPeak], Core.PeakC);
        _v[_totalOver] = Math.Max(_v[_totalOver], Core.OverLimitS);
        _v[_oilC] = Core.OilC;
        _v[_n1] = Core.N1Pct;
        _v[_hyd] = Core.HydraulicPsi;
    }

    /// <summary>Advances one step; the rest of the inputs have been set by the machine.</summary>
    public void Step(double duct)
    {
        Core.In.Duct = duct;
        Core.In.StarterValve = StarterValveOpen;
        Core.Step();
        Publish();
    }

    /// <summary>Writes the fast signals.</summary>
    public void Publish()
    {
        _v[_n2] = Core.N2Pct;
        _v[_gas] = Core.GaugeC;
        _v[_trueGas] = Core.GasC;
        _v[_peak] = Core.PeakC;
        _v[_over] = Core.OverLimitS;
        _v[_fuel] = Core.FuelLbPerH;
        _v[_oil] = Core.OilPsi;
        _v[_lit] = Core.Lit ? 1 : 0;
        _v[_cycle] = Core.InStartCycle ? 1 : 0;
    }
}
