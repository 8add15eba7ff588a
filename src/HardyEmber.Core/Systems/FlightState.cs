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

    /// <summary>What the wing is asked for, as a share of what it can lift.</summary>
    public const string LiftSignal = "flight.lift-share";

    private const double RunningShare = 0.6;

    /// <summary>It is a landing where it comes down so near the place (NM), at most so fast (of the best glide) and sinking so little (ft/min).</summary>
    private const double NearNm = 1.5, LandsShare = 1.35, LandsFtPerMin = 900;

    /// <summary>Thrust so little under drag still holds its height, as a share of the weight.</summary>
    private const double HoldsExcess = -0.003;

    private readonly FlightDefinition _d;
    private readonly PlaceDefinition _place;
    private readonly RunFlight? _flight;
    private readonly PointMass _jet;
    private readonly double _headwindKt;
    private readonly int _home, _tas, _cas, _lift, _landed, _holds, _left;
    private readonly int _keeps, _height, _above, _eas, _mach, _vertical, _path, _airborne, _ground, _load;
    private readonly int _pitch, _airspeed, _temperature, _density, _tailwind, _altitude;
    private readonly Station _station;
    private readonly Switch? _leaves;
    private (int Lit, int N2, double IdlePct)[] _engines = [];
    private int[] _hydraulics = [];
    private double[] _v = [];
    private double _pitchAsked, _airspeedAsked, _homeNm;
    private bool _keepsSpeed;

    public FlightState(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_d, _station, _place, _flight) = (context.Aircraft.Flight, context.Station, context.Place, context.Header.Flight);
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
        (_landed, _holds, _left) = (s.AddFlag("flight.landed"), s.AddFlag("flight.holds"), s.AddFlag("flight.left"));
        _home = s.AddNumber("flight.home", "NM", 0.1);
        (_tas, _cas) = (s.AddNumber("flight.tas", "kt", 1), s.AddNumber("flight.cas", "kt", 1));
        _lift = s.AddNumber(LiftSignal, "", 0.01, hidden: true);
        _ = s.AddFlag("flight.all-run", context.Header.Flight is { Dead: RunFlight.NoneDead });
        (_temperature, _density) = (s.AddNumber(TemperatureSignal, "°C", 1, hidden: true), s.AddNumber(DensitySignal, "", 0.01, hidden: true));
        (_tailwind, _altitude) = (s.AddNumber(TailwindSignal, "kt", 1, hidden: true), s.AddNumber(AltitudeSignal, "ft", 10, hidden: true));
        _pitch = context.IndexOf(_d.PitchControl, "flight.pitchControl", "control");
        _airspeed = _d.SpeedControl is { } speed ? context.IndexOf(speed, "flight.speedControl", "control") : -1;
        _leaves = _d.LeaveWhen is { } leaves ? context.Switch(leaves, "flight.leaveWhen") : null;
        if (_leaves is not null && context.Explains)
        {
            context.Gate("flight.left", GateKind.Comes, "flight.leaveWhen", "The aircraft: left", Term.All(_leaves, Term.Fact("flight.airborne")), "Nobody comes back to it.",
                aside: true);
        }

        if (_flight is { } start)
        {
            Flies = true;
            (_headwindKt, _homeNm) = (start.HeadwindKt(context.Header.Conditions), start.FromNm ?? 0);
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
            (context.Reads($"{e.Id}.lit", Phase.Before), context.Reads(EngineBay.TrueSpeedSignal(e.Id), Phase.Before), context.Aircraft.EngineOf(e).IdleN2Pct))];
        _hydraulics = [.. context.Aircraft.Engines.Select(e => context.Reads($"{e.Id}.hydraulics", Phase.Before))];
        PaceS = Flies ? 0 : Asleep;
        Publish(0);
        if (Flies)
        {
            Tell();
        }
    }

    private double GroundFt => _flight?.GroundAt(_place, _homeNm) ?? _place.ElevationFt;

    private double Thrust()
    {
        var thrust = 0.0;
        foreach (var (lit, n2, idle) in _engines)
        {
            thrust += ThrustOf(_d, _v[lit] > 0.5, _v[n2], idle, _engines.Length);
        }

        return thrust;
    }

    // Each engine's share goes with the square of its speed above idle.
    private static double ThrustOf(FlightDefinition d, bool lit, double n2, double idle, int engines) =>
        !lit || n2 <= RunningShare * idle ? 0 : d.ThrustRatio(Math.Clamp((n2 - idle) / (100 - idle), 0, 1)) / engines;

    /// <summary>Thrust over the file's weight that a machine's engines would give on a standard day at sea level.</summary>
    public static double ThrustOf(Machine m)
    {
        ArgumentNullException.ThrowIfNull(m);
        return m.Aircraft.Engines.Sum(e => ThrustOf(m.Aircraft.Flight, m[$"{e.Id}.lit"] > 0.5, m[EngineBay.TrueSpeedSignal(e.Id)], m.Aircraft.EngineOf(e).IdleN2Pct,
            m.Aircraft.Engines.Count));
    }

    /// <inheritdoc/>
    public override void Move(double dt)
    {
        if (!Flies)
        {
            return;
        }

        var thrust = Thrust();
        _jet.Step(dt, Path(thrust), thrust);
        // Over the place it circles: the wind is then as much behind as against.
        _homeNm = Math.Max(0, _homeNm - dt * (_jet.TrueKt * Math.Cos(_jet.PathDeg * Math.PI / 180) - _headwindKt) / 3600);
        var sink = _jet.VerticalFtPerMin;
        if (_jet.HeightFt <= GroundFt)
        {
            Flies = false;
            _v[_homeNm <= NearNm && _jet.EasKt <= LandsShare * _jet.GlideEasKt && -sink <= LandsFtPerMin ? _landed : _ground] = 1;
            _jet.Stop(GroundFt);
        }

        Publish(sink);
    }

    /// <summary>Who leaves it leaves it for good: it is as it was then, and flies no more.</summary>
    public override void Logic()
    {
        if (Flies && _leaves is { On: true })
        {
            Flies = false;
            (_v[_left], _v[_airborne]) = (1, 0);
        }
    }

    /// <inheritdoc/>
    public override void Slow(double dt)
    {
        if (!Flies)
        {
            return;
        }

        _jet.StickShare = StickShare();
        _v[_holds] = _jet.Excess(Thrust()) > HoldsExcess ? 1 : 0;
        Tell();
    }

    private double StickShare()
    {
        var psi = 0.0;
        foreach (var pump in _hydraulics)
        {
            psi = Math.Max(psi, _v[pump]);
        }

        return ShareOf(_d, psi);
    }

    private static double ShareOf(FlightDefinition d, double psi) => d.Stick is { } stick ? Math.Clamp(psi / stick.FullPsi, stick.LeastShare, 1) : 1;

    /// <summary>The share of its rate at which a machine's jet will follow the stick at another speed: a pump that the wind turns gives as much more as that is faster.</summary>
    public static double StickShareOf(Machine m, double mach)
    {
        ArgumentNullException.ThrowIfNull(m);
        var faster = mach / Math.Max(m["flight.mach"], 0.01);
        return ShareOf(m.Aircraft.Flight, m.Aircraft.Engines.Max(e => m[$"{e.Id}.hydraulics"] * (m[$"{e.Id}.lit"] > 0.5 ? 1 : faster)));
    }

    // What is read and not flown by.
    private void Tell() => (_v[_tas], _v[_cas], _v[_home]) = (_jet.TrueKt, _jet.CasKt, _homeNm);

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
        _v[_above] = jet.HeightFt - GroundFt - _d.DecisionHeightFt;
        (_v[_eas], _v[_mach], _v[_load]) = (jet.EasKt, jet.Mach, jet.LoadFactor);
        _v[_vertical] = verticalFtPerMin;
        _v[_path] = jet.PathDeg;
        _v[_lift] = Flies ? jet.LiftShare : 0;
        _v[_temperature] = Flies ? jet.TemperatureC : _station.OatC;
        _v[_density] = Flies ? jet.RamDensityRatio : _station.DensityRatio;
        _v[_tailwind] = Flies ? 0 : _station.TailwindKt;
        _v[_altitude] = Flies ? jet.HeightFt : _station.PressureAltitudeFt;
    }
}
