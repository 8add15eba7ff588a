using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What a cockpit shows of an engine at one moment.</summary>
/// <param name="Fuel">The flow gauge, in idle flows.</param>
/// <param name="TargetN2Pct">Core speed that the lever asks for, once it runs.</param>
/// <param name="StarterShare">What its air or volts give, 0 to 1; squared volts for an electric starter.</param>
public readonly record struct StartSeen(double N2Pct, double FanPct, double GaugeC, double Fuel, bool FuelOn, bool StarterOn, double StarterShare, double OilC, double TargetN2Pct);

/// <summary>One explanation of what is seen of a start.</summary>
/// <param name="Word">The position of the signal <c>ENGINE.belief</c>.</param>
/// <param name="Text">As it is said: "it looks like …".</param>
public sealed record Supposition(string Word, string Text);

/// <summary>
/// What will become of a start, from what the gauges show. It carries a twin of the core along the engine's own equations and corrects it by the
/// gauges: the gas behind the gauge's known lag, the heat behind the gas's. What the heat is more than the flow explains is put down to too little air
/// (it lasts) or to a puddle (it burns off), as either explains the seconds since the light; flow against schedule is the fuel control's trim,
/// acceleration against torque the work done. Then the twin runs on: as it goes, and cut off after a reaction. See docs/models/advice.md.
/// </summary>
public sealed class StartForecast
{
    /// <summary>In which a pilot answers, s.</summary>
    public const double ReactionS = 1.7;

    private const double StepS = 0.02, FineS = 0.1, FineUntilS = 3, CoarseS = 0.25, CoarseUntilS = 8, LongS = 1, LongestS = 150, AheadS = 12;

    /// <summary>A throttle opened to help a core over a sticking place is brought back so soon, s.</summary>
    private const double NudgeS = 1;

    /// <summary>Past the peak by so much, nothing hotter is to come, °C.</summary>
    private const double PastPeakC = 25;

    // A burning core that is slower than this is asked whether it reaches idle at all.
    private const double FarFromS = 2, QuickPctPerS = 1;

    /// <summary>So long after the light it is past its peak if its gas falls, s; what is then foretold may be off by this, °C.</summary>
    private const double SettledS = 6, SettledDoubtC = 5;

    /// <summary>Less over the limit than this is within what the forecast may be off, °C.</summary>
    private const double OverC = 4;

    /// <summary>A cut that comes a reaction later keeps so far under the limit; nearer, it is time, °C.</summary>
    private const double KeepsC = 12, UnlitKeepsC = 150;

    /// <summary>A gauge that climbs so much faster than it could unlit, °C in a look.</summary>
    private const double LightC = 2.5, WarmLightC = 8;

    // Warmer than the air by so much a core is warm; its seeming heat falls to such a share in the look of the light.
    private const double WarmC = 120, FallenShare = 0.7;

    /// <summary>No mixture lights sooner after its fuel, s.</summary>
    private const double MixesS = 0.45;

    /// <summary>Or a core that turns so much faster than its starter alone turns it, for so long.</summary>
    private const double FastPctPerS = 0.15, FastS = 0.7;

    // How far air and puddle may be from what is expected before anything is seen, and what one look at the heat is worth, in idle flows.
    private const double LeastC = -100, MostC = 2000, MostN2Pct = 112, MostFuel = 20, DrainS = 65, WindmillsPct = 5, AirSd = 0.4, PuddleSd = 0.35, HeatSd = 0.03;

    // From this fan speed on its share of what it should be tells the air, so surely.
    private const double FanFromPct = 1.5, FanSd = 0.04;
    private const double LeastAir = 0.17, MostAir = 1.6;

    /// <summary>Less of a puddle than this is burnt; then air is followed by this share a look.</summary>
    private const double BurntShare = 0.06, Follows = 0.15;

    /// <summary>Heat that differs by such a share from what is due is looked at twice before it is believed.</summary>
    private const double OddShare = 0.35;
    private const double FlameS = Engine.LightRoundS, PuddleS = Engine.PuddleBurnS;

    /// <summary>A needle that moves less is still, °C in a look.</summary>
    private const double StillC = 0.02;

    /// <summary>What a start may be taken for; the place in the list is the value of the signal.</summary>
    public static IReadOnlyList<Supposition> Beliefs { get; } =
    [
        new("none", ""), new("sound", "a sound engine"), new("rich", "too much fuel"), new("lean", "too little fuel"), new("little-air", "too little air through the core"),
        new("residue", "fuel left in the core"), new("weak-starter", "a weak starter"), new("stagnant", "a core that sticks for a moment"),
        new("tired", "a turbine that does little work"),
        new("gauge-stuck", "a stuck gauge"), new("no-light", "a core that does not light"),
    ];

    // What is seen to differ by so much from a sound start asks for an explanation.
    private const double TrimSeen = 0.05, AirSeen = 0.06, ResidueSeen = 0.2, StarterSeen = 0.12, WorkSeen = 0.12, LateLightS = 1.8;
    private readonly EngineDefinition _d;
    private readonly Engine _twin, _ahead;
    private EngineEstimate _now;
    private EngineInputs _in;
    private double _midC, _midBeforeC, _n2Before, _fuelBefore, _gaugeBefore, _soundFuel, _heatBefore;
    private double _expected, _first, _litS, _sinceFast, _unlitFallC;
    private double _keepsFor, _gaugeKeeps, _gasKeeps, _fuelKeeps;
    private double _a11, _a12, _a22, _b1, _b2;
    private int _looks, _heats, _odd;
    private double _fanDue, _crankedS;
    private bool _warm, _fanTold;

    public StartForecast(EngineDefinition definition, double ambientC)
    {
        _d = definition ?? throw new ArgumentNullException(nameof(definition));
        (_twin, _ahead) = (new Engine(definition, ambientC, new RandomStream(0, "twin")), new Engine(definition, ambientC, new RandomStream(0, "ahead")));
        _now = new EngineEstimate { GasC = ambientC, GaugeC = ambientC, MetalC = ambientC, OilC = ambientC };
        _midC = _midBeforeC = _gaugeBefore = ambientC;
    }

    /// <summary>The core is taken to burn: its gauge climbs as nothing else makes it, or it turns faster than its starter can.</summary>
    public bool Lit => _now.Lit;

    /// <summary>Fuel against the schedule, air against what is usual, turbine's work against what is usual.</summary>
    public double Trim { get; private set; } = 1;

    /// <inheritdoc cref="Trim"/>
    public double Air { get; private set; } = 1;

    /// <inheritdoc cref="Trim"/>
    public double Work { get; private set; } = 1;

    /// <summary>Unburnt fuel, in idle flow seconds.</summary>
    public double Puddle => _now.Puddle;

    /// <summary>So much of it more than was seen to be given.</summary>
    public double Residue { get; private set; }

    /// <summary>The gas itself, ahead of its gauge.</summary>
    public double GasC => _now.GasC;

    /// <summary>The highest still to come if nothing is done, and how far that may be off, °C.</summary>
    public double PeakC { get; private set; }

    /// <inheritdoc cref="PeakC"/>
    public double DoubtC { get; private set; }

    /// <summary>The highest still to come if fuel is cut after the reaction.</summary>
    public double CutPeakC { get; private set; }

    /// <summary>It will pass the limit if nothing is done.</summary>
    public bool Comes => PeakC > _d.StartLimitC + OverC;

    /// <summary>Cut after a reaction from now it just stays under the limit; later it would not.</summary>
    public bool LastMoment => CutPeakC > _d.StartLimitC - (_now.Lit ? KeepsC : UnlitKeepsC);

    /// <summary>The gas two seconds from now.</summary>
    public double SoonC { get; private set; }

    /// <summary>Seconds until idle; infinite where it does not come to that. A core that accelerates briskly is not asked (0).</summary>
    public double ToIdleS { get; private set; } = double.PositiveInfinity;

    /// <summary>For so long the needle has stood still, s, and so far the core by now says that it must have moved, °C.</summary>
    public double StillS { get; private set; }

    /// <inheritdoc cref="StillS"/>
    public double StuckByC { get; private set; }

    /// <summary>Fuel has flowed for long enough to hold the flow against the schedule.</summary>
    public bool FlowSeen => _now.UnlitS + _litS > 0.9;

    /// <summary>What it is taken for, a place in <see cref="Beliefs"/>, and the share of the weights that has, 0 to 1.</summary>
    public int Belief { get; private set; }

    /// <inheritdoc cref="Belief"/>
    public double BeliefShare { get; private set; }

    /// <summary>It is rather something else than sound.</summary>
    public bool IsOdd => Belief > 1 && BeliefShare > 0.6;

    /// <summary>Not lit yet, and the fan turns fast enough to tell how much air goes through.</summary>
    public bool FanTells { get; private set; }

    /// <summary>Acceleration, %/s.</summary>
    public double Accel { get; private set; }

    /// <summary>Seconds since the light, 0 before it.</summary>
    public double LitS => _litS;

    /// <summary>Nothing runs: the next look begins anew. What lies in the core drains away.</summary>
    public void Rest()
    {
        (_looks, _litS, _now.Lit, _now.UnlitS) = (0, 0, false, 0);
        (Trim, Air, Work, Residue, StillS, _sinceFast) = (1, 1, 1, 0, 0, 0);
    }

    /// <summary>Looks at the gauges, <paramref name="h"/> seconds after the last time.</summary>
    /// <param name="restedS">For so long it stood still before that.</param>
    public void Look(in StartSeen gauges, in EngineInputs air, double h, double restedS = 0)
    {
        if (h <= 0)
        {
            return;
        }

        // What is no number, or none of a core, says as little as a needle that stands.
        var seen = gauges with
        {
            N2Pct = double.IsFinite(gauges.N2Pct) ? Math.Clamp(gauges.N2Pct, 0, MostN2Pct) : _n2Before,
            FanPct = double.IsFinite(gauges.FanPct) ? Math.Clamp(gauges.FanPct, 0, MostN2Pct) : 0,
            Fuel = double.IsFinite(gauges.Fuel) ? Math.Clamp(gauges.Fuel, 0, MostFuel) : _fuelBefore,
            OilC = gauges.OilC is >= LeastC and <= MostC ? gauges.OilC : _now.OilC,
            GaugeC = gauges.GaugeC is >= LeastC and <= MostC ? gauges.GaugeC : _gaugeBefore,
            StarterShare = double.IsFinite(gauges.StarterShare) ? Math.Clamp(gauges.StarterShare, 0, 2) : 0,
        };

        if (_looks == 0)
        {
            (_gaugeBefore, _midC, _now.GaugeC, _now.GasC, _n2Before) = (seen.GaugeC, seen.GaugeC, seen.GaugeC, seen.GaugeC, seen.N2Pct);
        }

        _in = air;
        // It runs out by its drain, and a core that the air turns blows it out.
        _now.Puddle *= Math.Exp(-restedS / (seen.N2Pct > WindmillsPct ? Engine.PuddleHalfS / 0.6931 * 20 / seen.N2Pct : DrainS));
        (_in.FuelOn, _in.StarterValve, _in.Duct, _in.TargetN2Pct, _in.Boosted) = (seen.FuelOn, seen.StarterOn, seen.StarterShare, seen.TargetN2Pct, true);
        _in.Igniter = true;
        Carry(h);
        See(seen, h);
        (_n2Before, _fuelBefore, _gaugeBefore, _looks) = (seen.N2Pct, seen.Fuel, seen.GaugeC, _looks + 1);
    }

    // The twin goes on by itself: what no gauge shows (puddle, oil, metal, stall) is its own account. It never lights: that is seen.
    private void Carry(double h)
    {
        var wasLit = _now.Lit;
        var quiet = _in;
        quiet.Igniter = false;
        _twin.Faults.FuelTrim = Trim;
        _twin.Faults.InletBlockage = Math.Clamp(1 - Air, 0, 0.9);
        _twin.Work = Work;
        _twin.Become(_now, quiet);
        for (var left = h; left > 1e-9; left -= FineS)
        {
            _twin.Step(Math.Min(FineS, left));
        }

        _twin.Slow(h);
        _unlitFallC = _twin.GaugeC;
        (_now.Puddle, _now.MetalC, _now.OilC, _now.Stall, _now.Flame) = (_twin.Puddle, _twin.MetalC, _twin.OilC, _twin.Stall, wasLit ? _twin.Flame : 0);
        // However long the look, fuel that was off at the one before has come within a tick: then it is looked at every tick.
        _now.UnlitS = _in.FuelOn && !wasLit ? _now.UnlitS + (_now.UnlitS > 0 ? h : Math.Min(h, Steps.PerTick * Steps.Seconds)) : 0;
        _litS = wasLit ? _litS + h : 0;
    }

    private void See(in StartSeen seen, double h)
    {
        if (h != _keepsFor)
        {
            var steps = h / StepS;
            (_keepsFor, _gaugeKeeps, _gasKeeps, _fuelKeeps) = (h, Math.Pow(1 - StepS / _d.Gas.GaugeLagS, steps), Math.Pow(1 - StepS / _d.Gas.LagS, steps),
                Math.Pow(1 - StepS / Engine.FuelLagS, steps));
        }

        (_midBeforeC, _midC) = (_midC, (seen.GaugeC - _gaugeBefore * _gaugeKeeps) / (1 - _gaugeKeeps));
        Accel = _looks > 0 ? (seen.N2Pct - _n2Before) / h : 0;
        var slope = _looks > 1 ? (_midC - _midBeforeC) / h : 0;
        _now.N2Pct = seen.N2Pct;
        _now.Fuel = seen.Fuel;
        _now.OilC = seen.OilC;
        StillS = Math.Abs(seen.GaugeC - _gaugeBefore) < StillC * h / 0.2 ? StillS + h : 0;
        var still = StillS > 1.5 * h && _now.Lit;
        StuckByC = still ? Math.Abs(_twin.GaugeC - seen.GaugeC) : 0;
        // A needle that stands says nothing: the twin goes on by itself until it moves.
        (_now.GaugeC, _now.GasC) = still ? (_twin.GaugeC, _twin.GasC) : (seen.GaugeC, Math.Max(_in.AirC, _midC + slope * 0.4 * h));
        var (sound, scheduled) = _twin.SoundFuel(_n2Before);
        _soundFuel += (1 - _fuelKeeps) * ((seen.FuelOn ? sound : 0) - _soundFuel);
        if (seen.FuelOn && scheduled && _now.UnlitS + _litS > 0.5)
        {
            Trim += 0.5 * (Math.Clamp(seen.Fuel / Math.Max(0.05, _soundFuel), 0.2, 3) - Trim);
        }

        // The heat behind the gas's lag, as if it burned: unlit, a warm core only seems to have some.
        var target = (_midC - _midBeforeC * _gasKeeps) / (1 - _gasKeeps);
        var heat = (target - _in.AirC) / (_d.IdleGasC - 15) * _twin.SoundAirflow(_n2Before);
        Fan(seen, h);
        Light(seen, heat, h);
        if (!_now.Lit || _looks < 2)
        {
            _heatBefore = heat;
            return;
        }

        if (!Heat(heat, h))
        {
            (_now.GaugeC, _now.GasC) = (_twin.GaugeC, _twin.GasC);
        }

        Turn(seen, h);
    }

    // The fan is turned by the air that a cranked core draws: slower than it should be, little goes through. A fan that stands says nothing of air.
    private void Fan(in StartSeen seen, double h)
    {
        _fanDue = _looks == 0 ? seen.FanPct : _fanDue;
        _crankedS = _looks > 0 && !_now.Lit ? _crankedS + h : 0;
        var steps = Math.Max(1, (int)Math.Round(h / (Steps.PerTick * Steps.Seconds)));
        for (var i = 1; i <= steps; i++)
        {
            var n2 = _n2Before + (seen.N2Pct - _n2Before) * i / steps;
            _fanDue += Math.Min(1, h / steps / Engine.FanLagS) * (Engine.SoundFan(n2, _now.Lit) - _fanDue);
        }

        FanTells = _crankedS > 2 * Engine.FanLagS && _fanDue > FanFromPct && seen.FanPct > 0.05 * _fanDue;
        _fanTold = FanTells || _now.Lit && _fanTold;
        if (FanTells && _now.UnlitS < MixesS)
        {
            Air = Math.Clamp(seen.FanPct / _fanDue, LeastAir, 1);
        }
    }

    /// <summary>In flight: so fast, and so much over the speed at which the air turns it, only a flame makes a core faster.</summary>
    private const double GainsPctPerS = 0.3, AboveWindPct = 3;

    private void Light(in StartSeen seen, double heat, double h)
    {
        if (_now.Lit)
        {
            if (seen.Fuel < 0.05 && (_now.Puddle < 0.02 || _midC <= _midBeforeC) || _heats > 8 && _heatBefore < 0.02 && StillS <= 0)
            {
                (_now.Lit, _now.Flame) = (false, 0);
            }

            return;
        }

        // A warm core shows its light by a fall of what seemed to be heat: the flame has yet to spread.
        _warm = seen.GaugeC > _in.AirC + WarmC;
        var climbs = seen.FuelOn && seen.Fuel > 0.04 && _now.UnlitS > MixesS && _looks > 2
            && (_warm ? heat < FallenShare * _heatBefore || seen.GaugeC - _unlitFallC > WarmLightC * h / 0.2 : seen.GaugeC - _unlitFallC > LightC * h / 0.2);
        var (cold, _) = _twin.Torques((_n2Before + seen.N2Pct) / 2, 0, 0, 0, _in.StarterValve ? _in.Duct : 0);
        _sinceFast = seen.FuelOn && _looks > 1 && _in.Mach < Engine.FlyingMach && Accel > cold + FastPctPerS ? _sinceFast + h : 0;
        // A core that has just flamed out is as warm as one that burns: that it gains speed, faster than the air turns it, tells the light.
        var gains = seen.FuelOn && !_in.StarterValve && _looks > 2 && _in.Mach > Engine.FlyingMach && Accel > GainsPctPerS
            && seen.N2Pct > _d.Windmill.N2PctPerMach * _in.Mach + AboveWindPct;
        if (climbs || gains || _sinceFast > FastS)
        {
            _now.Lit = true;
            (_litS, _heats, _odd, _heatBefore) = (climbs ? 0.3 : 0.8, 0, 0, 0);
            // What was given since then burns and does not lie there.
            _expected = _first = Math.Max(0, _now.Puddle - Engine.UnburntShare * _fuelBefore * Math.Clamp(_now.UnlitS - Engine.FillS, 0, _litS));
            _now.Flame = Math.Min(1, _litS / FlameS);
            var sd = FanTells ? FanSd : AirSd;
            // Before anything is seen: as much air as the last attempt showed, and the puddle that was given.
            (_a11, _a12, _a22) = (1 / (sd * sd), 0, 1 / (PuddleSd * PuddleSd));
            (_b1, _b2) = (_a11 / Air, _a22 * _expected);
        }
    }

    // heat = (flow + puddle / burning time) · flame / air: linear in 1/air and puddle/air, each with its own course in time.
    // False where it is not believed: a needle that stops in the middle of a look.
    private bool Heat(double heat, double h)
    {
        _heats++;
        if (StillS > 1.5 * h || !_in.FuelOn)
        {
            return true;
        }

        if ((_heats == 3 || _heats == 2 && !_warm) && heat > _heatBefore && _heatBefore >= 0)
        {
            // While the flame spreads, heat grows evenly from nothing: where that line begins is the moment of the light.
            var since = heat / ((heat - _heatBefore) / h);
            _litS = Math.Clamp(since + 0.9 * h, 0.2, 1.4);
        }

        _heatBefore = heat;
        var at = Math.Max(0, _litS - 0.9 * h);
        var flame = Math.Clamp(at / FlameS, 0, 1);
        var burnt = at < FlameS ? at * at / (2 * FlameS) : at - FlameS / 2;
        _now.Flame = Math.Clamp(_litS / FlameS, 0, 1);
        var left = Math.Exp(-burnt / PuddleS);
        var (x1, x2, w) = (flame * _fuelBefore, flame * left / PuddleS, 1 / (HeatSd * HeatSd));
        var due = (x1 + x2 * _first) / Air;
        if (_heats > 3 && Math.Abs(heat - due) > OddShare * Math.Max(due, 0.1) && ++_odd < 3)
        {
            return false;
        }

        _odd = 0;
        if (flame > 0.15 && (!_warm || _heats > 2))
        {
            _a11 += w * x1 * x1;
            _a12 += w * x1 * x2;
            _a22 += w * x2 * x2;
            _b1 += w * x1 * heat;
            _b2 += w * x2 * heat;
        }

        if (left < BurntShare)
        {
            // Nothing is left to tell apart: what the heat is more than the flow explains, is air.
            Air += Follows * (Math.Clamp(x1 / Math.Max(heat - x2 * _first / Air, 0.05), LeastAir, MostAir) - Air);
        }
        else
        {
            var det = _a11 * _a22 - _a12 * _a12;
            Air = Math.Clamp(det / Math.Max(_b1 * _a22 - _b2 * _a12, 1e-9), LeastAir, MostAir);
            _first = Math.Clamp((_b2 * _a11 - _b1 * _a12) / det * Air, 0, 3);
        }

        Residue = _first - _expected;
        var sofar = _litS < FlameS ? _litS * _litS / (2 * FlameS) : _litS - FlameS / 2;
        _now.Puddle = _first * Math.Exp(-sofar / PuddleS);
        return true;
    }

    private void Turn(in StartSeen seen, double h)
    {
        var (cold, fire) = _twin.Torques(_n2Before, _fuelBefore, _now.Flame, _now.Puddle, seen.StarterOn ? seen.StarterShare : 0);
        if (fire <= 0.3 || !seen.FuelOn || _litS <= FlameS || _in.Mach >= Engine.FlyingMach)
        {
            return;
        }

        // Where the type is known to stick, lost work is put down to that place, which ends.
        var lost = _twin.Stagnates(_n2Before);
        if (lost > 0)
        {
            _now.Stagnant |= lost > 0.02 && (Accel - cold) / fire < Work * (1 - 0.4 * lost);
        }
        else
        {
            _now.Stagnant = false;
            Work += Math.Min(1, h / 0.8) * (Math.Clamp((Accel - cold) / fire, 0, 2) - Work);
        }
    }

    /// <summary>Runs the twin on, from what the core is now taken to be.</summary>
    public void Foresee()
    {
        SoonC = _now.GasC;
        var far = _litS > FarFromS && Accel < QuickPctPerS;
        ToIdleS = far ? double.PositiveInfinity : 0;
        Believe();
        if (!far && _litS > SettledS && _midC < _midBeforeC)
        {
            (PeakC, CutPeakC, DoubtC) = (_now.GasC, _now.GasC, SettledDoubtC); // past its peak, and gaining air
            return;
        }

        PeakC = Run(double.PositiveInfinity, judge: true, far);
        CutPeakC = PeakC > _d.StartLimitC - 40 ? Run(ReactionS, judge: false) : PeakC;
        DoubtC = !_now.Lit ? 40 : _litS < 0.8 ? 35 : _litS < 1.6 ? 12 : SettledDoubtC;
    }

    // Each explanation is weighed by how far off what it explains is; that nothing is wrong, by one.
    private void Believe()
    {
        Span<double> far = stackalloc double[Beliefs.Count];
        far.Clear();
        far[1] = 1;
        (far[2], far[3]) = ((Trim - 1) / TrimSeen, (1 - Trim) / TrimSeen);
        far[4] = _fanTold || _litS > FlameS / 2 ? (1 - Air) / AirSeen : 0;
        far[5] = _litS > FlameS / 2 ? Residue / ResidueSeen : 0;
        far[6] = _in.StarterValve ? (1 - _in.Duct) / StarterSeen : 0;
        far[7] = _now.Stagnant ? 3 : 0;
        far[8] = _litS > 2 * FlameS && !_now.Stagnant ? (1 - Work) / WorkSeen : 0;
        far[9] = StuckByC / 8;
        far[10] = !_now.Lit ? _now.UnlitS / LateLightS : 0;
        var (sum, best) = (0.0, 1);
        for (var i = 1; i < far.Length; i++)
        {
            far[i] = far[i] > 0 ? far[i] * far[i] : 0;
            sum += far[i];
            best = far[i] > far[best] ? i : best;
        }

        (Belief, BeliefShare) = (best, far[best] / sum);
    }

    /// <summary>Nothing burns and nothing can: nothing is to come.</summary>
    public void Cool() => (Belief, BeliefShare, SoonC, PeakC, CutPeakC, DoubtC, ToIdleS) = (0, 0, _now.GasC, _now.GasC, _now.GasC, 0, double.PositiveInfinity);

    private double Run(double cutS, bool judge, bool far = false)
    {
        var at = _now;
        at.N2Pct += Accel * (FineS - StepS); // in long strides the fire sees the speed of a stride before
        _ahead.Faults = _twin.Faults;
        _ahead.Faults.InletBlockage = Math.Clamp(1 - Air, 0, 0.9);
        _ahead.Faults.FuelTrim = Trim;
        _ahead.Work = Work;
        _ahead.Become(at, _in);
        var (t, peak, slowAt) = (0.0, at.GasC, LongS);
        while (t < LongestS)
        {
            var dt = t < FineUntilS ? FineS : t < CoarseUntilS ? CoarseS : LongS;
            _ahead.In.FuelOn &= t < cutS;
            _ahead.In.TargetN2Pct = t < NudgeS ? _in.TargetN2Pct : Math.Min(_in.TargetN2Pct, _d.IdleN2Pct);
            _ahead.In.StarterValve &= _ahead.N2Pct < _d.Starter.CutoutN2Pct;
            _ahead.Step(dt);
            t += dt;
            peak = t <= AheadS ? Math.Max(peak, _ahead.GasC) : peak;
            if (judge)
            {
                SoonC = t <= 2.01 ? _ahead.GasC : SoonC;
                if (_ahead.N2Pct > _d.IdleN2Pct - 1.5)
                {
                    ToIdleS = t;
                    break;
                }
            }

            if (!far && (t > AheadS || _ahead.Lit && _ahead.GasC < peak - PastPeakC) || !_ahead.In.FuelOn && t > cutS + 2 || t > CoarseUntilS && _ahead.N2Pct < at.N2Pct - 2)
            {
                break;
            }

            if (t >= slowAt)
            {
                slowAt += LongS;
                _ahead.Slow(LongS);
            }
        }

        return peak;
    }
}
