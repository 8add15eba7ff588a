using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What good practitioners do differently: every choice can be flown, is carried by cues and judge, and has its price.</summary>
public sealed class SchoolTests
{
    public static TheoryData<string> Procedures => [.. Repository.Fleet.Procedures.Where(p => p.Beginnings.Contains("first")).Select(p => p.Id)];

    private static RunHeader With(string aircraft, params (string Question, string Answer)[] school) =>
        Situations.Taught(aircraft, school);

    private static (Rehearsal Rehearsal, RunLog Log) Fly(RunHeader header, Action<Rehearsal>? look = null)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var pilot = new ScriptedPilot(rehearsal);
        pilot.FlyUntil(() =>
        {
            look?.Invoke(rehearsal);
            return rehearsal.Machine.Time > 1500;
        });
        return (rehearsal, new RunLog(header, [.. pilot.Log]));
    }

    /// <summary>Every choice with every choice of each other question: who spares the auxiliary unit may also wait for the whole idle check.</summary>
    [Theory]
    [MemberData(nameof(Procedures))]
    public void Every_school_of_every_type_can_be_flown(string id)
    {
        var procedure = Repository.Fleet.Procedures.Single(p => p.Id == id);
        foreach (var school in AllPairs([.. procedure.Schools.Select(q => q.Answers.Count)])
            .Select(s => s.Select((a, q) => (procedure.Schools[q].Id, procedure.Schools[q].Answers[a].Id)).ToArray()))
        {
            var judgement = Fly(With(procedure.Aircraft, school)).Rehearsal.Judge.Conclude();
            var worse = judgement.Findings.Where(f => f.Severity > Severity.Note).Select(f => f.What).ToList();
            Assert.True(judgement.Verdict == Verdict.LaunchReady && worse.Count == 0, $"{id} {string.Join(' ', school)}: {judgement.Sentence} {string.Join("; ", worse)}");
        }
    }

    [Fact]
    public void Few_schools_hold_every_pair_of_answers()
    {
        int[] answers = [2, 3, 2, 2, 4, 2, 2, 2];
        var schools = AllPairs(answers).ToList();
        for (var q = 0; q < answers.Length; q++)
        {
            for (var p = 0; p < q; p++)
            {
                Assert.Equal(answers[q] * answers[p], schools.Select(s => (s[q], s[p])).Distinct().Count());
            }
        }

        Assert.InRange(schools.Count, 12, 18); // of 768
    }

    /// <summary>Choices, an answer a question, so that each two answers of different questions stand together in one of them at least. Greedy: each
    /// takes the answers that bring the most pairs not yet met.</summary>
    private static IEnumerable<int[]> AllPairs(int[] answers)
    {
        var open = new HashSet<(int Q, int A, int P, int B)>(
            from q in Enumerable.Range(0, answers.Length)
            from p in Enumerable.Range(0, q)
            from a in Enumerable.Range(0, answers[q])
            from b in Enumerable.Range(0, answers[p])
            select (q, a, p, b));
        if (answers.Length < 2)
        {
            return [.. Enumerable.Range(0, answers.FirstOrDefault(1)).Select(a => answers.Select(_ => a).ToArray())];
        }

        var all = new List<int[]>();
        while (open.Count > 0)
        {
            var (firstQ, firstA, firstP, firstB) = open.Min();
            var chosen = new int[answers.Length];
            Array.Fill(chosen, -1);
            (chosen[firstQ], chosen[firstP]) = (firstA, firstB);
            for (var q = 0; q < answers.Length; q++)
            {
                if (chosen[q] < 0)
                {
                    chosen[q] = Enumerable.Range(0, answers[q]).MaxBy(a => Enumerable.Range(0, answers.Length)
                        .Count(p => chosen[p] >= 0 && open.Contains(q > p ? (q, a, p, chosen[p]) : (p, chosen[p], q, a))));
                }
            }

            all.Add(chosen);
            open.RemoveWhere(pair => chosen[pair.Q] == pair.A && chosen[pair.P] == pair.B);
        }

        return all;
    }

    /// <summary>The same hands, judged by the school they followed and by the other one.</summary>
    [Theory]
    [InlineData("juniper", "avionics", "between", "after", "out-of-order", "displays-on")]
    [InlineData("juniper", "avionics", "between", "after", "out-of-order", "align")]
    [InlineData("burdock", "avionics", "between", "after", "out-of-order", "align")]
    [InlineData("juniper", "secondEngine", "lamp", "check", "out-of-order", "crank-second")]
    [InlineData("alder", "secondEngine", "lamp", "check", "omitted", "check-oil-first")]
    [InlineData("teasel", "secondEngine", "lamp", "check", "out-of-order", "crank-second")]
    [InlineData("burdock", "secondEngine", "lamp", "check", "omitted", "check-pressure-first")]
    [InlineData("alder", "auxOff", "itself", "hand", "omitted", "aux-off")]
    [InlineData("juniper", "secondAir", "same", "bleed", "out-of-order", "crank-second")]
    [InlineData("juniper", "startAir", "unit", "cart", "omitted", "air-cart-away")]
    [InlineData("alder", "startAir", "unit", "cart", "omitted", "air-cart-away")]
    [InlineData("juniper", "radar", "off", "standby", "omitted", "radar-standby")]
    [InlineData("bramble", "radar", "standby", "off", "omitted", "radar-off")]
    [InlineData("juniper", "trim", "standard", "weight", "omitted", "trim")]
    [InlineData("burdock", "altimeter", "field", "sea", "omitted", "altimeter")]
    [InlineData("tansy", "altimeter", "sea", "field", "omitted", "altimeter-field")]
    [InlineData("sedge", "altimeter", "standard", "field", "omitted", "altimeter-field")]
    public void The_judge_holds_hands_to_the_school_they_chose(string aircraft, string question, string flown, string other, string code, string step)
    {
        var log = Fly(With(aircraft, (question, flown))).Log;
        IEnumerable<(string, string?)> Found(string answer) => Rehearsal.Replay(Repository.Fleet, log with { Header = With(aircraft, (question, answer)) })
            .Judge.Conclude().Findings.Where(f => f.Severity > Severity.Note).Select(f => (f.Code, f.Step));
        Assert.Empty(Found(flown));
        Assert.Contains((code, step), Found(other));
    }

    /// <summary>A shorter list names what it leaves out, each check with the fault it would have shown; a choice that leaves nothing out names nothing.</summary>
    [Theory]
    [InlineData("juniper", "short", "Hold the fuel gauge test", "fuel gauge", "lamp test")]
    [InlineData("juniper", "fire", "Hold the lamp test", "bulb", "fire test")]
    [InlineData("juniper", "short", "Set the probe out", "does not move", "self-test")]
    [InlineData("alder", "short", "Cut the trim’s power", "trim runs away", "lamp test")]
    [InlineData("bramble", "fire", "Hold the flight-control self-test", "channel sick", "fire and overheat")]
    [InlineData("alder", "fire", "Hold the oxygen alarm test", "oxygen leak", "fire test")]
    public void A_short_list_names_what_it_gives_up(string aircraft, string answer, string check, string fault, string kept)
    {
        var outlook = StartOutlook.For(Repository.Fleet, Situations.Calm with { Aircraft = aircraft }, [], 0);
        var given = outlook.Options.Single(o => o is { Question: "selfTests" } && o.Answer == answer);
        Assert.Contains(given.GivesUp, g => g.StartsWith(check, StringComparison.Ordinal) && g.Contains(fault, StringComparison.Ordinal));
        Assert.DoesNotContain(given.GivesUp, g => g.Contains(kept, StringComparison.Ordinal));
        Assert.True(given.Figures.ReadyS <= outlook.AsPlanned.ReadyS + 1, $"{given.Figures.ReadyS} against {outlook.AsPlanned.ReadyS}");
        Assert.All(outlook.Options.Where(o => o.Question is "canopy" or "altimeter" or "fuelOn" or "trim"), o => Assert.Empty(o.GivesUp));
    }

    /// <summary>What the dial is set to: the sea's, the field's, the same everywhere; the field's is lower by the height of the field.</summary>
    [Theory]
    [InlineData("skerrow-main", "A1", "sea", 987)]
    [InlineData("skerrow-main", "A1", "field", 983)]
    [InlineData("tarn-hollow", "H1", "field", 829)]
    [InlineData("tarn-hollow", "H1", "standard", 1013)]
    public void The_altimeter_is_set_as_the_school_says(string place, string spot, string answer, double hpa)
    {
        var header = With("juniper", ("altimeter", answer)) with { Place = place, Spot = spot };
        var rehearsal = new Rehearsal(Repository.Fleet, header with { Conditions = header.Conditions with { QnhHpa = 987 } });
        Assert.Equal(hpa, rehearsal.Machine["numbers.altimeter"]);
        _ = new ScriptedPilot(rehearsal).Fly();
        Assert.Equal(hpa, rehearsal.Machine["altimeter"]);
        Assert.Equal(Verdict.LaunchReady, rehearsal.Judge.Conclude().Verdict);
    }

    /// <summary>One figure for all days is right near one weight: far from it the debrief says so, and the jet is ready all the same.</summary>
    [Theory]
    [InlineData(11_000, 0, true)]
    [InlineData(11_000, 7_000, false)]
    public void The_standard_trim_is_right_near_one_weight(double fuelLb, double storesLb, bool far)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, With("juniper", ("trim", "standard")) with { Loading = new LoadingHeader(fuelLb, storesLb) });
        _ = new ScriptedPilot(rehearsal).Fly();
        var judged = rehearsal.Judge.Conclude();
        Assert.Equal((Verdict.LaunchReady, far), (judged.Verdict, judged.Findings.Any(f => f.Code == "trim-far")));
    }

    [Theory]
    [InlineData("juniper", "left", "off", "cross-feed")]
    [InlineData("alder", "right", "shut", "cross-feed")]
    public void Cross_bleed_turns_the_second_core_by_the_first_alone_and_is_put_back(string aircraft, string second, string off, string crossFeed)
    {
        var first = second == "left" ? "right" : "left";
        double unit = 0, slowest = 100, cranked = 0;
        var (rehearsal, _) = Fly(With(aircraft, ("secondAir", "bleed")), r =>
        {
            if (r.Machine[$"{second}.starter-valve"] > 0.5)
            {
                (unit, slowest, cranked) = (Math.Max(unit, r.Machine["aux.n"]), Math.Min(slowest, r.Machine[$"{first}.n2"]), cranked + 1);
            }
        });
        Assert.True(cranked > 500, $"{cranked} steps");
        Assert.True(unit < 90, $"the unit still turned at {unit} %");
        Assert.True(slowest > 75, $"the first engine gave bleed at {slowest} %");
        Assert.Equal(off, rehearsal.Machine.Signals.Find(crossFeed)!.Positions[(int)rehearsal.Machine[crossFeed]]);
        Assert.Equal("idle", rehearsal.Machine.Signals.Find($"throttle-{first}")!.Positions[(int)rehearsal.Machine[$"throttle-{first}"]]);
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("alder")]
    public void With_the_air_cart_the_auxiliary_unit_is_never_fired(string aircraft)
    {
        double unit = 0;
        Fly(With(aircraft, ("startAir", "cart")), r => unit = Math.Max(unit, r.Machine["aux.n"]));
        Assert.Equal(0, unit);
    }

    [Fact]
    public void Schools_side_by_side_cost_what_flying_both_costs()
    {
        var outlook = StartOutlook.For(Repository.Fleet, Situations.Calm, [], 0);
        var early = outlook.Options.Single(o => o is { Question: "fuelOn", Answer: "early" }).Figures;
        Assert.True(early.PeakC > outlook.AsPlanned.PeakC + 20 && early.StarterS < outlook.AsPlanned.StarterS, $"{early} against {outlook.AsPlanned}");
        var flown = Fly(With("juniper", ("fuelOn", "early"))).Rehearsal;
        Assert.Equal(flown.Starts.Cards.Max(c => c.PeakC), early.PeakC);
        Assert.Equal(flown.Machine.Time, early.ReadyS!.Value, 0.1);
    }

    /// <summary>By how many seconds the other answer makes the jet ready later, and its starters work longer.</summary>
    [Theory]
    [InlineData("juniper", "avionics", "after", 60, 120, -2, 2)]
    [InlineData("burdock", "avionics", "after", 60, 120, -2, 2)]
    [InlineData("juniper", "secondEngine", "check", 2, 20, -2, 2)]
    [InlineData("teasel", "secondEngine", "check", 0, 20, -2, 2)]
    [InlineData("alder", "secondEngine", "check", -3, 8, -2, 2)] // it hides behind the alignment, which ends last there
    [InlineData("juniper", "secondAir", "bleed", -5, 25, 2, 10)] // cooling draws on the same bleed: the second core is turned more weakly
    [InlineData("juniper", "startAir", "cart", -40, 0, -2, 2)]
    [InlineData("alder", "startAir", "cart", 40, 100, -2, 2)] // no auxiliary generator: alignment waits for the first engine
    public void A_choice_has_its_price(string aircraft, string question, string answer, double readyLeast, double readyMost, double starterLeast, double starterMost)
    {
        var outlook = StartOutlook.For(Repository.Fleet, With(aircraft), [], 0);
        var other = outlook.Options.Single(o => o.Question == question && o.Answer == answer).Figures;
        Assert.InRange(other.ReadyS!.Value - outlook.AsPlanned.ReadyS!.Value, readyLeast, readyMost);
        Assert.InRange(other.StarterS - outlook.AsPlanned.StarterS, starterLeast, starterMost);
    }
}
