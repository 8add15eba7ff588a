using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The air around the jet, where it stands or flies; and a point mass in the vertical plane, enough to trade height for speed. Drag over weight from the best-glide point:
/// D/W = ½/(L/D)·((V/V₀)² + n²·(V₀/V)²) with V, V₀ equivalent airspeeds (Anderson, <i>Aircraft Performance and Design</i>, chapter 5).
/// </summary>
public sealed class FlightState : MovingSystem
{
    /// <summary>Temperature of the air, °C.</summary>
    public const string TemperatureSignal = "ambient.temperature";

    /// <summary>Density ratio before the intakes, behind the ram compression: σ·(1 + 0.2·M²)^2.5.</summary>
    public const string DensitySignal = "ambient.density-ratio";

    /// <summary>Wind into the exhaust, kt.</summary>
    public const string TailwindSignal = "ambient.tailwind";

    /// <summary>Pressure altitude, ft.</summary>
    public const string AltitudeSignal = "ambient.pressure-altitude";

    private const double RunningShare = 0.6;
    private const double G = 9.80665;
    private const double MinLoadFactor = 0.2;
    private readonly FlightDefinition _d;
    private readonly double _elevationFt, _temperatureOffsetK;
    private readonly int _height, _above, _eas, _mach, _vertical, _path, _airborne, _ground, _load;
    private readonly int _pitch, _temperature, _density, _tailwind, _altitude;
    private readonly Station _station;
    private (int Lit, int N2, double IdlePct)[] _engines = [];
    private double _h, _speed, _gamma, _densityRatio = 1, _temperatureC, _machNow, _easKt, _ramDensityRatio;
    private double[] _v = [];

    public FlightState(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_d, _station, _elevationFt) = (context.Aircraft.Flight, context.Station, context.Place.ElevationFt);
        _temperatureOffsetK = context.Header.Conditions.OatC + Atmosphere.ZeroCelsiusK - Atmosphere.StandardTemperatureK(_station.PressureAltitudeFt);
        var s = context.Signals;
        _height = s.AddNumber("flight.height", "ft", 10);
        _above = s.AddNumber("flight.above-decision", "ft", 10);
        _eas = s.AddNumber("flight.eas", "kt", 1);
        _mach = s.AddNumber("flight.mach", "", 0.01);
        _vertical = s.AddNumber("flight.vertical-speed", "ft/min", 50);
        _path = s.AddNumber("flight.path", "°", 0.1);
        _load = s.AddNumber("flight.load-factor", "g", 0.1, 1);
        _airborne = s.AddFlag("flight.airborne");
        _ground = s.AddFlag("flight.hit-ground");
        (_temperature, _density) = (s.AddNumber(TemperatureSignal, "°C", 1, hidden: true), s.AddNumber(DensitySignal, "", 0.01, hidden: true));
        (_tailwind, _altitude) = (s.AddNumber(TailwindSignal, "kt", 1, hidden: true), s.AddNumber(AltitudeSignal, "ft", 10, hidden: true));
        _pitch = context.IndexOf(_d.PitchControl, "flight.pitchControl", "control");
        if (context.Header.Flight is { } start)
        {
            (Flies, _h) = (true, start.HeightFt);
            Refresh();
            _speed = Atmosphere.TrueFromEquivalent(start.EasKt, _densityRatio) * Atmosphere.MpsPerKnot;
            Refresh();
        }
    }

    public override bool Follows => true;

    private bool Flies
    {
        get => !Even;
        set => Even = !value;
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _v = context.Signals.Values;
        _engines = [.. context.Aircraft.Engines.Select(e =>
            (context.Reads($"{e.Id}.lit", Phase.Before), context.Reads($"{e.Id}.n2", Phase.Before), context.Aircraft.EngineOf(e).IdleN2Pct))];
        PaceS = Flies ? 0 : Asleep;
        Publish(0, 1);
    }

    private void Refresh()
    {
        var delta = Atmosphere.PressureRatio(_h);
        var t = Atmosphere.StandardTemperatureK(_h) + _temperatureOffsetK;
        _densityRatio = Atmosphere.DensityRatio(delta, t);
        _temperatureC = t - Atmosphere.ZeroCelsiusK;
        _machNow = Atmosphere.Mach(_speed, t);
        _easKt = Atmosphere.EquivalentFromTrue(_speed / Atmosphere.MpsPerKnot, _densityRatio);
        var ram = 1 + 0.2 * _machNow * _machNow;
        _ramDensityRatio = _densityRatio * ram * ram * Math.Sqrt(ram);
    }

    // The mean of the engines' speed above idle, 0 to 1, or below 0 when none runs.
    private double CoreShare()
    {
        var (above, running) = (0.0, 0);
        foreach (var (lit, n2, idle) in _engines)
        {
            if (_v[lit] > 0.5 && _v[n2] > RunningShare * idle)
            {
                above += Math.Clamp((_v[n2] - idle) / (100 - idle), 0, 1);
                running++;
            }
        }

        return running == 0 ? -1 : above / _engines.Length;
    }

    /// <inheritdoc/>
    public override void Move(double dt)
    {
        if (!Flies)
        {
            return;
        }

        var coreShare = CoreShare();
        var wanted = Math.Clamp(_v[_pitch], -60, 40) * Math.PI / 180;
        // The lift the wing can give bounds the pull: about 0.6 of the glide speed is the stall at 1 g.
        var ratio = Math.Max(_easKt, 20) / _d.GlideEasKt;
        var lift = Math.Min(_d.MaxLoadFactor, ratio * ratio / 0.36);
        var rate = Math.Clamp((wanted - _gamma) * 0.9, -0.12, 0.12);
        var load = Math.Clamp(Math.Cos(_gamma) + rate * _speed / G, MinLoadFactor, lift);
        var turn = (load - Math.Cos(_gamma)) * G / Math.Max(_speed, 20);
        var drag = 0.5 / _d.GlideRatio * (ratio * ratio + load * load / (ratio * ratio));
        var thrust = coreShare < 0 ? 0 : (_d.IdleThrustRatio + (_d.MaxThrustRatio - _d.IdleThrustRatio) * coreShare * coreShare) * _densityRatio;
        _speed = Math.Max(20, _speed + dt * G * (thrust - drag - Math.Sin(_gamma)));
        _gamma = Math.Clamp(_gamma + dt * turn, -1.2, 0.8);
        _h += dt * _speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot;
        if (_h <= _elevationFt)
        {
            _h = _elevationFt;
            Flies = false;
            _v[_ground] = 1;
            _speed = 0;
        }

        Refresh();
        Publish(_speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot * 60, load);
    }

    private void Publish(double verticalFtPerMin, double load)
    {
        _v[_airborne] = Flies ? 1 : 0;
        _v[_height] = _h;
        _v[_above] = _h - _elevationFt - _d.DecisionHeightFt;
        _v[_eas] = _easKt;
        _v[_mach] = _machNow;
        _v[_vertical] = verticalFtPerMin;
        _v[_path] = _gamma * 180 / Math.PI;
        _v[_load] = load;
        _v[_temperature] = Flies ? _temperatureC : _station.OatC;
        _v[_density] = Flies ? _ramDensityRatio : _station.DensityRatio;
        _v[_tailwind] = Flies ? 0 : _station.TailwindKt;
        _v[_altitude] = Flies ? _h : _station.PressureAltitudeFt;
    }
}
