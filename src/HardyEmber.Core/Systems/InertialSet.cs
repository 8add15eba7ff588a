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
    private readonly int _quality, _sigma, _left, _aligning, _good, _nav, _navQuality, _lost, _error, _stage, _aligned, _navigated;
    private readonly Alignment _alignment;
    private readonly InertialDraw _draw;
    private readonly double _latitude;
    private readonly double[] _errors = new double[InertialErrors.States];
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
        _navigated = s.AddNumber(NavigatedFor, "s", 1);
        _latitude = context.Place.LatitudeDeg * Math.PI / 180;
        _alignment = new Alignment(_d, context.Place.LatitudeDeg, context.Header.Conditions.OatC);
        _draw = new InertialDraw(context.Random(InertialDraw.Stream), _d);

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

    /// <summary>Signal with the seconds since navigate was taken.</summary>
    public const string NavigatedFor = "ins.navigated";

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
        _v[_aligned] = _v[_navigated] = 0;
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
            _draw.Begin(_errors, _alignment, _v[_sigma], _latitude);
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

    private void Navigate(double dt)
    {
        _v[_navigated] += dt;
        InertialErrors.Advance(_errors, _draw.Drift, _latitude, 0, 0, dt);
        _v[_error] = InertialErrors.OffNm(_errors);
    }
}
