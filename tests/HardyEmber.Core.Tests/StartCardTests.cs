using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The advice during a start, the card after it, the outlook before it.</summary>
public sealed class StartCardTests
{
    public static TheoryData<string> Types => [.. RandomHands.Types];

    private static Rehearsal Fly(RunHeader header, PilotTraits? traits = null)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(rehearsal, traits).Fly(1500);
        return rehearsal;
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_good_start_has_a_card_for_each_engine_and_hears_nothing_but_stay(string type)
    {
        var rehearsal = Fly(Situations.Calm with { Aircraft = type });
        var d = rehearsal.Machine.Aircraft.Engine;
        var cards = rehearsal.Starts.Cards;
        Assert.Equal(rehearsal.Machine.Aircraft.Engines.Select(e => e.Id).Order(), cards.Select(c => c.Engine).Order());
        Assert.All(cards, c =>
        {
            Assert.Equal((StartOutcome.Idle, 1, 0.0), (c.Outcome, c.Attempt, c.OverLimitS));
            Assert.InRange(c.FuelN2Pct!.Value, d.FuelOnMinN2Pct - 0.5, d.FuelOnMaxN2Pct + 3);
            Assert.InRange(c.LightS!.Value, 0.5, 6);
            Assert.True(c.FuelS + c.LightS + c.PeakS <= c.IdleS + 0.3, $"{c}");
            Assert.True(c.StarterS > 5 && c.StarterS < c.IdleS + 3, $"{c}");
            // A core raised after its start (Burdock's turbine test) may be a little hotter then.
            Assert.InRange(rehearsal.Machine[$"{c.Engine}.egt-highest"], c.PeakC - 0.6, c.PeakC + 15);
            Assert.True(StartAdvisor.All.First(a => a.Word == c.Worst).Urgency == Urgency.Stay, $"{c}");
        });
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_hot_start_is_cut_on_advice_and_the_card_holds_the_reaction(string type)
    {
        var hot = Situations.Calm with
        {
            Aircraft = type,
            Conditions = new RunConditions(15, 0, 0, 0),
            Faults = [.. Repository.Fleet.FindAircraft(type).Engines.Select(e => new RunFault("inlet-cover", e.Id, Level: 0.5))]
        };
        var rehearsal = Fly(hot, new PilotTraits(ReactionS: 1));
        var cut = rehearsal.Starts.Cards.First(c => c.Outcome == StartOutcome.CutOff);
        Assert.Equal("hot", cut.Worst);
        Assert.InRange(cut.ReactionS!.Value, 0.8, 2);
        Assert.True(cut.PeakC < rehearsal.Machine.Aircraft.Engine.StartLimitC + 30, $"{cut}");
    }

    [Fact]
    public void Cranking_dry_is_a_card_of_its_own_and_the_next_attempt_is_the_second()
    {
        var bench = new Rehearsal(Repository.Fleet, Situations.Calm);
        void Give(double t, string control, string to)
        {
            bench.AdvanceTo((long)(t * 50));
            bench.Apply(new RunCommand(bench.Machine.StepIndex, CommandKind.Set, control, to));
        }

        Give(1, "battery", "on");
        Give(3, "aux-unit", "on");
        Give(30, "starter-air", "right");
        Give(45, "starter-air", "shut");
        bench.AdvanceTo(50 * 50);
        var dry = Assert.Single(bench.Starts.Cards);
        Assert.Equal((StartOutcome.Motored, 1, null), (dry.Outcome, dry.Attempt, dry.FuelS));
        Assert.InRange(dry.StarterS, 14.5, 15.5);
        Give(75, "starter-air", "right");
        bench.AdvanceTo(77 * 50);
        Assert.Equal((StartOutcome.Open, 2), (bench.Starts.Cards[^1].Outcome, bench.Starts.Cards[^1].Attempt));
    }

    [Fact]
    public void The_outlook_before_a_start_is_what_the_start_becomes()
    {
        var header = Situations.Calm;
        var outlook = StartOutlook.For(Repository.Fleet, header, [], 0);
        var flown = Fly(header);
        Assert.Equal(flown.Starts.Cards.Max(c => c.PeakC), outlook.AsPlanned.PeakC);
        Assert.Equal(flown.Machine.Time, outlook.AsPlanned.ReadyS!.Value, 0.1);
        Assert.Equal(flown.Starts.Cards.Max(c => c.IdleS), outlook.AsPlanned.IdleS);
        Assert.Equal(Severity.Note, outlook.Advice.Severity);
        var curve = outlook.Curves.Single(c => c.Engine == "right");
        Assert.Equal(flown.Starts.Cards.First(c => c.Engine == "right").PeakC, curve.GasC.Max(), 3.0);
    }

    [Fact]
    public void With_the_wind_in_the_exhaust_it_advises_to_turn_the_jet_and_says_what_that_gains()
    {
        var header = Situations.DemoDay with { Spot = "A4", Conditions = new RunConditions(15, 310, 25, 0) };
        var outlook = StartOutlook.For(Repository.Fleet, header, [], 0);
        Assert.True(outlook.AsPlanned.MarginC < 0);
        var turn = outlook.Options.Single(o => o.Kind == "turn");
        Assert.True(turn.Figures.MarginC > 60, $"{turn}");
        Assert.Equal(Severity.Warning, outlook.Advice.Severity);
        Assert.Contains(turn.Label, outlook.Advice.Text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_wet_core_is_seen_from_the_middle_of_a_run_and_a_clean_one_offered()
    {
        RunCommand At(double t, string control, string to) => new((long)(t * 50), CommandKind.Set, control, to);
        RunCommand[] log = [At(1, "battery", "on"), At(3, "aux-unit", "on"), At(30, "starter-air", "right"), At(45, "throttle-right", "idle"),
            At(49, "throttle-right", "cut-off"), At(50, "starter-air", "shut")];
        var wet = Situations.Calm with { Faults = [new RunFault("igniter-dead", "right")] };
        // The header's dead igniter is not known to the outlook: what lies in the core is only what a sound one would have left.
        var outlook = StartOutlook.For(Repository.Fleet, wet, log, 52 * 50);
        Assert.True(outlook.AsPlanned.Reached, outlook.Advice.Text);
        Assert.Contains(outlook.Options, o => o.Kind == "clean");
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Every_type_has_an_outlook_and_every_word_of_advice_its_drill(string type)
    {
        var outlook = StartOutlook.For(Repository.Fleet, Situations.Calm with { Aircraft = type }, [], 0);
        Assert.True(outlook.AsPlanned is { Reached: true, ReadyS: > 100 }, $"{outlook.AsPlanned}");
        Assert.All(outlook.Options, o => Assert.True(o.Figures.Reached, $"{o}"));
        var drills = Repository.Fleet.Procedures.First(p => p.Aircraft == type && p.Beginnings.Contains("first")).Drills;
        foreach (var engine in Repository.Fleet.FindAircraft(type).Engines)
        {
            foreach (var advice in StartAdvisor.All.Where(a => a.Urgency == Urgency.CutOff && a.Word != "no-rotation"))
            {
                Assert.Contains(drills, d => d.When.StartsWith($"{engine.Id}.advice is {advice.Word} ", StringComparison.Ordinal));
            }
        }
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void An_engine_that_was_shut_down_is_started_again_by_the_same_cues(string type)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = type });
        var m = rehearsal.Machine;
        var pilot = new ScriptedPilot(rehearsal);
        var idleAt = double.MaxValue;
        Assert.False(pilot.FlyUntil(() =>
        {
            idleAt = idleAt < double.MaxValue ? idleAt : rehearsal.Starts.Cards.Any(c => c.Outcome == StartOutcome.Idle) ? m.Time : double.MaxValue;
            return m.Time > idleAt + 15;
        }));
        var engine = m.Aircraft.Engines.First(e => e.Id == rehearsal.Starts.Cards[0].Engine);
        rehearsal.Apply(new RunCommand(m.StepIndex, CommandKind.Set, engine.Throttle, "cut-off"));
        rehearsal.AdvanceTo(m.StepIndex + 90 * 50);
        Assert.True(m[$"{engine.Id}.n2"] < 12 && m[$"{engine.Id}.lit"] < 0.5, $"it ran down: {m[$"{engine.Id}.n2"]:0.0} %");
        _ = pilot.FlyUntil(() => m.Time > 1800);
        var again = rehearsal.Starts.Cards.Where(c => c.Engine == engine.Id && c.Outcome == StartOutcome.Idle).ToList();
        Assert.True(again.Count == 2, $"{rehearsal.Judge.Conclude().Sentence} {string.Join("; ", rehearsal.Starts.Cards)}");
        Assert.All(m.Aircraft.Engines, e => Assert.True(m[$"{e.Id}.n2"] > m.Aircraft.Engine.IdleN2Pct - 2));
    }
}
