using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Bramble's backups: put over, looked at, put back; what each rests on, and what is left of one that was forgotten.</summary>
public sealed class BackupTests
{
    private readonly Rehearsal _run = new(Repository.Fleet, Situations.Calm with { Aircraft = "bramble" });

    private Machine M => _run.Machine;

    private void Until(Func<bool> there) => Assert.False(new ScriptedPilot(_run).FlyUntil(there), "the place in the start did not come");

    private void Run(double seconds)
    {
        for (var end = M.Time + seconds; M.Time < end - 1e-9;)
        {
            _run.Step();
        }
    }

    private void Set(string control, string to) => _run.Apply(new RunCommand(M.StepIndex, CommandKind.Set, control, to));

    private void Hold(string control, string at, double seconds)
    {
        _run.Apply(new RunCommand(M.StepIndex, CommandKind.Hold, control, at));
        Run(seconds);
        _run.Apply(new RunCommand(M.StepIndex, CommandKind.Release, control));
    }

    [Fact]
    public void On_its_backup_control_the_engine_settles_higher_with_its_nozzle_shut_and_back_again()
    {
        Until(() => M["ins.aligning"] > 0 && M["main.nozzle"] > 80);
        Run(10);
        Assert.InRange(M["main.n2"], 72.5, 73.5);
        Set("engine-control", "backup");
        Run(20);
        Assert.InRange(M["main.n2"], 74, 75);
        Assert.InRange(M["main.nozzle"], 0, 12);
        Assert.Equal((1, 0), (M["task.engine-control-seen"], M["task.engine-control"]));
        Set("throttle", "half");
        Run(12);
        Assert.InRange(M["main.n2"], 80, 90);
        Set("throttle", "idle");
        Run(15);
        Assert.Equal(1, M["task.snap"]);
        Assert.InRange(M["main.n2"], 74, 75);
        Set("engine-control", "main");
        Run(20);
        Assert.InRange(M["main.n2"], 72.5, 73.5);
        Assert.InRange(M["main.nozzle"], 80, 100);
        Assert.Equal(1, M["task.engine-control"]);
        Assert.InRange(M["main.egt-highest"], 0, 735);
    }

    [Fact]
    public void What_is_left_on_its_backup_keeps_the_jet_from_launching()
    {
        Until(() => M["crew.chocks"] > 0);
        Assert.DoesNotContain(_run.Judge.Conclude().Missing, m => m.Contains("backup", StringComparison.Ordinal));
        foreach (var (control, words) in new[] { ("control-software", "the flight software is on its backup"), ("engine-control", "the engine is on its backup control") })
        {
            Set(control, "backup");
            Run(1);
            Assert.Contains(words, _run.Judge.Conclude().Missing);
            Set(control, "main");
            Run(1);
        }
    }

    [Theory]
    [InlineData("normal", "raised", 0)]
    [InlineData("pure", "idle", 0)]
    [InlineData("pure", "raised", 1)]
    public void The_turbine_is_tested_on_bleed_with_oxygen_pure_and_the_core_above_idle(string oxygen, string throttle, double tested)
    {
        Until(() => M["task.engine-control"] > 0 && M["throttle"] > 0.5);
        Set("oxygen", oxygen);
        Set("throttle", throttle);
        Run(15);
        Hold("turbine-test", "pressed", 7.4);
        Assert.Equal(0, M["task.turbine-test"]); // its minimum is eight seconds
        Hold("turbine-test", "pressed", 8.6);
        Assert.Equal(tested, M["task.turbine-test"]);
    }

    [Fact]
    public void The_self_test_wants_a_sweep_first_and_the_main_software()
    {
        Until(() => M["ins.aligning"] > 0 && M["main.hydraulics"] > 3100);
        Hold("control-test", "pressed", 12);
        Assert.Equal(0, M["task.control-test"]);
        Hold("control-sweep", "sweeping", 6);
        Set("control-software", "backup");
        Hold("control-test", "pressed", 12);
        Assert.Equal(0, M["task.control-test"]);
        Set("control-software", "main");
        Hold("control-test", "pressed", 12);
        Assert.Equal(1, M["task.control-test"]);
    }

    /// <summary>The same lever goes to the same place for more than one step: an act is for the one that it is due for, else for the first of them.</summary>
    [Fact]
    public void One_act_is_judged_for_one_step()
    {
        Assert.Equal(3, _run.Tracker.Steps.Count(s => s.Definition.Act is { Set: "throttle", To: "idle" }));
        var early = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = "bramble" });
        early.Apply(new RunCommand(early.Machine.StepIndex, CommandKind.Set, "throttle", "idle"));
        early.Step();
        Assert.Equal("fuel-main", Assert.Single(early.Judge.Conclude().Findings.Where(f => f.Code == "out-of-order").Select(f => f.Step).Distinct()));

        _ = new ScriptedPilot(_run).Fly(1500);
        Assert.DoesNotContain(_run.Judge.Conclude().Findings, f => f.Code == "out-of-order");
    }

    [Theory]
    [InlineData(0, 1)]
    [InlineData(1200, 2)]
    [InlineData(4000, 3)]
    public void The_stores_class_follows_the_load(double storesLb, double expected)
    {
        var header = Situations.Calm with { Aircraft = "bramble", Loading = new LoadingHeader(6000, storesLb) };
        Assert.Equal(expected, Repository.Fleet.Build(header)["numbers.stores-class"]);
    }
}
