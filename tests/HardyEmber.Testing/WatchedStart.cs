using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Testing;

/// <summary>One start of the scattered set, flown on whatever the watch said, and what it said; a hot one flown once more with its word obeyed.</summary>
public sealed class WatchedStart
{
    private const double NearC = 10, LongestS = 240;

    /// <summary>The pilot who obeys does it so long after the word.</summary>
    public const double ReactionS = 1.5;

    public required ScatteredStart Start { get; init; }
    // Run times, s; -1 for what never came.
    public double FuelAt { get; private set; } = -1;
    public double LightAt { get; private set; } = -1;
    public double OverAt { get; private set; } = -1;
    public double IdleAt { get; private set; } = -1;
    public double ReadyAt { get; private set; } = -1;
    public double CutAt { get; private set; } = -1;
    public double PeakC { get; private set; }
    public double LimitC { get; private set; }

    /// <summary>The peak where its word was obeyed; not a number where that was not flown.</summary>
    public double CutPeakC { get; private set; } = double.NaN;

    /// <summary>For so long it was told to stay while it lost speed; the shortest time that a word stood before a lesser one, s.</summary>
    public double LosesStayS { get; private set; }

    /// <inheritdoc cref="LosesStayS"/>
    public double ShortestS { get; private set; } = double.MaxValue;

    /// <summary>A "cut off" was taken back while fuel was on.</summary>
    public bool Withdrawn { get; private set; }

    /// <summary>What it was taken for five seconds after the light.</summary>
    public string Belief { get; private set; } = "";

    /// <summary>The flight was looked at until then; -1 where it went on until all was said.</summary>
    public double EndAt { get; private set; }

    /// <summary>Every command of the flight, the pilot's and those of the lever.</summary>
    public RunLog? Log { get; private set; }
    public List<(double At, int Word)> Words { get; } = [];
    public bool Hot => OverAt >= 0;
    public bool Near => Math.Abs(PeakC - LimitC) <= NearC;
    public bool Idle => IdleAt >= 0;
    public bool GaugeSound => Start.SticksAfterS is null;
    public bool SaidHot => Words.Exists(w => StartAdvisor.All[w.Word].Word == "hot");
    public string Fault => Start.SticksAfterS is not null ? "gauge-sticks" : Start.Header.Faults.Count > 0 ? Start.Header.Faults[0].Code : Start.CutAfterS is not null
        ? "second attempt" : "none";

    /// <summary>Its gauge lost its power while it had fuel: a battery was flat, an inverter let go.</summary>
    public bool Blinded { get; private set; }

    /// <summary>A cut-off is due however warm it is.</summary>
    public bool Grounds => Blinded || Fault is "gauge-sticks" or "starter-sticks" or "oil-pump" or "starter-shaft" or "igniter-dead";

    /// <summary>What it should be taken for, where there is one answer; a fault too small to be seen may pass for a sound start.</summary>
    public string[]? Truth => (Fault, Start.Header.Faults.Count > 0 ? Start.Header.Faults[0].Level : null) switch
    {
        ("none", _) => ["sound"],
        ("rich-control", var l) => l < 1.1 ? ["rich", "sound"] : ["rich"],
        ("lean-control", var l) => l > 0.9 ? ["lean", "sound"] : ["lean"],
        ("inlet-cover", var l) => l < 0.1 ? ["little-air", "sound"] : ["little-air"],
        ("weak-air", var l) => l > 0.85 ? ["weak-starter", "sound"] : ["weak-starter"],
        _ => null,
    };

    /// <summary>What is wrong with what was said; null where it was right.</summary>
    public string? Wrong()
    {
        if (Hot)
        {
            return CutAt < 0 ? Near && ReadyAt >= 0 ? null : "missed" : CutAt > OverAt ? Near && ReadyAt >= 0 && ReadyAt <= OverAt ? null : "late" : Withdrawn ? "withdrawn" : null;
        }

        if (CutAt >= 0 && SaidHot && !Near)
        {
            return "false hot";
        }

        if (Idle && CutAt >= 0 && !Grounds && !SaidHot)
        {
            return "false " + Words.Where(w => StartAdvisor.All[w.Word].Urgency == Urgency.CutOff).Select(w => StartAdvisor.All[w.Word].Word).First();
        }

        if (!Idle && CutAt < 0)
        {
            return "never cut off";
        }

        return LosesStayS > 1 ? "stay while it dies" : null;
    }

    /// <summary>Flies a start of the set; null where it never came to fuel.</summary>
    /// <param name="tell">Takes a line a look.</param>
    public static WatchedStart? Fly(int number, Action<string>? tell = null)
    {
        var start = ScatteredStart.Draw(number);
        if (start.SticksAfterS is { } after)
        {
            if (Fly(start, null, null) is not { FuelAt: >= 0 } sound)
            {
                return null;
            }

            start = start with { Header = start.Header with { Faults = [new RunFault("gauge-sticks", start.Side.Id, Math.Round(sound.FuelAt + after, 1))] } };
        }

        return Fly(start, tell);
    }

    /// <summary>Flies a start that was drawn or thought out; null where it never came to fuel.</summary>
    public static WatchedStart? Fly(ScatteredStart start, Action<string>? tell = null)
    {
        ArgumentNullException.ThrowIfNull(start);
        var said = Fly(start, null, tell);
        if (said is not { FuelAt: >= 0 })
        {
            return null;
        }

        var inWindow = start.FuelN2Pct is null || start.FuelN2Pct >= Repository.Fleet.FindAircraft(start.Header.Aircraft).Engine.FuelOnMinN2Pct;
        if (said.Hot && said.CutAt >= 0 && said.GaugeSound && inWindow && Fly(start, said.CutAt + ReactionS, null) is { } obeyed)
        {
            said.CutPeakC = obeyed.PeakC;
        }

        return said;
    }

    private static WatchedStart? Fly(ScatteredStart start, double? cutAt, Action<string>? tell)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, start.Header);
        var m = rehearsal.Machine;
        var (side, engine) = (start.Side, m.Aircraft.EngineOf(start.Side));
        int At(string name) => m.Signals.Find($"{side.Id}.{name}")!.Index;
        var (n2, gas, lit, fuel, valve, word, gauge) = (At("n2"), At("egt-true"), At("lit"), At("fuel-valve"), At("starter-valve"), At("advice"), At("egt"));
        var v = m.Signals.Values;
        // Where the type fuels by itself, the lever begins the whole cycle.
        var byHand = engine.FuelOnMaxN2Pct > engine.FuelOnMinN2Pct;
        var forgets = !byHand || start.FuelN2Pct is null && start.CutAfterS is null ? null
            : rehearsal.Tracker.Steps.Where(s => s.Definition.Act.Set == side.Throttle && s.Definition.Act.To != side.CutOff).Select(s => s.Id).ToHashSet();
        var pilot = new ScriptedPilot(rehearsal, new PilotTraits(CutsOff: false, Forgets: forgets));
        var levers = new List<RunCommand>();
        void Lever(string to)
        {
            levers.Add(new RunCommand(m.StepIndex, CommandKind.Set, side.Throttle, to));
            rehearsal.Apply(levers[^1]);
        }

        void Goes(double seconds)
        {
            var until = m.Time + seconds;
            _ = pilot.FlyUntil(() => m.Time >= until);
        }

        var given = rehearsal.Tracker.Steps.First(s => s.Definition.Act.Set == side.Throttle && s.Definition.Act.To != side.CutOff).Definition.Act.To!;
        if (forgets is not null)
        {
            var at = start.FuelN2Pct ?? engine.FuelOnN2Pct["patient"];
            var waits = start.CutAfterS is null ? 0 : 1;
            bool Fuelled() => v[valve] > 0.5 && v[n2] >= at || m.Time > 900;
            for (; waits >= 0; waits--)
            {
                _ = pilot.FlyUntil(Fuelled);
                if (m.Ended || m.Time > 900)
                {
                    return null;
                }

                Lever(given);
                if (waits > 0)
                {
                    Goes(start.CutAfterS!.Value);
                    Lever(side.CutOff);
                    Goes(start.MotoredS);
                    at = Math.Max(start.FuelN2Pct ?? engine.FuelOnMinN2Pct, engine.FuelOnMinN2Pct);
                }
            }
        }
        else
        {
            _ = pilot.FlyUntil(() => v[fuel] > 0.5 || m.Time > 900);
            if (m.Ended || v[fuel] < 0.5)
            {
                return null;
            }

            if (start.CutAfterS is { } cut)
            {
                Goes(cut);
                Lever(side.CutOff);
                Goes(start.MotoredS);
                Lever(given);
                _ = pilot.FlyUntil(() => v[fuel] > 0.5 || m.Time > 900);
                if (m.Ended || v[fuel] < 0.5)
                {
                    return null;
                }
            }
        }

        return Watch(m, pilot, start, engine, (n2, gas, lit, fuel, word, gauge), cutAt, Lever, levers, tell);
    }

    private static WatchedStart Watch(Machine m, ScriptedPilot pilot, ScatteredStart start, EngineDefinition engine,
        (int N2, int Gas, int Lit, int Fuel, int Word, int Gauge) at, double? cutAt, Action<string> lever, List<RunCommand> levers, Action<string>? tell)
    {
        var v = m.Signals.Values;
        var gaugeBus = m.Aircraft.Gauges.First(g => g.Signal == $"{start.Side.Id}.egt").Bus is { } bus ? m.Signals.Find($"bus.{bus}.live")!.Index : -1;
        var said = new WatchedStart { Start = start, FuelAt = m.Time, LimitC = engine.StartLimitC };
        var (n2Before, topN2, losesS, wordAt, last) = (v[at.N2], 0.0, 0.0, m.Time, -1);
        while (!m.Ended && m.Time < said.FuelAt + LongestS)
        {
            var until = m.StepIndex + Steps.PerTick;
            _ = pilot.FlyUntil(() => m.StepIndex >= until || cutAt is { } c && m.Time >= c);
            if (cutAt is { } due && m.Time >= due)
            {
                lever(start.Side.CutOff);
                cutAt = null;
            }

            said.Blinded |= gaugeBus >= 0 && v[gaugeBus] < 0.5 && v[at.Fuel] > 0.5;
            var (t, word) = (m.Time, (int)v[at.Word]);
            var advice = StartAdvisor.All[word];
            if (word != last)
            {
                if (last > 0 && said.Words.Count > 1 && advice.Urgency <= StartAdvisor.All[last].Urgency && v[at.Fuel] > 0.5)
                {
                    said.ShortestS = Math.Min(said.ShortestS, t - wordAt);
                }

                said.Withdrawn |= last >= 0 && StartAdvisor.All[last].Urgency == Urgency.CutOff && advice.Urgency < Urgency.CutOff && v[at.Fuel] > 0.5 && !said.Idle;
                said.Words.Add((t, word));
                (last, wordAt) = (word, t);
            }

            said.PeakC = Math.Max(said.PeakC, said.Idle ? 0 : v[at.Gas]);
            said.LightAt = said.LightAt < 0 && v[at.Lit] > 0.5 ? t : said.LightAt;
            said.OverAt = said.OverAt < 0 && v[at.Gas] > engine.StartLimitC && v[at.Fuel] > 0.5 ? t : said.OverAt;
            said.ReadyAt = said.ReadyAt < 0 && advice.Urgency == Urgency.BeReady ? t : said.ReadyAt;
            said.CutAt = said.CutAt < 0 && advice.Urgency == Urgency.CutOff ? t : said.CutAt;
            said.IdleAt = said.IdleAt < 0 && v[at.N2] > engine.IdleN2Pct - 1.5 && v[at.Lit] > 0.5 ? t : said.IdleAt;
            if (said.Belief.Length == 0 && said.LightAt >= 0 && t >= said.LightAt + 5 && v[at.Fuel] > 0.5)
            {
                said.Belief = StartForecast.Beliefs[(int)m[$"{start.Side.Id}.belief"]].Word;
            }

            topN2 = Math.Max(topN2, v[at.N2]);
            losesS = said.LightAt >= 0 && !said.Idle && v[at.N2] < n2Before - 0.02 && v[at.N2] < topN2 - 0.3 && advice.Word == "stay" ? losesS + 0.2 : 0;
            said.LosesStayS = Math.Max(said.LosesStayS, losesS);
            n2Before = v[at.N2];
            if (tell is not null)
            {
                tell(string.Create(CultureInfo.InvariantCulture,
                    $"{t - said.FuelAt,6:0.0} n2 {v[at.N2],5:0.0} gas {v[at.Gas],5:0} gauge {v[at.Gauge],5:0} lit {v[at.Lit]} {advice.Word}"));
            }

            if (said.Idle && t > said.IdleAt + 3 || said.Hot && t > said.OverAt + 4 || said.EndAt > 0 && t > said.EndAt)
            {
                break;
            }

            if (said.LightAt >= 0 && v[at.Lit] < 0.5 && said.EndAt <= 0)
            {
                said.EndAt = t + 8;
            }
        }

        said.Log = new RunLog(m.Header, [.. pilot.Log.Concat(levers).OrderBy(c => c.Step), new RunCommand(m.StepIndex, CommandKind.End)]);
        return said;
    }
}
