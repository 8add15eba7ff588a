using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The air around the jet, where it stands or flies; and its flight in the vertical plane (<see cref="PointMass"/>), enough to trade height for speed.</summary>
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
    private readonly FlightDefinition _d;
    private readonly double _elevationFt;
    private readonly PointMass _jet;
    private readonly int _keeps, _height, _above, _eas, _mach, _vertical, _path, _airborne, _ground, _load;
    private readonly int _pitch, _airspeed, _temperature, _density, _tailwind, _altitude;
    private readonly Station _station;
    private (int Lit, int N2, double IdlePct)[] _engines = [];
    private double[] _v = [];
    private double _pitchAsked, _airspeedAsked;
    private bool _keepsSpeed;

    public FlightState(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_d, _station, _elevationFt) = (context.Aircraft.Flight, context.Station, context.Place.ElevationFt);
        _jet = JetOf(context.Aircraft, context.Header, _station);
        var s = context.Signals;
        _height = s.AddNumber("flight.height", "ft", 10);
        _above = s.AddNumber("flight.above-decision", "ft", 10);
        _eas = s.AddNumber("flight.eas", "kt", 1);
        _mach = s.AddNumber("flight.mach", "", 0.01);
        _vertical = s.AddNumber("flight.vertical-speed", "ft/min", 50);
        _path = s.AddNumber("flight.path", "°", 0.1);
        _load = s.AddNumber("flight.load-factor", "g", 0.1, 1);
        _keeps = s.AddFlag("flight.keeps-speed");
        _airborne = s.AddFlag("flight.airborne");
        _ground = s.AddFlag("flight.hit-ground");
        _ = s.AddFlag("flight.all-run", context.Header.Flight is { Dead: RunFlight.NoneDead });
        (_temperature, _density) = (s.AddNumber(TemperatureSignal, "°C", 1, hidden: true), s.AddNumber(DensitySignal, "", 0.01, hidden: true));
        (_tailwind, _altitude) = (s.AddNumber(TailwindSignal, "kt", 1, hidden: true), s.AddNumber(AltitudeSignal, "ft", 10, hidden: true));
        _pitch = context.IndexOf(_d.PitchControl, "flight.pitchControl", "control");
        _airspeed = _d.SpeedControl is { } speed ? context.IndexOf(speed, "flight.speedControl", "control") : -1;
        if (context.Header.Flight is { } start)
        {
            Flies = true;
            _jet.Begin(start.HeightFt, start.EasKt);
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
        Publish(0);
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
        var thrust = coreShare < 0 ? 0 : _d.IdleThrustRatio + (_d.MaxThrustRatio - _d.IdleThrustRatio) * coreShare * coreShare;
        _jet.Step(dt, Path(thrust), thrust);
        var sink = _jet.VerticalFtPerMin;
        if (_jet.HeightFt <= _elevationFt)
        {
            Flies = false;
            _v[_ground] = 1;
            _jet.Stop(_elevationFt);
        }

        Publish(sink);
    }

    // What was asked for last is flown: the path, or the path that keeps the speed.
    private double Path(double thrust)
    {
        var (pitch, airspeed) = (_v[_pitch], _airspeed < 0 ? 0 : _v[_airspeed]);
        _keepsSpeed = airspeed > 0 && (airspeed != _airspeedAsked || _keepsSpeed && pitch == _pitchAsked);
        (_pitchAsked, _airspeedAsked) = (pitch, airspeed);
        _v[_keeps] = _keepsSpeed ? 1 : 0;
        return _keepsSpeed ? _jet.PathFor(airspeed, thrust) : pitch;
    }

    /// <summary>The jet of a run: today's weight where its loading is told, and today's air.</summary>
    public static PointMass JetOf(AircraftDefinition aircraft, RunHeader header, Station station)
    {
        ArgumentNullException.ThrowIfNull(aircraft);
        ArgumentNullException.ThrowIfNull(header);
        ArgumentNullException.ThrowIfNull(station);
        var weight = header.Loading is { } loading ? aircraft.Numbers.EmptyLb + loading.FuelLb + loading.StoresLb : aircraft.Flight.MassLb;
        return new PointMass(aircraft.Flight, weight, header.Conditions.OatC + Atmosphere.ZeroCelsiusK - Atmosphere.StandardTemperatureK(station.PressureAltitudeFt));
    }

    private void Publish(double verticalFtPerMin)
    {
        var jet = _jet;
        _v[_airborne] = Flies ? 1 : 0;
        _v[_height] = jet.HeightFt;
        _v[_above] = jet.HeightFt - _elevationFt - _d.DecisionHeightFt;
        (_v[_eas], _v[_mach], _v[_load]) = (jet.EasKt, jet.Mach, jet.LoadFactor);
        _v[_vertical] = verticalFtPerMin;
        _v[_path] = jet.PathDeg;
        _v[_temperature] = Flies ? jet.TemperatureC : _station.OatC;
        _v[_density] = Flies ? jet.RamDensityRatio : _station.DensityRatio;
        _v[_tailwind] = Flies ? 0 : _station.TailwindKt;
        _v[_altitude] = Flies ? jet.HeightFt : _station.PressureAltitudeFt;
    }
}
