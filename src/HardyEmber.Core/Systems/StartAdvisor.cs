using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>How urgent an advice is.</summary>
public enum Urgency { None, Stay, BeReady, CutOff }

/// <summary>One thing the advisor may say of a start.</summary>
/// <param name="Word">The position of the signal <c>ENGINE.advice</c>, for the conditions of the data.</param>
/// <param name="Text">What is said to the pilot.</param>
public sealed record Advice(string Word, Urgency Urgency, string Text);

/// <summary>
/// Watches every start as a good instructor would and says one thing at a time: stay, be ready, cut off now, and why. It knows what the gauges show and
/// what hands did, and runs the engine's own equations on from there (<see cref="StartForecast"/>). Drills of the data rest on its word, so the advice
/// and the cue cannot disagree.
/// </summary>
public sealed class StartAdvisor : MachineSystem
{
    /// <summary>A needle that stands so long while the core says that it must move by so much is stuck, s and °C.</summary>
    private const double StuckS = 0.6, StuckC = 8;

    /// <summary>A word stands at least so long, unless a graver one comes, s.</summary>
    private const double StandsS = 0.6;

    /// <summary>Before the light it must come to so much over the limit to be sure, °C.</summary>
    private const double SureC = 60, FanSureC = 20, RichTrim = 1.15, LittleAir = 0.85;

    /// <summary>So long it is said to be ready before the cut-off, where there is time, s.</summary>
    private const double WarningS = 1;

    // While the flame spreads every look tells more; past the peak one a second is enough.
    private const double SettledS = 8, SettledEveryS = 1, CoolingC = 2, SpreadS = 1.6, FarC = 80;

    // From the light a core is given so long before it can be called slow; falling for so long it dies.
    private const double SpreadsS = 3, LongS = 12, FallsS = 1.4, FallsPctPerS = 0.05, SlowPctPerS = 0.3;

    /// <summary>Everything that can be said; the place in the list is the value of the signal.</summary>
    public static IReadOnlyList<Advice> All { get; } =
    [
        new("none", Urgency.None, ""),
        new("stay", Urgency.Stay, "Stay: it runs as it should"),
        new("motors", Urgency.Stay, "Keep cranking: air blows out fuel and heat"),
        new("wait", Urgency.Stay, "Wait: it is slow, and it will make it"),
        new("keeps", Urgency.Stay, "Stay: not as usual, but it keeps its limits"),
        new("warm", Urgency.BeReady, "Be ready: the temperature heads for the limit"),
        new("late-light", Urgency.BeReady, "Be ready: no light yet, fuel gathers"),
        new("slow", Urgency.BeReady, "Be ready: like this it will not reach idle"),
        new("late-oil", Urgency.BeReady, "Be ready: oil pressure is due"),
        new("hot", Urgency.CutOff, "Cut off now: it will pass the limit"),
        new("no-light", Urgency.CutOff, "Cut off now: no light, the core is wet"),
        new("hung", Urgency.CutOff, "Cut off now: it will not reach idle"),
        new("no-oil", Urgency.CutOff, "Cut off now: no oil pressure"),
        new("gauge-still", Urgency.CutOff, "Cut off now: the temperature cannot be seen, nobody starts blind"),
        new("starter-late", Urgency.CutOff, "Cut off now: the starter has not let go, then take its air or power away"),
        new("no-fan", Urgency.CutOff, "Stop now: the fan does not turn, no fuel and crank off"),
        new("no-rotation", Urgency.CutOff, "Stop the crank: nothing turns"),
        new("fan-slow", Urgency.BeReady, "Be ready: the fan is slow, little air goes through"),
    ];

    /// <summary>How grave a word is: by its urgency, then by its place in the list.</summary>
    public static int Gravity(int word) => All.Count * (int)All[word].Urgency + word;

    private static readonly Dictionary<string, int> Place = All.Select((a, i) => (a.Word, i)).ToDictionary(p => p.Word, p => p.i);
    private static readonly int HotPlace = Place["hot"], HungPlace = Place["hung"];

    private readonly Watched[] _engines;
    private readonly int _engine;
    private double[] _v = [];
    private int _time, _airC, _density, _tailwind, _altitude, _mach, _eas;

    private sealed class Watched
    {
        private readonly EngineSideDefinition _side;

        public Watched(MachineContext context, EngineSideDefinition side)
        {
            (_side, Limits) = (side, context.Aircraft.EngineOf(side));
            Sees = Sight(context, side.Id);
            var (s, oat) = (context.Signals, context.Header.Conditions.OatC);
            Forecast = new StartForecast(Limits, oat);
            Signal = s.AddPositions($"{side.Id}.advice", [.. All.Select(a => a.Word)], 0);
            Reaction = s.AddNumber($"{side.Id}.reaction", "s", 0.1);
            (Ahead, Peak) = (s.AddNumber($"{side.Id}.egt-ahead", "°C", 1, oat), s.AddNumber($"{side.Id}.egt-forecast", "°C", 1, oat));
            (Low, High) = (s.AddNumber($"{side.Id}.egt-forecast-low", "°C", 1, oat), s.AddNumber($"{side.Id}.egt-forecast-high", "°C", 1, oat));
            (Belief, Share) = (s.AddPositions($"{side.Id}.belief", [.. StartForecast.Beliefs.Select(b => b.Word)], 0), s.AddNumber($"{side.Id}.belief-share", "%", 1));
            (Coming, Hung) = (s.AddFlag($"{side.Id}.hot-coming"), s.AddFlag($"{side.Id}.hung"));
        }

        public void Bind(MachineContext context)
        {
            int Of(string name) => context.Reads($"{_side.Id}.{name}", Phase.Tick);
            (N2, Fan, Gas, Flow, Valve) = (Of("n2"), Of("fan"), Of("egt"), Of("fuel-flow"), Of("starter-valve"));
            (Fuel, Oil, OilC, Still, Late) = (Of("fuel-valve"), Of("oil"), Of("oil-temperature"), Of("no-rotation"), Of("starter-late"));
            FlamedOut = Of("flamed-out");
            var lever = context.Signals.Find(_side.Throttle)!;
            (Throttle, Targets) = (lever.Index, [.. lever.Positions.Select(p => Limits.ThrottleN2Pct[p])]);
            Electric = _side.StarterBus is not null;
            StarterFrom = context.Reads(_side.StarterBus is { } bus ? $"bus.{bus}" : AirSupply.ShareSignal, Phase.Tick);
            NominalV = Electric ? context.Aircraft.Electrics.Buses.First(b => b.Id == _side.StarterBus).Volts : 1;
        }

        public EngineDefinition Limits { get; }
        public Switch? Sees { get; }
        public StartForecast Forecast { get; }
        public int N2 { get; private set; }
        public int Fan { get; private set; }
        public int Gas { get; private set; }
        public int Flow { get; private set; }
        public int Valve { get; private set; }
        public int Fuel { get; private set; }
        public int Oil { get; private set; }
        public int OilC { get; private set; }
        public int Still { get; private set; }
        public int Late { get; private set; }
        public int FlamedOut { get; private set; }
        public int StarterFrom { get; private set; }
        public int Throttle { get; private set; }
        public double[] Targets { get; private set; } = [];
        public bool Electric { get; private set; }
        public double NominalV { get; private set; }
        public int Signal { get; }
        public int Reaction { get; }
        public int Ahead { get; }
        public int Peak { get; }
        public int Low { get; }
        public int High { get; }
        public int Belief { get; }
        public int Share { get; }
        public int Coming { get; }
        public int Hung { get; }
        public double CutSince = -1, SaidS, ReadyS, FallS, WontS, SlowS, ForeseenS, SinceS;
        public double RestAt = -1;
        public int Said, Standing;

        public void Rest()
        {
            (SaidS, ReadyS, FallS, WontS, SlowS, ForeseenS, SinceS) = (0, 0, 0, 0, 0, 0, 0);
            (Said, Standing) = (0, 0);
        }
    }

    public StartAdvisor(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _engine = context.Signals.AddNumber("watch.engine", "", 1);
        _engines = [.. context.Aircraft.Engines.Select(e => new Watched(context, e))];
    }

    // A gauge that hangs on a bus sees nothing without it.
    private static Switch? Sight(MachineContext context, string id) =>
        context.Aircraft.Gauges.FirstOrDefault(g => g.Signal == $"{id}.egt")?.Bus is { } bus ? context.Word($"bus.{bus}.live", $"gauges.{id}.egt.bus") : null;

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _v = context.Signals.Values;
        foreach (var engine in _engines)
        {
            engine.Bind(context);
        }

        _time = context.IndexOf("time", "watch", "signal");
        (_airC, _density) = (context.Reads(FlightState.TemperatureSignal, Phase.Tick), context.Reads(FlightState.DensitySignal, Phase.Tick));
        (_tailwind, _altitude) = (context.Reads(FlightState.TailwindSignal, Phase.Tick), context.Reads(FlightState.AltitudeSignal, Phase.Tick));
        (_mach, _eas) = (context.Reads("flight.mach", Phase.Tick), context.Reads("flight.eas", Phase.Tick));
    }

    public override void Slow(double dt)
    {
        var watched = 0;
        PaceS = Asleep;
        for (var i = 0; i < _engines.Length; i++)
        {
            var e = _engines[i];
            var below = _v[e.N2] < e.Limits.IdleN2Pct - e.Limits.Advice.IdleBandPct;
            var starting = _v[e.Valve] > 0.5 || below && (_v[e.Fuel] > 0.5 || e.Forecast.Lit);
            var advice = starting ? Say(e, dt) : Rest(e);
            Time(e, advice, dt);
            _v[e.Signal] = advice;
            (_v[e.Ahead], _v[e.Peak]) = starting ? (e.Forecast.SoonC, e.Forecast.PeakC) : (_v[e.Gas], _v[e.Gas]);
            (_v[e.Low], _v[e.High]) = starting ? (Math.Max(_v[e.Gas], e.Forecast.PeakC - e.Forecast.DoubtC), e.Forecast.PeakC + e.Forecast.DoubtC) : (_v[e.Gas], _v[e.Gas]);
            (_v[e.Belief], _v[e.Share]) = starting ? (e.Forecast.Belief, 100 * e.Forecast.BeliefShare) : (0, 0);
            (_v[e.Coming], _v[e.Hung]) = (advice == HotPlace ? 1 : 0, advice == HungPlace ? 1 : 0);
            PaceS = Math.Min(PaceS, Pace(e, starting, advice));
            watched = starting && (watched == 0 || All[advice].Urgency > Urgency.Stay) ? i + 1 : watched;
        }

        _v[_engine] = watched;
    }

    private int Rest(Watched e)
    {
        e.RestAt = e.Said == 0 ? e.RestAt : _v[_time];
        e.Rest();
        e.Forecast.Rest();
        return 0;
    }

    private double Pace(Watched e, bool starting, int advice)
    {
        if (!starting)
        {
            return _v[e.Fuel] > 0.5 ? Drifting : Asleep;
        }

        // Past its peak and nothing to say: there is time.
        return All[advice].Urgency == Urgency.Stay && e.Forecast.LitS > SettledS && e.Forecast.PeakC - _v[e.Gas] < CoolingC ? Easing : 0;
    }

    // From the first "cut off" to the shut fuel valve.
    private void Time(Watched e, int advice, double dt)
    {
        if (All[advice].Urgency == Urgency.CutOff)
        {
            e.CutSince = e.CutSince < 0 ? 0 : e.CutSince + dt;
        }
        else if (e.CutSince >= 0)
        {
            _v[e.Reaction] = e.CutSince;
            e.CutSince = -1;
        }
    }

    // A word stands for a moment, and "cut off" until it is obeyed: one that comes and goes is not believed.
    private int Say(Watched e, double dt)
    {
        e.SaidS += dt;
        e.SinceS += dt;
        var calm = All[e.Said].Urgency <= Urgency.Stay && (e.Forecast.LitS > SettledS || !e.Forecast.Lit && _v[e.Fuel] < 0.5);
        if (calm && e.SinceS < Easing - 1e-9 && e.Said > 0)
        {
            return e.Said;
        }

        Look(e, e.SinceS);
        var word = Judge(e, e.SinceS);
        e.SinceS = 0;
        var (said, now) = (All[e.Said].Urgency, All[word].Urgency);
        var keeps = said == Urgency.CutOff && e.Standing > 0 ? _v[e.Fuel] > 0.5 : e.SaidS < StandsS && now <= said && e.Said > 0;
        if (keeps || word == e.Said)
        {
            return e.Said;
        }

        (e.Said, e.SaidS, e.Standing) = (word, 0, now == Urgency.CutOff && _v[e.Fuel] > 0.5 ? 1 : 0);
        return word;
    }

    private void Look(Watched e, double dt)
    {
        var f = e.Forecast;
        var share = _v[e.StarterFrom] / e.NominalV;
        var air = new EngineInputs
        {
            AirC = _v[_airC],
            DensityRatio = _v[_density],
            TailwindKt = _v[_tailwind],
            PressureAltitudeFt = _v[_altitude],
            Mach = _v[_mach],
            EasKt = _v[_eas],
        };
        var flow = _v[e.Flow] / e.Limits.IdleFuelLbPerH;
        f.Look(new StartSeen(_v[e.N2], _v[e.Fan], _v[e.Gas], flow, _v[e.Fuel] > 0.5 && (flow > LeastFlow || air.Mach < Engine.FlyingMach), _v[e.Valve] > 0.5,
            e.Electric ? share * share : share, _v[e.OilC], e.Targets[(int)_v[e.Throttle]]), air, dt, e.RestAt < 0 ? 0 : _v[_time] - e.RestAt);
        e.RestAt = -1;
        e.ForeseenS += dt;
        var burns = f.Lit || _v[e.Fuel] > 0.5;
        var closely = f.LitS < SpreadS || f.PeakC > e.Limits.StartLimitC - FarC;
        if (burns && e.ForeseenS >= (f.LitS > SettledS || e.Standing > 0 ? SettledEveryS : closely ? 0 : Easing) - 1e-9)
        {
            f.Foresee();
            e.ForeseenS = 0;
        }
        else if (!burns)
        {
            f.Cool();
        }

        var slow = f.Lit && _v[e.Fuel] > 0.5 && f.LitS > SpreadsS;
        e.FallS = slow && f.Accel < -FallsPctPerS ? e.FallS + dt : 0;
        e.WontS = slow && double.IsInfinity(f.ToIdleS) ? e.WontS + dt : 0;
        e.SlowS = slow && f.Accel < SlowPctPerS ? e.SlowS + dt : 0;
    }

    /// <summary>In flight a valve may be open and its tank not feed it: under so many idle flows no fuel comes.</summary>
    private const double LeastFlow = 0.04;

    private int Judge(Watched e, double dt)
    {
        var (f, d) = (e.Forecast, e.Limits);
        var n2 = _v[e.N2];
        var fuel = _v[e.Fuel] > 0.5;
        var sees = e.Sees is not { On: false } && !(f.StillS >= StuckS && f.StuckByC > StuckC);
        if (_v[e.Still] > 0.5)
        {
            return Place["no-rotation"];
        }

        if (f.Lit && fuel && !sees)
        {
            return Place["gauge-still"];
        }

        // What has just flamed out and still turns fast may light by itself: that is waited for.
        var sparks = _v[e.FlamedOut] > 0.5 && !f.Lit && n2 > Engine.SparksShare * d.IdleN2Pct;
        var warm = fuel && !sparks && Hot(e, dt, out var hot) ? hot ? "hot" : "warm" : null;
        if (warm == "hot")
        {
            return Place["hot"];
        }

        if (fuel && !f.Lit && !sparks && f.Puddle > d.Advice.Wet)
        {
            return Place["no-light"];
        }

        if (e.WontS > d.Advice.HungAfterS || e.FallS > FallsS && e.WontS > FallsS)
        {
            return Place["hung"];
        }

        if (fuel && n2 > d.Oil.MinByN2Pct && _v[e.Oil] < d.Oil.MinPsi)
        {
            return Place["no-oil"];
        }

        if (n2 > d.Advice.FanFromN2Pct && _v[e.Fan] < 0.5)
        {
            return Place["no-fan"];
        }

        if (_v[e.Late] > 0.5)
        {
            return Place["starter-late"];
        }

        if (fuel && !f.Lit && !sparks && f.Puddle > d.Advice.LateWet)
        {
            return Place["late-light"];
        }

        if (warm is not null)
        {
            return Place["warm"];
        }

        if (!fuel && _v[e.Valve] > 0.5 && (f.Puddle > d.Advice.WetAgain || _v[e.Gas] > d.Advice.HotAgainC))
        {
            return Place["motors"];
        }

        if (!fuel && f.FanTells && f.Air < LittleAir)
        {
            return Place["fan-slow"];
        }

        if (e.WontS > d.Advice.SlowAfterS / 3 || e.FallS > 0)
        {
            return Place["slow"];
        }

        if (fuel && n2 > d.Oil.MinByN2Pct - d.Advice.OilSoonPct && _v[e.Oil] < d.Oil.MinPsi)
        {
            return Place["late-oil"];
        }

        return Place[e.SlowS > d.Advice.SlowAfterS && f.ToIdleS > LongS ? "wait" : f.Lit && f.IsOdd ? "keeps" : "stay"];
    }

    // Whether the limit is in question, and whether fuel must go now: a cut one reaction later would no longer keep under it, or there was warning enough.
    private static bool Hot(Watched e, double dt, out bool now)
    {
        var (f, limit) = (e.Forecast, e.Limits.StartLimitC);
        e.ReadyS = f.PeakC + 0.3 * f.DoubtC > limit - e.Limits.Advice.NearLimitC ? e.ReadyS + dt : 0;
        // Before the light the fan tells how much air goes through, the flow a control that gives far too much, and the attempt before it the rest.
        var above = f.PeakC - limit;
        var surely = f.Lit || f.FanTells && above > (f.FlowSeen ? FanSureC : SureC) || f.FlowSeen && (f.Trim > RichTrim || f.Air < LittleAir) && above > SureC;
        now = surely && f.StillS < StuckS / 2 && (f.GasC > limit || f.Comes && (f.LastMoment || e.ReadyS > WarningS && f.PeakC - f.DoubtC > limit));
        return e.ReadyS > 0 || now;
    }
}
