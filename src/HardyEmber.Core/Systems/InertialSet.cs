using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The inertial set in field mode: warm-up, levelling, gyrocompassing. The 1-sigma heading error follows
/// σ² = f² + (σ₀² − f²)·exp(−2t/τ) with floor f = ε/(Ω·cos φ) and τ ∝ 1/cos φ (Titterton and Weston, chapter 10).
/// Angles in degrees, time in seconds.
/// </summary>
public sealed class InertialSet : MachineSystem
{
    private const double EarthRateDegPerH = 15.041;
    private const double SchulerPeriodS = 84.4 * 60;
    private const double QualityAtHeading = 60;

    /// <summary>What the unit is doing, in the order it does it.</summary>
    public enum Stage { Off, WarmUp, Levelling, Heading, Navigate }

    private readonly InertialDefinition _d;
    private readonly Load _load;
    private readonly Switch _field, _navigate, _off, _still;
    private readonly int _quality, _sigma, _left, _aligning, _good, _nav, _navQuality, _lost, _error, _stage;
    private readonly double _warmUpS, _floor, _tau, _goodSigma, _errorUnit, _northUnit;
    private double _clock, _unpowered, _navS;
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
        var oat = context.Header.Conditions.OatC;
        _warmUpS = _d.WarmUpS * (1 + Math.Max(0, 15 - oat) / 60);
        (_floor, _tau) = (FloorDeg(_d, context.Place.LatitudeDeg), TauS(_d, context.Place.LatitudeDeg));
        _goodSigma = GoodSigma(_d, _floor);
        var random = context.Random("inertial");

        if (context.Explains)
        {
            var power = Term.Fact("load.inertial-set");
            context.Gate("ins.aligning", GateKind.Comes, "inertial", "Inertial set: aligning", Term.All(power, _field));
            context.Gate("ins.aligning", GateKind.Ends, "inertial", "Inertial set: switched off", _off);
            context.Gate("ins.good", GateKind.Comes, "inertial", "Inertial set: good alignment", Term.All(Term.Fact("ins.aligning or ins.good"), _still), "Let it align: do not move the jet.");
            context.Gate("ins.navigating", GateKind.Comes, "inertial", "Inertial set: navigating", Term.All(power, _navigate, Term.Fact("ins.stage > 2")));
        }

        (_errorUnit, _northUnit) = (random.Normal(), random.Normal());
    }

    /// <summary>The heading error that gyrocompassing cannot beat, degrees: ε_east/(Ω·cos φ) in radians, as degrees.</summary>
    public static double FloorDeg(InertialDefinition d, double latitudeDeg) =>
        d.GyroDriftDegPerH / (EarthRateDegPerH * Math.Cos(latitudeDeg * Math.PI / 180)) * 180 / Math.PI;

    private static double GoodSigma(InertialDefinition d, double floor) =>
        floor + d.GoodQuality / QualityAtHeading * (d.InitialHeadingDeg - floor);

    /// <summary>Time constant at a latitude, chosen so that the type's field time holds at 45°.</summary>
    public static double TauS(InertialDefinition d, double latitudeDeg)
    {
        var floor = FloorDeg(d, 45);
        var good = GoodSigma(d, floor);
        var headingS = d.FieldMinutes * 60 - d.WarmUpS - d.LevelS;
        var tau45 = -2 * headingS / Math.Log((good * good - floor * floor) / (d.InitialHeadingDeg * d.InitialHeadingDeg - floor * floor));
        return tau45 * Math.Cos(Math.PI / 4) / Math.Cos(latitudeDeg * Math.PI / 180);
    }

    private double HeadingSigma(double t) =>
        Math.Sqrt(_floor * _floor + (_d.InitialHeadingDeg * _d.InitialHeadingDeg - _floor * _floor) * Math.Exp(-2 * t / _tau));

    private double HeadingTimeS => -_tau / 2 * Math.Log((_goodSigma * _goodSigma - _floor * _floor)
        / (_d.InitialHeadingDeg * _d.InitialHeadingDeg - _floor * _floor));

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
        _clock = _navS = 0;
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
        _clock += dt;
        var levelEnd = _warmUpS + _d.LevelS;
        var heading = _clock - levelEnd;
        var stage = _clock < _warmUpS ? Stage.WarmUp : heading < 0 ? Stage.Levelling : Stage.Heading;
        _v[_stage] = (int)stage;
        _v[_aligning] = 1;
        _v[_left] = Math.Max(0, levelEnd + HeadingTimeS - _clock);
        PaceS = Math.Clamp(_v[_left], 0, Drifting);
        if (stage != Stage.Heading)
        {
            _v[_quality] = stage == Stage.WarmUp ? 99.9 : 99.9 + (QualityAtHeading - 99.9) * (_clock - _warmUpS) / _d.LevelS;
            return;
        }

        var sigma = HeadingSigma(heading);
        _v[_sigma] = sigma;
        _v[_quality] = QualityAtHeading * (sigma - _floor) / (_d.InitialHeadingDeg - _floor);
        _v[_good] = _v[_quality] <= _d.GoodQuality ? 1 : 0;
    }

    private void Navigate(double dt)
    {
        _navS += dt;
        // Standing still: the Schuler oscillation of the levelling error and a slow drift, one draw for each axis.
        var swing = 0.12 * _v[_sigma] / 0.08 * Math.Sin(2 * Math.PI * _navS / SchulerPeriodS);
        var drift = 0.8 * _navS / 3600 * Math.Max(1, _v[_sigma] / 0.15);
        _v[_error] = Math.Sqrt(Math.Pow(_errorUnit * swing + 0.01, 2) + Math.Pow(_northUnit * drift, 2));
    }
}
