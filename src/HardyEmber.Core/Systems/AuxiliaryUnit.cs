using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The auxiliary unit: spun up from a hydraulic accumulator, governed, gives air when on speed and below its ceiling.
/// Speed in %, gas temperature in °C, pressure in psi.
/// </summary>
public sealed class AuxiliaryUnit : MachineSystem
{
    private const double GovernorGain = 0.8;
    private readonly AuxiliaryUnitDefinition _d;
    private readonly Switch _run, _stop, _generator;
    private readonly Load _control;
    private readonly double _ambientC, _accelPctPerS;
    private readonly int _n, _gas, _ready, _running, _left, _accumulator, _power;
    private double _speed, _gasC, _psi, _stopClock;
    private bool _started, _wasWanted, _selfStopped;
    private double[] _v = [], _f = [];

    public AuxiliaryUnit(MachineContext context, AuxiliaryUnitDefinition definition)
    {
        _d = definition;
        _run = context.Switch(_d.Run, "auxiliaryUnit.run");
        _stop = context.Switch(_d.StopWhen, "auxiliaryUnit.stopWhen");
        _generator = context.Switch(_d.GeneratorSwitch, "auxiliaryUnit.generatorSwitch");
        _control = context.AddLoad("auxiliary-unit-control", _d.Bus, 120, _run);
        _ambientC = context.Header.Conditions.OatC;
        _gasC = _ambientC;
        // Nitrogen precharge loses pressure with temperature; crews top up, but not fully.
        _psi = _d.AccumulatorPsi * (1 - 0.0012 * Math.Max(0, 15 - _ambientC)) * context.Random("accumulator").Between(0.97, 1.0);
        _accelPctPerS = AccelerationFor(_d);
        var s = context.Signals;
        _n = s.AddNumber("aux.n", "%", 0.1);
        _gas = s.AddNumber("aux.gas", "°C", 1, _gasC);
        _ready = s.AddFlag("aux.ready");
        _running = s.AddFlag("aux.running");
        _left = s.AddNumber("aux.left", "s", 0.2);
        _accumulator = s.AddNumber("aux.accumulator", "psi", 5, _psi);
        _power = context.Faults.Add("aux.power", 1);
    }

    public bool Ready { get; private set; }

    public bool GeneratorOnline => Ready && _d.GeneratorW > 0 && _generator.On;

    /// <summary>The constant acceleration that, followed by the governor's approach, reaches the ready speed in the time given.</summary>
    private static double AccelerationFor(AuxiliaryUnitDefinition d)
    {
        double low = 1, high = 40;
        for (var i = 0; i < 60; i++)
        {
            var rate = (low + high) / 2;
            var knee = 100 - rate / GovernorGain;
            var time = knee <= 0 ? 0 : knee / rate + Math.Log(rate / GovernorGain / (100 - d.ReadyPct)) / GovernorGain;
            (low, high) = time > d.ReadyS ? (rate, high) : (low, rate);
        }

        return low;
    }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
    }

    public override void Logic()
    {
        var wanted = _run.On && _control.Powered;
        if (!_run.On)
        {
            _selfStopped = false;
        }

        if (wanted && !_wasWanted && !_started && !_selfStopped && _psi >= _d.AccumulatorMinPsi)
        {
            _started = true;
            _psi -= _d.AccumulatorUsePsi;
        }

        if (!_run.On || _selfStopped)
        {
            _started = false;
        }

        _wasWanted = wanted;
    }

    /// <summary>Advances one 20 ms step.</summary>
    public void Step(double dt)
    {
        if (!_started && _speed <= 0)
        {
            return;
        }

        if (_started)
        {
            var accel = Math.Min(_accelPctPerS * _f[_power], (100 - _speed) * GovernorGain);
            // A sick unit hangs: it cannot pass the speed at which its starter lets go.
            _speed += dt * (_f[_power] < 0.4 && _speed > 45 ? 0.1 * (45 - _speed) : accel);
            var target = _speed < 8 ? _ambientC : _speed < 88 ? _d.PeakC / Math.Max(0.5, _f[_power]) : _d.SettleC;
            _gasC += dt / 2.2 * (target - _gasC);
        }
        else
        {
            _speed = Math.Max(0, _speed - dt * (2 + _speed * 0.09));
            _gasC += dt / 25 * (_ambientC - _gasC);
        }

        Ready = _started && _speed >= _d.ReadyPct;
        _v[_n] = _speed;
        _v[_gas] = _gasC;
        _v[_ready] = Ready ? 1 : 0;
    }

    public override void Slow(double dt)
    {
        _v[_running] = _started ? 1 : 0;
        _v[_left] = _started && !Ready ? Math.Max(0, (_d.ReadyPct - _speed) / (_accelPctPerS * Math.Max(0.05, _f[_power]))) : 0;
        _v[_accumulator] = _psi;
        if (Ready)
        {
            // The running unit pumps its own accumulator up again within about a minute.
            _psi += dt / 30 * (_d.AccumulatorPsi - _psi);
        }

        _stopClock = _stop.On && _started ? _stopClock + dt : 0;
        if (_stopClock >= _d.StopAfterS)
        {
            _selfStopped = true;
            _started = false;
        }
    }
}
