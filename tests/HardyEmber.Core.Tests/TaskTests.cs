using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Tasks written as data: what a state machine may say, on a machine that has one more than the fleet's.</summary>
public sealed class TaskTests
{
    private static readonly TaskState Rest = new() { Id = "rest", Exits = [new TaskExit("running", "battery is on and lamp-test is pressed")] };

    private static readonly TaskDefinition Test = new()
    {
        Id = "trial",
        Label = "Probe self-test",
        Faults = new Dictionary<string, double> { ["trial.sick"] = 0 },
        States =
        [
            Rest,
            new TaskState
            {
                Id = "running", Word = "running", Seconds = [3], While = "bus.essential.live", Broken = "cut-short", HeatW = 50,
                Gives = new Dictionary<string, string> { ["trial.busy"] = "" },
                Ends = [new TaskExit("failed", "fault.trial.sick > 0.5"), new TaskExit("passed")],
            },
            new TaskState { Id = "passed", Word = "passed", Leaves = ["trial"] },
            new TaskState { Id = "failed", Word = "failed: code 12", Fails = true, Gives = new Dictionary<string, string> { ["trial.failed"] = "" },
                Exits = [new TaskExit("running", "lamp-test is pressed", Anew: true)] },
            new TaskState { Id = "cut-short", Word = "cut short", Exits = [new TaskExit("running", "battery is on and lamp-test is pressed", Anew: true)] },
        ],
    };

    private static Bench With(params TaskDefinition[] tasks) => With(Situations.Calm, tasks);

    private static Bench With(RunHeader header, params TaskDefinition[] tasks)
    {
        var juniper = Repository.Fleet.FindAircraft("juniper");
        var faults = Repository.Fleet.Faults;
        var sick = faults.Faults[0] with { Code = "trial-sick", Input = "trial.sick", Level = 1, MinLevel = 0, MaxLevel = 1, Sign = "trial.failed", Answer = null, Damage = null };
        return new Bench(header, juniper with { Tasks = [.. juniper.Tasks, .. tasks] }, faults with { Faults = [.. faults.Faults, sick] });
    }

    private static Bench Begun(RunHeader header) => With(header, Test).Set("battery", "on").Run(1).Hold("lamp-test", "pressed");

    private static string StateOf(Bench bench, string task) => bench.Machine.Aircraft.Tasks.First(t => t.Id == task).States[(int)bench[$"{task}.state"]].Id;

    [Fact]
    public void A_test_passes_after_its_time_and_says_how_far_it_is()
    {
        var bench = Begun(Situations.Calm).Run(1.6);
        Assert.Equal(("running", 1, 50), (StateOf(bench, "trial"), bench["trial.busy"], bench["cabinet.heat"]));
        Assert.InRange(bench["trial.left"], 1.2, 1.6);
        Assert.InRange(bench["trial.progress"], 45, 60);
        bench.Run(2);
        Assert.Equal(("passed", 1, 0, 0), (StateOf(bench, "trial"), bench["trial"], bench["trial.busy"], bench["cabinet.heat"]));
        Assert.InRange(bench["trial.since"], 3.8, 4.3);
    }

    [Fact]
    public void A_fault_turns_it_into_a_failure_and_a_new_press_repeats_it()
    {
        var bench = Begun(Situations.Calm with { Faults = [new RunFault("trial-sick")] }).Run(4);
        Assert.Equal(("failed", 1, 0), (StateOf(bench, "trial"), bench["trial.failed"], bench["trial"]));
        Assert.Equal("failed", StateOf(bench.Run(3), "trial")); // what is still pressed is no new press
        bench.Release("lamp-test").Run(0.5).Hold("lamp-test", "pressed");
        Assert.Equal(("running", 0), (StateOf(bench, "trial"), bench["trial.failed"]));
    }

    [Fact]
    public void Power_lost_in_the_middle_cuts_it_short_and_it_can_begin_again()
    {
        var bench = Begun(Situations.Calm).Run(1).Set("battery", "off").Run(0.4);
        Assert.Equal(("cut-short", 0, 0), (StateOf(bench, "trial"), bench["trial"], bench["trial.busy"]));
        bench.Release("lamp-test").Run(0.5).Set("battery", "on").Run(0.5).Hold("lamp-test", "pressed").Run(4);
        Assert.Equal(1, bench["trial"]);
    }

    /// <summary>The answer to "why" is made of the states: what it lacks, and not a word of a hidden fault.</summary>
    [Fact]
    public void Why_is_read_off_the_states()
    {
        var why = new WillNotTake(With(Situations.Calm with { Faults = [new RunFault("trial-sick")] }, Test).Run(1).Machine).For("trial");
        Assert.Contains(why.Effects[0].Chain, u => u.Signal == "battery");
        Assert.Contains(why.Effects[0].Chain, u => u.Signal == "lamp-test");
        Assert.DoesNotContain(why.Effects[0].Chain, u => u.Signal.StartsWith("fault.", StringComparison.Ordinal));
    }

    [Fact]
    public void A_time_is_drawn_within_its_bounds_from_the_seed_and_a_chance_once_in_a_state()
    {
        TaskDefinition Chance(double odds, string? forced = null) => new()
        {
            Id = "luck",
            Label = "Luck",
            States = [new TaskState { Id = "open", Exits = [new TaskExit("hit", Odds: odds, Forced: forced)] },
                new TaskState { Id = "hit", Seconds = [2, 9], Ends = [new TaskExit("open")] }],
        };
        Assert.Equal("open", StateOf(With(Chance(0)).Run(20), "luck"));
        Assert.Equal("hit", StateOf(With(Chance(0, "battery is off")).Run(0.4), "luck"));
        var lefts = Enumerable.Range(1, 12).Select(seed => With(Situations.Calm with { Seed = seed }, Chance(1 - 1e-12)).Run(0.2)["luck.left"]).ToList();
        Assert.All(lefts, left => Assert.InRange(left, 1.5, 9));
        Assert.True(lefts.Distinct().Count() > 8);
    }

    [Theory]
    [InlineData("exits", "there is no state \"runing\"; nearest: \"running\"")]
    [InlineData("seconds", "give one time, or the least and the most")]
    [InlineData("ends", "it ends, and no state follows")]
    [InlineData("condition", "there is no control, signal or lamp \"batery\"; nearest: \"battery\"")]
    public void What_is_wrong_in_a_state_is_told_with_its_place(string wrong, string said)
    {
        var state = wrong switch
        {
            "exits" => new TaskState { Id = "bad", Exits = [new TaskExit("runing")] },
            "seconds" => new TaskState { Id = "bad", Seconds = [5, 2], Ends = [new TaskExit("rest")] },
            "ends" => new TaskState { Id = "bad", Seconds = [5] },
            _ => new TaskState { Id = "bad", While = "batery is on" },
        };
        var e = Assert.Throws<FormatException>(() => With(Test with { States = [.. Test.States, state] }));
        Assert.StartsWith("tasks.trial.states.bad", e.Message, StringComparison.Ordinal);
        Assert.Contains(said, e.Message, StringComparison.Ordinal);
    }
}
