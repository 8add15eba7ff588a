using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Judging;

/// <summary>How an attempt to start an engine ended.</summary>
public enum StartOutcome
{
    /// <summary>It still goes on.</summary>
    Open,
    Idle,

    /// <summary>Fuel was given and taken away before idle.</summary>
    CutOff,

    /// <summary>Cranked without fuel.</summary>
    Motored,
}

/// <summary>One attempt to start an engine, in the numbers worth keeping. Times in seconds, temperatures in °C.</summary>
/// <param name="At">Run time at which the crank began (in the air: at which fuel was given).</param>
/// <param name="FuelS">From crank to fuel.</param>
/// <param name="FuelN2Pct">Core speed at which fuel was given.</param>
/// <param name="LightS">From fuel to light-off.</param>
/// <param name="PeakS">From light-off to the peak.</param>
/// <param name="OverLimitS">Seconds above the start limit.</param>
/// <param name="OverSettledS">Seconds above the limit for a settled engine.</param>
/// <param name="IdleS">From crank to idle.</param>
/// <param name="StarterS">Seconds the starter worked.</param>
/// <param name="MarginC">Start limit less the peak.</param>
/// <param name="Worst">The gravest advice given, a word of <see cref="StartAdvisor.All"/>.</param>
/// <param name="ReactionS">From the first "cut off" to the shut fuel valve.</param>
/// <param name="ForetoldC">The peak that the watch foretold a second after the light, as if nothing were done.</param>
/// <param name="TakenFor">What the watch took the start for five seconds after the light, or when it was cut: a text of <see cref="StartForecast.Beliefs"/>.</param>
/// <param name="TakenShare">How sure it was of that, 0 to 1.</param>
public sealed record StartCard(string Engine, int Attempt, StartOutcome Outcome, double At, double? FuelS, double? FuelN2Pct, double? LightS, double PeakC,
    double? PeakS, double OverLimitS, double OverSettledS, double? IdleS, double StarterS, double MarginC, string Worst, double? ReactionS,
    double? ForetoldC = null, string? TakenFor = null, double? TakenShare = null);

/// <summary>Fills a <see cref="StartCard"/> for every attempt of a run; it looks five times a second, with the judge.</summary>
public sealed class StartRecorder
{
    private const double ForetoldAfterS = 1, TakenAfterS = 5;
    private readonly Machine _machine;
    private readonly Recorded[] _engines;
    private readonly List<StartCard> _cards = [];
    private double _lookedAt;

    private sealed class Recorded(string id, Machine m)
    {
        public string Id { get; } = id;
        public EngineDefinition Limits { get; } = m.Aircraft.EngineOf(id);
        public int N2 { get; } = Index(m, id, "n2");
        public int Gas { get; } = Index(m, id, "egt-true");
        public int Peak { get; } = Index(m, id, "egt-highest");
        public int Valve { get; } = Index(m, id, "starter-valve");
        public int Fuel { get; } = Index(m, id, "fuel-valve");
        public int Lit { get; } = Index(m, id, "lit");
        public int Starter { get; } = Index(m, id, "starter-time");
        public int Over { get; } = Index(m, id, "over-limit-total");
        public int Advice { get; } = Index(m, id, "advice");
        public int Forecast { get; } = Index(m, id, "egt-forecast");
        public int Belief { get; } = Index(m, id, "belief");
        public int Share { get; } = Index(m, id, "belief-share");
        public bool Open, HadFuel, Cranked;
        public int Attempts, Worst, TakenFor;
        public double At, FuelAt, FuelN2, LitAt, PeakC, PeakAt, OverFrom, Settled, StarterFrom, CutAt, EndAt, ForetoldC, TakenShare;

        private static int Index(Machine m, string id, string name) => m.Signals.Find($"{id}.{name}")!.Index;
    }

    public StartRecorder(Machine machine)
    {
        _machine = machine ?? throw new ArgumentNullException(nameof(machine));
        _engines = [.. machine.Aircraft.Engines.Select(e => new Recorded(e.Id, machine))];
    }

    /// <summary>All attempts so far, the oldest first; one that still goes on comes last.</summary>
    public IReadOnlyList<StartCard> Cards => [.. _cards, .. _engines.Where(e => e.Open).Select(e => Card(e, StartOutcome.Open))];

    public void Look()
    {
        var v = _machine.Signals.Values;
        var t = _machine.Time;
        foreach (var e in _engines)
        {
            var fuel = v[e.Fuel] > 0.5;
            var cranked = v[e.Valve] > 0.5;
            // Cranking on after a cut blows the core out and belongs to no attempt, until fuel is given again.
            var begins = cranked && !e.Cranked || fuel && (cranked || _machine.Header.Flight is not null);
            e.Cranked = cranked;
            if (!e.Open && begins && v[e.Lit] < 0.5 && v[e.N2] < e.Limits.IdleN2Pct - 2 * e.Limits.Advice.IdleBandPct)
            {
                Begin(e, v, t);
            }

            if (e.Open)
            {
                Follow(e, v, t, fuel);
            }
        }

        _lookedAt = t;
    }

    private static void Begin(Recorded e, double[] v, double t)
    {
        (e.Open, e.HadFuel, e.Worst) = (true, false, 0);
        e.Attempts++;
        (e.At, e.FuelAt, e.LitAt, e.CutAt, e.EndAt) = (t, -1, -1, -1, -1);
        (e.PeakC, e.PeakAt, e.Settled) = (v[e.Gas], t, 0);
        (e.ForetoldC, e.TakenFor, e.TakenShare) = (0, 0, 0);
        (e.OverFrom, e.StarterFrom) = (v[e.Over], v[e.Starter] < 0.3 ? 0 : v[e.Starter]);
    }

    private void Follow(Recorded e, double[] v, double t, bool fuel)
    {
        if (fuel && !e.HadFuel)
        {
            (e.HadFuel, e.FuelAt, e.FuelN2) = (true, t, v[e.N2]);
        }

        if (v[e.Lit] > 0.5 && e.LitAt < 0)
        {
            (e.LitAt, e.PeakC, e.PeakAt) = (t, v[e.Gas], t);
        }

        if (v[e.Gas] > e.PeakC)
        {
            (e.PeakC, e.PeakAt) = (v[e.Gas], t);
        }

        Foretell(e, v, t);
        e.Settled += v[e.Gas] > e.Limits.SettledLimitC ? t - _lookedAt : 0;
        var advice = (int)v[e.Advice];
        e.Worst = StartAdvisor.Gravity(advice) > StartAdvisor.Gravity(e.Worst) ? advice : e.Worst;
        if (StartAdvisor.All[advice].Urgency == Urgency.CutOff && e.CutAt < 0)
        {
            e.CutAt = t;
        }

        var outcome = fuel && v[e.N2] > e.Limits.IdleN2Pct - e.Limits.Advice.IdleBandPct ? StartOutcome.Idle
            : e.HadFuel && !fuel ? StartOutcome.CutOff
            : !e.HadFuel && v[e.Valve] < 0.5 && !fuel ? StartOutcome.Motored
            : StartOutcome.Open;
        if (outcome == StartOutcome.Open)
        {
            return;
        }

        e.EndAt = t;
        _cards.Add(Card(e, outcome));
        e.Open = false;
    }

    private static void Foretell(Recorded e, double[] v, double t)
    {
        if (e.LitAt >= 0 && e.ForetoldC <= 0 && t >= e.LitAt + ForetoldAfterS)
        {
            e.ForetoldC = v[e.Forecast];
        }

        if (v[e.Belief] > 0 && (e.LitAt < 0 || t <= e.LitAt + TakenAfterS))
        {
            (e.TakenFor, e.TakenShare) = ((int)v[e.Belief], v[e.Share] / 100);
        }
    }

    private StartCard Card(Recorded e, StartOutcome outcome)
    {
        var v = _machine.Signals.Values;
        // The machine knows its highest temperature to the step; between two looks a degree may pass.
        var peak = Math.Round(Math.Abs(v[e.Peak] - e.PeakC) < 3 ? v[e.Peak] : e.PeakC);
        double? Since(double from, double to) => from < 0 || to < 0 ? null : Math.Round(to - from, 1);
        return new StartCard(e.Id, e.Attempts, outcome, Math.Round(e.At, 1), Since(e.At, e.FuelAt), e.HadFuel ? Math.Round(e.FuelN2, 1) : null, Since(e.FuelAt, e.LitAt), peak,
            Since(e.LitAt, e.PeakAt), Math.Round(v[e.Over] - e.OverFrom, 1), Math.Round(e.Settled, 1), outcome == StartOutcome.Idle ? Since(e.At, e.EndAt) : null,
            Math.Round(Math.Max(0, v[e.Starter] - e.StarterFrom), 1), e.Limits.StartLimitC - peak, StartAdvisor.All[e.Worst].Word,
            outcome == StartOutcome.CutOff ? Since(e.CutAt, e.EndAt) : null, e.ForetoldC > 0 ? Math.Round(e.ForetoldC) : null,
            e.TakenFor > 0 ? StartForecast.Beliefs[e.TakenFor].Text : null, e.TakenFor > 0 ? Math.Round(e.TakenShare, 2) : null);
    }
}
