using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>How often the adviser's word is right: scattered starts over all types, each flown on whatever it says, and the hot ones once more with its word obeyed.</summary>
internal static class AdviceBench
{
    private const double NearC = 10, ReactionS = 1.5, LongestS = 240, FlashS = 0.6;

    /// <summary>What one start was, and what was said of it.</summary>
    private sealed class Said
    {
        public required ScatteredStart Start { get; init; }
        public double FuelAt = -1, LightAt = -1, OverAt = -1, IdleAt = -1, PeakC, LimitC, ReadyAt = -1, CutAt = -1, LosesStayS, ShortestS = double.MaxValue, CutPeakC = double.NaN, EndAt;
        public bool Withdrawn;
        public string Belief = "";
        public List<(double At, int Word)> Words { get; } = [];
        public bool Hot => OverAt >= 0;
        public bool Near => Math.Abs(PeakC - LimitC) <= NearC;
        public bool Idle => IdleAt >= 0;
        public bool GaugeSound => Start.SticksAfterS is null;
        public bool SaidHot => Words.Exists(w => StartAdvisor.All[w.Word].Word == "hot");
        public string Fault => Start.SticksAfterS is not null ? "gauge-sticks" : Start.Header.Faults.Count > 0 ? Start.Header.Faults[0].Code : Start.CutAfterS is not null ? "second attempt" : "none";

        /// <summary>Fault for which a cut-off is due however warm it is.</summary>
        public bool Grounds => Fault is "gauge-sticks" or "starter-sticks" or "oil-pump" or "starter-shaft" or "igniter-dead";

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
    }

    public static void Run(int count)
    {
        var all = new Said?[count];
        _ = Parallel.For(0, count, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, i => all[i] = Fly(i));
        List<Said> said = [.. all.OfType<Said>()];
        Console.WriteLine($"{said.Count} starts of {count} drawn reached the fuel; {said.Count(s => s.Hot)} hot, {said.Count(s => s.Start.ByTheBook)} by the book");
        Share("right", said, s => s.Wrong() is null);
        Share("right by the book", said.Where(s => s.Start.ByTheBook), s => s.Wrong() is null);
        var hot = said.Where(s => s.Hot).ToList();
        Share("missed", hot, s => s.Wrong() == "missed");
        Share("late", hot, s => s.Wrong() == "late");
        Share("false hot", said.Where(s => !s.Hot), s => s.Wrong() == "false hot");
        Console.WriteLine($"  furthest under the limit: {said.Where(s => s.Wrong() == "false hot").Select(s => s.LimitC - s.PeakC).DefaultIfEmpty(0).Max():0} °C");
        Share("be ready a second before", hot.Where(s => s.CutAt >= 0 && s.SaidHot && s.LightAt >= 0 && s.OverAt - s.LightAt > ReactionS + 1.6), s => s.ReadyAt >= 0 && s.CutAt - s.ReadyAt >= 0.99);
        Share("obeyed after 1.5 s, under limit + 30", hot.Where(s => !double.IsNaN(s.CutPeakC)), s => s.CutPeakC <= s.LimitC + 30);
        Share("taken for what it is, five seconds after the light", said.Where(s => s.Truth is not null && s.Belief.Length > 0), s => s.Truth!.Contains(s.Belief));
        foreach (var group in said.Where(s => s.Truth is not null && s.Belief.Length > 0 && !s.Truth.Contains(s.Belief)).GroupBy(s => $"{s.Fault} for {s.Belief}").OrderByDescending(g => g.Count()).Take(6))
        {
            Console.WriteLine($"  {group.Count()} {group.Key}: {string.Join(", ", group.GroupBy(s => s.Start.Header.Aircraft).OrderByDescending(g => g.Count()).Take(4).Select(g => $"{g.Key} {g.Count()}"))}; as {string.Join(" ", group.Take(4).Select(s => s.Start.Number))}");
        }

        var over = hot.Where(s => s.CutPeakC > s.LimitC + 30).ToList();
        Console.WriteLine($"  over it: {string.Join(", ", over.GroupBy(s => $"{s.Start.Header.Aircraft} {s.Fault}").OrderByDescending(g => g.Count()).Take(12).Select(g => $"{g.Key} {g.Count()}"))}; as {string.Join(" ", over.Take(12).Select(s => s.Start.Number))}");
        Share("a word flashed for less than 0.6 s", said, s => s.ShortestS < FlashS - 0.01);
        foreach (var group in said.Where(s => s.Wrong() is not null).GroupBy(s => $"{s.Wrong()}, {s.Fault}").OrderByDescending(g => g.Count()).Take(16))
        {
            Console.WriteLine($"  {group.Count(),5} {group.Key}: {string.Join(", ", group.GroupBy(s => s.Start.Header.Aircraft).OrderByDescending(g => g.Count()).Select(g => $"{g.Key} {g.Count()}"))}; as {string.Join(" ", group.Take(5).Select(s => s.Start.Number))}");
        }
    }

    /// <summary>Tells one start of the set, second by second.</summary>
    public static void Tell(int number)
    {
        var s = Fly(number, tell: true);
        Console.WriteLine(s is null ? "it never reached the fuel" : string.Create(CultureInfo.InvariantCulture,
            $"{s.Start.Header.Aircraft} {s.Start.Header.Place} {s.Start.Header.Conditions} {s.Fault} {string.Join(' ', s.Start.Header.Faults)} fuel {s.Start.FuelN2Pct} cut {s.Start.CutAfterS} motored {s.Start.MotoredS:0}: {s.Wrong() ?? "right"}; peak {s.PeakC:0} of {s.LimitC}, over {s.OverAt:0.0}, idle {s.IdleAt:0.0}, cut {s.CutAt:0.0}, cut peak {s.CutPeakC:0}"));
    }

    private static void Share(string what, IEnumerable<Said> of, Func<Said, bool> which)
    {
        var list = of.ToList();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what}: {(list.Count == 0 ? 0 : 100.0 * list.Count(which) / list.Count):0.00} % ({list.Count(which)} of {list.Count})"));
    }

    private static Said? Fly(int number, bool tell = false)
    {
        var start = ScatteredStart.Draw(number);
        if (start.SticksAfterS is { } after)
        {
            if (Fly(start, null, false) is not { FuelAt: >= 0 } sound)
            {
                return null;
            }

            start = start with { Header = start.Header with { Faults = [new RunFault("gauge-sticks", start.Side.Id, Math.Round(sound.FuelAt + after, 1))] } };
        }

        var said = Fly(start, null, tell);
        if (said is not { FuelAt: >= 0 })
        {
            return null;
        }

        var inWindow = start.FuelN2Pct is null || start.FuelN2Pct >= Repository.Fleet.FindAircraft(start.Header.Aircraft).Engine.FuelOnMinN2Pct;
        if (said.Hot && said.CutAt >= 0 && said.GaugeSound && inWindow && Fly(start, said.CutAt + ReactionS, false) is { } obeyed)
        {
            said.CutPeakC = obeyed.PeakC;
        }

        return said;
    }

    private static Said? Fly(ScatteredStart start, double? cutAt, bool tell)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, start.Header);
        var m = rehearsal.Machine;
        var (side, engine) = (start.Side, m.Aircraft.EngineOf(start.Side));
        int At(string name) => m.Signals.Find($"{side.Id}.{name}")!.Index;
        var (n2, gas, lit, fuel, valve, word, gauge) = (At("n2"), At("egt-true"), At("lit"), At("fuel-valve"), At("starter-valve"), At("advice"), At("egt"));
        var v = m.Signals.Values;
        var forgets = start.FuelN2Pct is null && start.CutAfterS is null ? null
            : rehearsal.Tracker.Steps.Where(s => s.Definition.Act.Set == side.Throttle && s.Definition.Act.To != side.CutOff).Select(s => s.Id).ToHashSet();
        var pilot = new ScriptedPilot(rehearsal, new PilotTraits(CutsOff: false, Forgets: forgets));
        void Lever(string to) => rehearsal.Apply(new RunCommand(m.StepIndex, CommandKind.Set, side.Throttle, to));
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
                    var until = m.Time + start.CutAfterS!.Value;
                    _ = pilot.FlyUntil(() => m.Time >= until);
                    Lever(side.CutOff);
                    until = m.Time + start.MotoredS;
                    _ = pilot.FlyUntil(() => m.Time >= until);
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
        }

        return Watch(m, pilot, start, engine, (n2, gas, lit, fuel, word, gauge), cutAt, Lever, tell);
    }

    private static Said Watch(Machine m, ScriptedPilot pilot, ScatteredStart start, EngineDefinition engine,
        (int N2, int Gas, int Lit, int Fuel, int Word, int Gauge) at, double? cutAt, Action<string> lever, bool tell)
    {
        var v = m.Signals.Values;
        var said = new Said { Start = start, FuelAt = m.Time, LimitC = engine.StartLimitC };
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
            if (tell)
            {
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{t - said.FuelAt,6:0.0} n2 {v[at.N2],5:0.0} gas {v[at.Gas],5:0} gauge {v[at.Gauge],5:0} lit {v[at.Lit]} {advice.Word}"));
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

        return said;
    }
}
