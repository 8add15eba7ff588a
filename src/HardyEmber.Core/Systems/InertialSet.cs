using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The inertial set: aligns in field mode as <see cref="Alignment"/> says, then navigates with the errors it was left with, which grow as
/// <see cref="InertialErrors"/> says. Angles in degrees, time in seconds.
/// </summary>
public sealed class InertialSet : MachineSystem
{
    /// <summary>What the unit is doing, in the order it does it.</summary>
    public enum Stage { Off, WarmUp, Levelling, Heading, Navigate }

    private readonly InertialDefinition _d;
    private readonly Load _load;
    private readonly Switch _field, _navigate, _off, _still;
    private readonly int _quality, _sigma, _left, _aligning, _good, _nav, _navQuality, _lost, _error, _stage, _aligned;
    private readonly Alignment _alignment;
    private readonly double _latitude, _headingUnit;
    private readonly double[] _drift, _place, _errors = new double[InertialErrors.States];
    private double _unpowered;
    private double[] _v = [];

    public InertialSet(MachineContext context, InertialDefinition definition)
    {
        _d = definition;
        _off = context.Switch($"{_d.Selector} is off", "inertial.selector");
        _field = context.Switch($"{_d.Selector} is field", "inertial.selector");
        _navigate = context.Switch($"{_d.Selector} is navigate", "inertial.selector");
        _still = context.Switch(context.Aircraft.BrakeAccumulator is null ? null : "brake.holding", "inertial");
        _load = context.AddLoad("inertial-set", "Inertial set", _d.Bus, _d.Watts, context.Switch($"{_d.Selector} is not off", "inertial.selector"), _d.HoldUpS);
        var s = context.Signals;
        _quality = s.AddNumber("ins.quality", "", 0.1, 99.9);
        _sigma = s.AddNumber("ins.heading-error", "°", 0.001, _d.InitialHeadingDeg);
        _left = s.AddNumber("ins.left", "s", 1);
        _aligning = s.AddFlag("ins.aligning");
        _good = s.AddFlag("ins.good");
        _nav = s.AddFlag("ins.navigating");
        _navQuality = s.AddNumber("ins.taken-at", "", 0.1, 99.9);
        _lost = s.AddNumber("ins.lost", "", 1);
        _error = s.AddNumber("ins.position-error", "NM", 0.01);
        _stage = s.AddNumber("ins.stage", "", 1);
        _aligned = s.AddNumber(AlignedFor, "s", 1);
        _latitude = context.Place.LatitudeDeg * Math.PI / 180;
        _alignment = new Alignment(_d, context.Place.LatitudeDeg, context.Header.Conditions.OatC);

        // What this very set has for errors, drawn once: the screen never shows more than what comes of them.
        var random = context.Random("inertial");
        _headingUnit = random.Normal();
        _drift = [random.Normal() * DriftOf(_d), random.Normal() * DriftOf(_d), random.Normal() * DriftOf(_d)];
        _place = [random.Normal() * PlaceM, random.Normal() * PlaceM];

        if (context.Explains)
        {
            var power = Term.Fact("load.inertial-set");
            context.Gate("ins.aligning", GateKind.Comes, "inertial", "Inertial set: aligning", Term.All(power, _field));
            context.Gate("ins.aligning", GateKind.Ends, "inertial", "Inertial set: switched off", _off);
            context.Gate("ins.good", GateKind.Comes, "inertial", "Inertial set: good alignment", Term.All(Term.Fact("ins.aligning or ins.good"), _still), "Let it align: do not move the jet.");
            context.Gate("ins.navigating", GateKind.Comes, "inertial", "Inertial set: navigating", Term.All(power, _navigate, Term.Fact("ins.stage > 2")));
        }
    }

    /// <summary>Signal with the seconds since the alignment began; it stands when the set navigates.</summary>
    public const string AlignedFor = "ins.aligned";

    /// <summary>How well a surveyed spot and the jet on it are known, m on each axis, 1 sigma.</summary>
    public const double PlaceM = 6;

    /// <summary>Gyro drift, rad/s, 1 sigma.</summary>
    public static double DriftOf(InertialDefinition definition) => definition?.GyroDriftDegPerH * Math.PI / 180 / 3600 ?? throw new ArgumentNullException(nameof(definition));

    public override void Bind(MachineContext context) => _v = context.Signals.Values;

    public override void Logic()
    {
        if (_off.On)
        {
            Lose();
        }
    }

    private Stage Now => (Stage)(int)_v[_stage];

    private void Lose()
    {
        if (Now >= Stage.Levelling)
        {
            _v[_lost] += 1;
        }

        _v[_stage] = (int)Stage.Off;
        _v[_aligned] = 0;
        _v[_quality] = 99.9;
        _v[_sigma] = _d.InitialHeadingDeg;
        _v[_left] = 0;
        _v[_aligning] = _v[_good] = _v[_nav] = _v[_error] = 0;
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
        if (Now == Stage.Navigate)
        {
            Navigate(dt);
            return;
        }

        if (_navigate.On && Now == Stage.Heading)
        {
            _v[_stage] = (int)Stage.Navigate;
            _v[_nav] = 1;
            _v[_aligning] = 0;
            _v[_left] = 0;
            _v[_navQuality] = _v[_quality];
            Take();
            return;
        }

        if (!_field.On && Now == Stage.Off)
        {
            PaceS = Asleep;
            return;
        }

        if (!_still.On && Now >= Stage.Levelling)
        {
            Lose();
            return;
        }

        Align(dt);
    }

    private void Align(double dt)
    {
        var clock = _v[_aligned] += dt;
        var stage = clock < _alignment.WarmUpS ? Stage.WarmUp : clock < _alignment.HeadingFromS ? Stage.Levelling : Stage.Heading;
        _v[_stage] = (int)stage;
        _v[_aligning] = 1;
        _v[_left] = Math.Max(0, _alignment.GoodAtS - clock);
        PaceS = Math.Clamp(_v[_left], 0, Drifting);
        _v[_quality] = _alignment.Quality(clock);
        if (stage == Stage.Heading)
        {
            _v[_sigma] = _alignment.HeadingDeg(clock);
            _v[_good] = _v[_quality] <= _d.GoodQuality ? 1 : 0;
        }
    }

    // Gyrocompassing takes the east gyro's drift for a turn of the earth: that part of the heading error belongs to the drift, and the two cancel while it stands.
    private void Take()
    {
        Array.Clear(_errors);
        var sigma = _v[_sigma];
        var settling = Math.Sqrt(Math.Max(0, sigma * sigma - _alignment.FloorDeg * _alignment.FloorDeg)) * Math.PI / 180;
        _errors[InertialErrors.Heading] = _drift[1] / (InertialErrors.EarthRate * Math.Cos(_latitude)) + _headingUnit * settling;
        (_errors[InertialErrors.North], _errors[InertialErrors.East]) = (_place[0], _place[1]);
    }

    private void Navigate(double dt)
    {
        InertialErrors.Advance(_errors, _drift, _latitude, 0, 0, dt);
        var (north, east) = (_errors[InertialErrors.North], _errors[InertialErrors.East]);
        _v[_error] = Math.Sqrt(north * north + east * east) / InertialErrors.MetresPerNauticalMile;
    }
}
