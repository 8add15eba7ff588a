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
/// Watches every start as a good instructor would and says one thing at a time: stay, be ready, cut off now, and why. It
/// reads what the gauges read, so a gauge that is blind or stuck blinds it too. Drills of the data rest on its word, so
/// the advice and the cue cannot disagree.
/// </summary>
public sealed class StartAdvisor : MachineSystem
{
    private const double CoolingC = 2;

    /// <summary>How much of what might still come counts for "be ready".</summary>
    private const double HighShare = 0.1;
    private const double GaugeStillC = 0.02, GaugeStillS = 2.5;

    /// <summary>Everything that can be said; the place in the list is the value of the signal.</summary>
    public static IReadOnlyList<Advice> All { get; } =
    [
        new("none", Urgency.None, ""),
        new("stay", Urgency.Stay, "Stay: it runs as it should"),
        new("motors", Urgency.Stay, "Keep cranking: air blows out fuel and heat"),
        new("warm", Urgency.BeReady, "Be ready: the temperature heads for the limit"),
        new("late-light", Urgency.BeReady, "Be ready: no light yet, fuel gathers"),
        new("slow", Urgency.BeReady, "Be ready: it hardly accelerates"),
        new("late-oil", Urgency.BeReady, "Be ready: oil pressure is due"),
        new("hot", Urgency.CutOff, "Cut off now: over the limit within two seconds"),
        new("no-light", Urgency.CutOff, "Cut off now: no light, the core is wet"),
        new("hung", Urgency.CutOff, "Cut off now: it hangs"),
        new("no-oil", Urgency.CutOff, "Cut off now: no oil pressure"),
        new("gauge-still", Urgency.CutOff, "Cut off now: the temperature cannot be seen, nobody starts blind"),
        new("starter-late", Urgency.CutOff, "Cut off now: the starter has not let go, then take its air or power away"),
        new("no-fan", Urgency.CutOff, "Stop now: the fan does not turn, no fuel and crank off"),
        new("no-rotation", Urgency.CutOff, "Stop the crank: nothing turns"),
    ];

    private static readonly Dictionary<string, int> Place = All.Select((a, i) => (a.Word, i)).ToDictionary(p => p.Word, p => p.i);

    private readonly Watched[] _engines;
    private readonly int _engine;
    private double[] _v = [];

    private sealed class Watched
    {
        private readonly string _id;

        public Watched(string id, EngineDefinition limits, SignalTable signals, Switch? sees)
        {
            (_id, Limits, Sees) = (id, limits, sees);
            Signal = signals.AddPositions($"{id}.advice", [.. All.Select(a => a.Word)], 0);
            Reaction = signals.AddNumber($"{id}.reaction", "s", 0.1);
        }

        public void Bind(MachineContext context)
        {
            int Of(string name) => context.Reads($"{_id}.{name}", Phase.Tick);
            (N2, Fan, Gas, Ahead, High) = (Of("n2"), Of("fan"), Of("egt"), Of("egt-ahead"), Of("egt-ahead-high"));
            (Valve, Fuel, Lit, Cycle, Puddle) = (Of("starter-valve"), Of("fuel-valve"), Of("lit"), Of("start-cycle"), Of("puddle"));
            (Stuck, Hung, Oil, Still, Late) = (Of("stuck"), Of("hung"), Of("oil"), Of("no-rotation"), Of("starter-late"));
        }

        public EngineDefinition Limits { get; }
        public Switch? Sees { get; }
        public int N2 { get; private set; }
        public int Fan { get; private set; }
        public int Gas { get; private set; }
        public int Ahead { get; private set; }
        public int High { get; private set; }
        public int Valve { get; private set; }
        public int Fuel { get; private set; }
        public int Lit { get; private set; }
        public int Cycle { get; private set; }
        public int Puddle { get; private set; }
        public int Stuck { get; private set; }
        public int Hung { get; private set; }
        public int Oil { get; private set; }
        public int Still { get; private set; }
        public int Late { get; private set; }
        public int Signal { get; }
        public int Reaction { get; }
        public double GasBefore, GaugeStillS, CutSince = -1;
    }

    public StartAdvisor(MachineContext context)
    {
        _engine = context.Signals.AddNumber("watch.engine", "", 1);
        _engines = [.. context.Aircraft.Engines.Select(e => new Watched(e.Id, context.Aircraft.EngineOf(e), context.Signals, Sight(context, e.Id)))];
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
    }

    public override void Slow(double dt)
    {
        var watched = 0;
        PaceS = Asleep;
        for (var i = 0; i < _engines.Length; i++)
        {
            var e = _engines[i];
            var starting = _v[e.Valve] > 0.5 || _v[e.Cycle] > 0.5 || _v[e.Fuel] > 0.5 && _v[e.N2] < e.Limits.IdleN2Pct - e.Limits.Advice.IdleBandPct;
            var advice = starting ? Judge(e, dt) : 0;
            Time(e, advice, dt);
            _v[e.Signal] = advice;
            PaceS = Math.Min(PaceS, Pace(e, starting, advice));
            watched = starting && (watched == 0 || All[advice].Urgency > Urgency.Stay) ? i + 1 : watched;
        }

        _v[_engine] = watched;
    }

    private double Pace(Watched e, bool starting, int advice)
    {
        if (!starting)
        {
            return _v[e.Fuel] > 0.5 ? Drifting : Asleep;
        }

        // Past its peak and nothing to say: there is time.
        return All[advice].Urgency == Urgency.Stay && _v[e.High] - _v[e.Gas] < CoolingC ? Easing : 0;
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

    private int Judge(Watched e, double dt)
    {
        var n2 = _v[e.N2];
        var fuel = _v[e.Fuel] > 0.5;
        var lit = _v[e.Lit] > 0.5;
        var blind = e.Sees is { On: false };
        // A gauge that does not move at all while the burning core accelerates is stuck.
        e.GaugeStillS = lit && _v[e.Cycle] > 0.5 && _v[e.Stuck] <= 0 && Math.Abs(_v[e.Gas] - e.GasBefore) < GaugeStillC ? e.GaugeStillS + dt : 0;
        e.GasBefore = _v[e.Gas];
        var sees = !blind && e.GaugeStillS < GaugeStillS;
        if (_v[e.Still] > 0.5)
        {
            return Place["no-rotation"];
        }

        if (lit && sees && _v[e.Cycle] > 0.5 && _v[e.Ahead] > e.Limits.StartLimitC)
        {
            return Place["hot"];
        }

        if (fuel && !lit && _v[e.Puddle] > e.Limits.Advice.Wet)
        {
            return Place["no-light"];
        }

        if (_v[e.Hung] > 0.5)
        {
            return Place["hung"];
        }

        if (fuel && n2 > e.Limits.Oil.MinByN2Pct && _v[e.Oil] < e.Limits.Oil.MinPsi)
        {
            return Place["no-oil"];
        }

        if (n2 > e.Limits.Advice.FanFromN2Pct && _v[e.Fan] < 0.5)
        {
            return Place["no-fan"];
        }

        if (lit && !sees)
        {
            return Place["gauge-still"];
        }

        if (_v[e.Late] > 0.5)
        {
            return Place["starter-late"];
        }

        if (fuel && !lit && _v[e.Puddle] > e.Limits.Advice.LateWet)
        {
            return Place["late-light"];
        }

        if (lit && _v[e.Cycle] > 0.5 && _v[e.Ahead] + HighShare * (_v[e.High] - _v[e.Ahead]) > e.Limits.StartLimitC - e.Limits.Advice.NearLimitC)
        {
            return Place["warm"];
        }

        if (!fuel && !lit && _v[e.Valve] > 0.5 && (_v[e.Puddle] > e.Limits.Advice.WetAgain || _v[e.Gas] > e.Limits.Advice.HotAgainC))
        {
            return Place["motors"];
        }

        if (_v[e.Stuck] > e.Limits.Advice.SlowAfterS)
        {
            return Place["slow"];
        }

        return fuel && n2 > e.Limits.Oil.MinByN2Pct - e.Limits.Advice.OilSoonPct && _v[e.Oil] < e.Limits.Oil.MinPsi ? Place["late-oil"] : Place["stay"];
    }
}
