using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The inertial set: aligns as <see cref="Alignment"/> says, from a start position that it is given or remembers, then navigates with the errors it was
/// left with, which grow as <see cref="InertialErrors"/> says, or are held by satellites. Angles in degrees, time in seconds.
/// </summary>
public sealed class InertialSet : MachineSystem
{
    /// <summary>What the unit is doing, in the order it does it.</summary>
    public enum Stage { Off, WarmUp, Levelling, Heading, Navigate }

    /// <summary>What the mode signal says.</summary>
    private enum Mode { Off, Standby, Field, Ship, Stored, InFlight, Navigate, Aided }

    private static readonly string[] Modes = ["off", "standby", "field", "ship", "stored", "in-flight", "navigate", "aided"];

    /// <summary>Satellites are found after so long; they hold the position to so much, m, which it reaches with this time constant.</summary>
    private const double AcquireS = 20, SatelliteM = 5, BoundS = 10;

    /// <summary>So much later than a healthy set would be good, one that is not says so.</summary>
    private const double StuckAfterS = 20;

    /// <summary>A tow turns the jet, and moves it as far as this for each degree, m.</summary>
    private const double TowMPerDeg = 15;

    private readonly InertialDefinition _d;
    private readonly Load _load;
    private readonly Switch _field, _ship, _standby, _navigate, _off, _still, _feed, _aid, _take, _airborne;
    private readonly int _certainty, _sigma, _left, _aligning, _good, _nav, _takenAt, _lost, _error, _headingOff, _stage, _mode, _way, _aligned, _navigated, _offered,
        _offeredLeft, _paused, _aided, _stuck;
    private readonly int _drifts, _towed, _satellites, _state;
    private readonly InertialDraw _draw;
    private readonly double[] _x = new double[InertialErrors.States], _drift = new double[3];
    private readonly bool _stored, _afloat;
    private readonly double _latitudeDeg, _latitude, _longitudeDeg, _oatC, _warmUpS;
    private Alignment _alignment;
    private (AlignmentMode Way, double LatitudeOff, double Drifts) _alignedBy;
    private double _unpowered, _found, _stuckFromS;
    private (double North, double East) _start;
    private (double Latitude, double Longitude) _entered;
    private int _entry = -1, _dial = -1;
    private double[] _v = [], _f = [];

    public InertialSet(MachineContext context, InertialDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        var selector = context.Aircraft.Controls.FirstOrDefault(c => c.Id == _d.Selector);
        Switch At(string position) => context.Switch(selector?.Positions.Contains(position) == true ? $"{_d.Selector} is {position}" : Never, "inertial.selector");
        (_off, _standby, _field, _ship) = (context.Switch($"{_d.Selector} is off", "inertial.selector"), At("standby"),
            context.Switch($"{_d.Selector} is field", "inertial.selector"), At("ship"));
        _navigate = context.Switch($"{_d.Selector} is navigate", "inertial.selector");
        _still = context.Switch(context.Aircraft.BrakeAccumulator is null ? null : "brake.holding", "inertial");
        _feed = context.Switch(_d.Feed ?? Never, "inertial.feed");
        _aid = context.Switch(_d.Aided ?? Never, "inertial.aided");
        _take = context.Switch(_d.Stored?.Take ?? Never, "inertial.stored.take");
        _airborne = context.Switch("flight.airborne", "inertial");
        _load = context.AddLoad("inertial-set", "Inertial set", _d.Bus, _d.Watts, context.Switch($"{_d.Selector} is not off", "inertial.selector"), _d.HoldUpS);
        _drifts = context.Faults.Add("ins.drift", 1);
        _towed = _d.Stored is null ? -1 : context.Faults.Add("ins.towed", 0);
        _satellites = _d.Aided is null ? -1 : context.Faults.Add("ins.satellites", 1);
        var s = context.Signals;
        _certainty = s.AddNumber("ins.certainty", "%", 0.1);
        _sigma = s.AddNumber(HeadingError, "°", 0.001, _d.InitialHeadingDeg);
        _left = s.AddNumber("ins.left", "s", 1);
        _aligning = s.AddFlag("ins.aligning");
        _good = s.AddFlag("ins.good");
        _nav = s.AddFlag("ins.navigating");
        _takenAt = s.AddNumber("ins.taken-at", "°", 0.001, _d.InitialHeadingDeg);
        _lost = s.AddNumber("ins.lost", "", 1);
        _error = s.AddNumber("ins.position-error", "NM", 0.01, Nothing);
        _headingOff = s.AddNumber("ins.heading-off", "°", 0.1, Nothing);
        _stage = s.AddNumber("ins.stage", "", 1);
        _mode = s.AddPositions("ins.mode", Modes, 0);
        _way = s.AddNumber(AlignedBy, "", 1, hidden: true);
        _aligned = s.AddNumber(AlignedFor, "s", 1);
        _navigated = s.AddNumber(NavigatedFor, "s", 1);
        _offered = s.AddFlag(StoredOffered);
        _offeredLeft = s.AddNumber("ins.stored-left", "s", 1, Nothing);
        _paused = s.AddFlag("ins.paused");
        _aided = s.AddFlag("ins.aided");
        _stuck = s.AddFlag("ins.stuck");
        _state = s.AddNumber(StateSignal(0), "", 1, hidden: true);
        for (var i = 1; i < InertialErrors.States + _drift.Length; i++)
        {
            s.AddNumber(StateSignal(i), "", 1, hidden: true);
        }

        (_latitudeDeg, _longitudeDeg, _oatC) = (context.Station.Spot.LatitudeDeg, context.Station.Spot.LongitudeDeg, context.Soak.SetC);
        _latitude = _latitudeDeg * Math.PI / 180;
        (_stored, _afloat) = (_d.Stored is not null && context.Header.Parked is { HeadingStored: true } && context.Place.Ship is null, context.Place.Ship is not null);
        _warmUpS = Alignment.WarmUp(_d, _oatC);
        _alignedBy = (AlignmentMode.Field, 0, 1);
        _alignment = new Alignment(_d, _latitudeDeg, _oatC);
        _draw = new InertialDraw(context.Random(InertialDraw.Stream), _d);

        if (context.Explains)
        {
            Explain(context);
        }
    }

    /// <summary>Value of what means nothing now: gauges show a dash from here on.</summary>
    public const double Nothing = 9999;

    /// <summary>Signal with the seconds since the alignment began; it stands when the set navigates.</summary>
    public const string AlignedFor = "ins.aligned";

    /// <summary>Signal with the seconds since navigate was taken.</summary>
    public const string NavigatedFor = "ins.navigated";

    /// <summary>The stored heading can be taken now: for a moment after the self-test.</summary>
    public const string StoredOffered = "ins.stored-offered";

    /// <summary>Signal with the <see cref="AlignmentMode"/> that runs, or ran.</summary>
    public const string AlignedBy = "ins.way";

    /// <summary>Signal with the heading error, degrees, 1 sigma.</summary>
    public const string HeadingError = "ins.heading-error";

    private const string Never = "time.running and not time.running";

    /// <summary>Signals with the error state of <see cref="InertialErrors"/>, and behind it the three drifts.</summary>
    public static string StateSignal(int index) => $"ins.state-{index}";

    private void Explain(MachineContext context)
    {
        var power = Term.Fact("load.inertial-set");
        var grounds = new List<Term> { Term.All(_still, Term.Fact("not place.ship")) };
        if (_d.ShipMinutes is not null)
        {
            grounds.Add(Term.All(_ship, _feed));
        }

        if (_d.Aided is not null)
        {
            grounds.Add(Term.All(_airborne, _aid));
            context.Gate("ins.aided", GateKind.Comes, "inertial", "Inertial set: held by satellites", Term.All(Term.Fact("ins.navigating"), _aid), "Give the satellites time.");
        }

        if (_d.Stored is not null)
        {
            context.Gate(StoredOffered, GateKind.Comes, "inertial", "Stored heading offered", Term.All(power, _field, Term.Fact("ins.stage > 1")),
                "Only where the last shutdown stored it, in the moment after the set's self-test: the window has passed, or nothing was stored.");
        }

        context.Gate("ins.aligning", GateKind.Comes, "inertial", "Inertial set: aligning", Term.All(power, _d.ShipMinutes is null ? _field : Term.Any(_field, _ship)));
        context.Gate("ins.aligning", GateKind.Ends, "inertial", "Inertial set: switched off", _standby.Text == Never ? _off : Term.Any(_off, _standby));
        context.Gate("ins.good", GateKind.Comes, "inertial", "Inertial set: good alignment", Term.All(Term.Fact("ins.aligning or ins.good"), Term.Any([.. grounds])),
            "Let it align: do not move the jet.");
        context.Gate("ins.navigating", GateKind.Comes, "inertial", "Inertial set: navigating", Term.All(power, _navigate, Term.Fact("ins.stage > 2")));
        context.Explained([_standby, _ship, _feed, _aid, _take, _airborne]);
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        if (_d.Position is { } position)
        {
            _entry = context.IndexOf(position, "inertial.position", "control");
            if (context.Signals.Find(Controls.LatitudeOf(position)) is null)
            {
                context.Wrong("inertial.position", $"\"{position}\" is no control of the kind position");
                _entry = -1;
            }
        }

        if (_d.LatitudeDial is { } dial)
        {
            _dial = context.IndexOf(dial, "inertial.latitudeDial", "control");
        }
    }

    public override void Logic()
    {
        if (_off.On)
        {
            Lose();
        }
    }

    private Stage Now => (Stage)(int)_v[_stage];

    private double TowedDeg => _towed < 0 ? 0 : _f[_towed];

    private bool Satellites => _aid.On && _f[_satellites] > 0.5;

    private AlignmentMode Way => (AlignmentMode)(int)_v[_way];

    private void Lose()
    {
        if (Now >= Stage.Levelling)
        {
            _v[_lost] += 1;
        }

        _v[_stage] = (int)Stage.Off;
        _v[_mode] = (int)Mode.Off;
        _v[_way] = (int)AlignmentMode.Field;
        _v[_aligned] = _v[_navigated] = 0;
        _v[_certainty] = 0;
        _v[_sigma] = _d.InitialHeadingDeg;
        _v[_left] = 0;
        _v[_aligning] = _v[_good] = _v[_nav] = _v[_offered] = _v[_paused] = _v[_aided] = _v[_stuck] = 0;
        _v[_error] = _v[_headingOff] = _v[_offeredLeft] = Nothing;
    }

    public override void Slow(double dt)
    {
        if (!_load.Powered)
        {
            _unpowered += dt;
            if (Now != Stage.Off && _unpowered > _d.HoldUpS)
            {
                Lose();
            }

            PaceS = Now == Stage.Off ? Asleep : 0;
            return;
        }

        _unpowered = 0;
        PaceS = Drifting;
        var begins = _field.On || _ship.On;
        if (Now == Stage.Navigate && !begins && !_standby.On)
        {
            Navigate(dt);
            return;
        }

        if (Now > Stage.WarmUp && (_standby.On || Now == Stage.Navigate || begins && OtherBase()))
        {
            Again();
        }

        if (_standby.On)
        {
            WarmUp(dt);
            return;
        }

        if (_navigate.On && Now == Stage.Heading)
        {
            Take();
            return;
        }

        if (!begins && Now == Stage.Off)
        {
            PaceS = Asleep;
            return;
        }

        if (!_still.On && !_airborne.On && Now >= Stage.Levelling)
        {
            Lose();
            return;
        }

        Align(dt);
    }

    // Field was chosen where ship was, or the other way round.
    private bool OtherBase() => !_airborne.On && Way == AlignmentMode.Ship != _ship.On;

    /// <summary>The alignment begins anew; the gyros stay warm.</summary>
    private void Again()
    {
        Lose();
        _v[_aligned] = _warmUpS;
        _v[_stage] = (int)Stage.WarmUp;
    }

    private void WarmUp(double dt)
    {
        _v[_aligned] = Math.Min(_warmUpS, _v[_aligned] + dt);
        (_v[_stage], _v[_mode], _v[_aligning]) = ((int)Stage.WarmUp, (int)Mode.Standby, 0);
        Situate();
        PaceS = _v[_aligned] < _warmUpS ? Math.Clamp(_warmUpS - _v[_aligned], 0, Drifting) : Asleep;
    }

    private void Take()
    {
        _v[_stage] = (int)Stage.Navigate;
        _v[_mode] = (int)Mode.Navigate;
        _v[_nav] = 1;
        _v[_aligning] = _v[_left] = _v[_offered] = _v[_stuck] = _v[_paused] = 0;
        _v[_takenAt] = _v[_sigma];
        _v[_offeredLeft] = Nothing;
        TakeDrift();
        _draw.Begin(_x, HeadingOff(), _start.North, _start.East);
        _found = 0;
        Tell();
    }

    // A platform turned for another latitude than its own goes round by the difference of the earth's turns.
    private void TakeDrift()
    {
        for (var i = 0; i < _drift.Length; i++)
        {
            _drift[i] = _draw.Drift[i] * _f[_drifts];
        }

        if (_dial >= 0)
        {
            _drift[^1] += InertialErrors.EarthRate * (Math.Sin(_latitude) - Math.Sin(_v[_dial] * Math.PI / 180));
        }
    }

    private double HeadingOff() => _draw.HeadingOff(_alignment, _v[_sigma], _latitude, _f[_drifts]) + (Way == AlignmentMode.Stored ? TowedDeg * Math.PI / 180 : 0);

    private void Align(double dt)
    {
        var way = _airborne.On ? AlignmentMode.InFlight : Way == AlignmentMode.Stored ? Way : _ship.On ? AlignmentMode.Ship : _field.On ? AlignmentMode.Field : Way;
        var clock = _v[_aligned];
        if (way == AlignmentMode.Field && _v[_offered] > 0 && _take.On)
        {
            way = AlignmentMode.Stored;
        }

        _v[_way] = (int)way;
        var off = Situate();
        if (_alignedBy != (way, off, _f[_drifts]))
        {
            _alignedBy = (way, off, _f[_drifts]);
            _alignment = new Alignment(_d, _latitudeDeg, _oatC, way, off, _f[_drifts]);
            _stuckFromS = new Alignment(_d, _latitudeDeg, _oatC, way).GoodAtS + StuckAfterS;
        }

        // Warming needs nobody; what follows needs a base that stands, or that says how it moves.
        var goes = way switch { AlignmentMode.Ship => _feed.On, AlignmentMode.InFlight => Satellites, _ => !_afloat };
        clock = goes ? clock + dt : Math.Max(clock, Math.Min(clock + dt, _warmUpS));
        _v[_aligned] = clock;
        _v[_paused] = !goes && clock >= _warmUpS ? 1 : 0;
        var stage = clock < _warmUpS ? Stage.WarmUp : clock < _alignment.HeadingFromS ? Stage.Levelling : Stage.Heading;
        _v[_stage] = (int)stage;
        _v[_mode] = (int)(way switch { AlignmentMode.Ship => Mode.Ship, AlignmentMode.Stored => Mode.Stored, AlignmentMode.InFlight => Mode.InFlight, _ => Mode.Field });
        _v[_aligning] = 1;
        var windowEnds = _warmUpS + (_d.Stored?.WindowS ?? 0);
        _v[_offered] = _stored && way == AlignmentMode.Field && clock >= _warmUpS && clock < windowEnds ? 1 : 0;
        _v[_offeredLeft] = _v[_offered] > 0 ? windowEnds - clock : Nothing;
        _v[_left] = Math.Clamp(_alignment.GoodAtS - clock, 0, Nothing);
        _v[_certainty] = _alignment.CertaintyPct(clock);
        if (stage == Stage.Heading)
        {
            _v[_sigma] = _alignment.HeadingDeg(clock);
            _v[_good] = clock >= _alignment.GoodAtS - 1e-9 ? 1 : 0;
            _v[_headingOff] = Math.Abs(HeadingOff()) * 180 / Math.PI;
            _v[_stuck] = _v[_good] < 1 && _f[_drifts] > 1 && clock > _stuckFromS ? 1 : 0;
        }

        PaceS = Math.Min(_v[_left] > 0 ? _v[_left] : Drifting, Math.Min(To(_warmUpS), Math.Min(To(windowEnds), Math.Min(To(_alignment.HeadingFromS), Drifting))));
        double To(double edge) => edge > clock ? edge - clock : Drifting;
    }

    /// <summary>How far the position is off from which it starts: what was entered, or what it remembers.</summary>
    /// <returns>The part of it in latitude, degrees.</returns>
    private double Situate()
    {
        if (_entry < 0 || _afloat || _airborne.On)
        {
            _start = (0, 0);
        }
        else if (_v[_entry] > 0)
        {
            _entered = (_v[_entry + 1], _v[_entry + 2]);
            const double MetresPerDeg = InertialErrors.EarthRadiusM * Math.PI / 180;
            _start = ((_entered.Latitude - _latitudeDeg) * MetresPerDeg, Math.IEEERemainder(_entered.Longitude - _longitudeDeg, 360) * MetresPerDeg * Math.Cos(_latitude));
        }
        else
        {
            var (north, east) = _draw.Memory;
            _start = (north + TowedDeg * TowMPerDeg, east);
        }

        _v[_error] = Math.Min(Math.Sqrt(_start.North * _start.North + _start.East * _start.East) / InertialErrors.MetresPerNauticalMile, Nothing - 1);
        return _entry >= 0 && _v[_entry] > 0 && !_afloat && !_airborne.On ? _entered.Latitude - _latitudeDeg : 0;
    }

    private void Navigate(double dt)
    {
        _v[_navigated] += dt;
        if (_entry >= 0 && _v[_entry] > 0 && _entered != (_v[_entry + 1], _v[_entry + 2]))
        {
            _ = Situate(); // an update: it believes what is typed
            (_x[InertialErrors.North], _x[InertialErrors.East]) = _start;
        }

        if (_dial >= 0)
        {
            TakeDrift();
        }

        InertialErrors.Advance(_x, _drift, _latitude, 0, 0, dt);
        _found = Satellites ? _found + dt : 0;
        _v[_aided] = _found >= AcquireS ? 1 : 0;
        _v[_mode] = (int)(_v[_aided] > 0 ? Mode.Aided : Mode.Navigate);
        if (_v[_aided] > 0)
        {
            var kept = Math.Exp(-dt / BoundS);
            for (var i = 0; i < InertialErrors.Heading; i++)
            {
                var held = i <= InertialErrors.East ? SatelliteM : 0;
                _x[i] = held + (_x[i] - held) * kept;
            }
        }

        Tell();
        PaceS = _aid.On && _v[_aided] < 1 ? Math.Clamp(AcquireS - _found, 0, Drifting) : Drifting;
    }

    private void Tell()
    {
        _v[_error] = Math.Min(InertialErrors.OffNm(_x), Nothing - 1);
        _v[_headingOff] = Math.Abs(_x[InertialErrors.Heading]) * 180 / Math.PI;
        for (var i = 0; i < _x.Length; i++)
        {
            _v[_state + i] = _x[i];
        }

        for (var i = 0; i < _drift.Length; i++)
        {
            _v[_state + _x.Length + i] = _drift[i];
        }
    }
}
