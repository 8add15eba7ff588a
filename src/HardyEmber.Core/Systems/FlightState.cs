using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A point mass in the vertical plane, enough to trade height for speed. Drag over weight from the best-glide point:
/// D/W = ½/(L/D)·((V/V₀)² + n²·(V₀/V)²) with V, V₀ equivalent airspeeds (Anderson, <i>Aircraft Performance and Design</i>, chapter 5).
/// </summary>
public sealed class FlightState : MachineSystem
{
    private const double G = 9.80665;
    private const double MaxLoadFactor = 3;
    private const double MinLoadFactor = 0.2;
    private readonly FlightDefinition _d;
    private readonly double _elevationFt, _temperatureOffsetK;
    private readonly int _height, _above, _eas, _mach, _vertical, _path, _airborne, _ground, _load;
    private readonly int _pitch;
    private double _h, _speed, _gamma;
    private double[] _v = [];

    public FlightState(MachineContext context, double stationPressureAltitudeFt)
    {
        _d = context.Aircraft.Flight;
        _elevationFt = context.Place.ElevationFt;
        _temperatureOffsetK = context.Header.Conditions.OatC + Atmosphere.ZeroCelsiusK - Atmosphere.StandardTemperatureK(stationPressureAltitudeFt);
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
        _pitch = context.IndexOf(_d.PitchControl, "flight.pitchControl", "control");
        if (context.Header.Flight is { } start)
        {
            Airborne = true;
            _h = start.HeightFt;
            Refresh();
            _speed = Atmosphere.TrueFromEquivalent(start.EasKt, DensityRatio) * Atmosphere.MpsPerKnot;
            Refresh();
        }
    }

    public bool Airborne { get; private set; }
    public double HeightFt => _h;
    public double DensityRatio { get; private set; } = 1;
    public double TemperatureC { get; private set; }
    public double Mach { get; private set; }
    public double EasKt { get; private set; }

    /// <summary>Density ratio behind the intake's ram compression: σ·(1 + 0.2·M²)^2.5.</summary>
    public double RamDensityRatio { get; private set; }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        PaceS = Airborne ? 0 : Asleep;
        Publish(0, 1);
    }

    private void Refresh()
    {
        var delta = Atmosphere.PressureRatio(_h);
        var t = Atmosphere.StandardTemperatureK(_h) + _temperatureOffsetK;
        DensityRatio = Atmosphere.DensityRatio(delta, t);
        TemperatureC = t - Atmosphere.ZeroCelsiusK;
        Mach = Atmosphere.Mach(_speed, t);
        EasKt = Atmosphere.EquivalentFromTrue(_speed / Atmosphere.MpsPerKnot, DensityRatio);
        var ram = 1 + 0.2 * Mach * Mach;
        RamDensityRatio = DensityRatio * ram * ram * Math.Sqrt(ram);
    }

    /// <summary>Advances one step. <paramref name="coreShare"/> is the mean of the engines' speed above idle, 0 to 1, or below 0 when none runs.</summary>
    public void Step(double dt, double coreShare)
    {
        if (!Airborne)
        {
            return;
        }

        var wanted = Math.Clamp(_v[_pitch], -60, 40) * Math.PI / 180;
        // The lift the wing can give bounds the pull: about 0.6 of the glide speed is the stall at 1 g.
        var ratio = Math.Max(EasKt, 20) / _d.GlideEasKt;
        var lift = Math.Min(MaxLoadFactor, ratio * ratio / 0.36);
        var rate = Math.Clamp((wanted - _gamma) * 0.9, -0.12, 0.12);
        var load = Math.Clamp(Math.Cos(_gamma) + rate * _speed / G, MinLoadFactor, lift);
        var turn = (load - Math.Cos(_gamma)) * G / Math.Max(_speed, 20);
        var drag = 0.5 / _d.GlideRatio * (ratio * ratio + load * load / (ratio * ratio));
        var thrust = coreShare < 0 ? 0 : (_d.IdleThrustRatio + (_d.MaxThrustRatio - _d.IdleThrustRatio) * coreShare * coreShare) * DensityRatio;
        _speed = Math.Max(20, _speed + dt * G * (thrust - drag - Math.Sin(_gamma)));
        _gamma = Math.Clamp(_gamma + dt * turn, -1.2, 0.8);
        _h += dt * _speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot;
        if (_h <= _elevationFt)
        {
            _h = _elevationFt;
            Airborne = false;
            _v[_ground] = 1;
            _speed = 0;
        }

        Refresh();
        Publish(_speed * Math.Sin(_gamma) / Atmosphere.MetresPerFoot * 60, load);
    }

    private void Publish(double verticalFtPerMin, double load)
    {
        _v[_airborne] = Airborne ? 1 : 0;
        _v[_height] = _h;
        _v[_above] = _h - _elevationFt - _d.DecisionHeightFt;
        _v[_eas] = EasKt;
        _v[_mach] = Mach;
        _v[_vertical] = verticalFtPerMin;
        _v[_path] = _gamma * 180 / Math.PI;
        _v[_load] = load;
    }
}
