using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Bramble's backups: put over, looked at, put back; what each rests on, and what is left of one that was forgotten.</summary>
public sealed class BackupTests
{
    private readonly HandFlown _jet = new(Situations.Calm with { Aircraft = "bramble" });

    [Fact]
    public void On_its_backup_control_the_engine_settles_higher_with_its_nozzle_shut_and_back_again()
    {
        _jet.Until(_ => _jet["ins.aligning"] > 0 && _jet["main.nozzle"] > 80);
        _jet.Run(10);
        Assert.InRange(_jet["main.n2"], 71.2, 72.5);
        _jet.Set("engine-control", "backup");
        _jet.Run(20);
        Assert.InRange(_jet["main.n2"], 72.8, 74);
        Assert.InRange(_jet["main.nozzle"], 0, 12);
        Assert.Equal((1, 0), (_jet["task.engine-control-seen"], _jet["task.engine-control"]));
        _jet.Set("throttle", "half");
        _jet.Run(12);
        Assert.InRange(_jet["main.n2"], 80, 90);
        _jet.Set("throttle", "idle");
        _jet.Run(15);
        Assert.Equal(1, _jet["task.snap"]);
        Assert.InRange(_jet["main.n2"], 72.8, 74);
        _jet.Set("engine-control", "main");
        _jet.Run(20);
        Assert.InRange(_jet["main.n2"], 71.2, 72.5);
        Assert.InRange(_jet["main.nozzle"], 80, 100);
        Assert.Equal(1, _jet["task.engine-control"]);
        Assert.InRange(_jet["main.egt-highest"], 0, 735);
    }

    [Fact]
    public void What_is_left_on_its_backup_keeps_the_jet_from_launching()
    {
        _jet.Until(_ => _jet["crew.chocks"] > 0);
        Assert.DoesNotContain(_jet.Report.Missing, m => m.Contains("backup", StringComparison.Ordinal));
        foreach (var (control, words) in new[] { ("control-software", "the flight software is on its backup"), ("engine-control", "the engine is on its backup control") })
        {
            _jet.Set(control, "backup");
            _jet.Run(1);
            Assert.Contains(words, _jet.Report.Missing);
            _jet.Set(control, "main");
            _jet.Run(1);
        }
    }

    /// <summary>Burdock's emergency turbine, tested without its fuel.</summary>
    [Theory]
    [InlineData("normal", "raised", 0)]
    [InlineData("pure", "idle", 0)]
    [InlineData("pure", "raised", 1)]
    public void The_turbine_is_tested_on_bleed_with_oxygen_pure_and_the_core_above_idle(string oxygen, string throttle, double tested)
    {
        var jet = new HandFlown(Situations.Calm with { Aircraft = "burdock" }).Due("oxygen-pure");
        jet.Set("oxygen", oxygen);
        jet.Set("throttle-right", throttle);
        jet.Run(15);
        jet.Hold("turbine-test", "pressed", 7.4);
        Assert.Equal(0, jet["task.turbine-test"]); // its minimum is eight seconds
        jet.Hold("turbine-test", "pressed", 8.6);
        Assert.Equal(tested, jet["task.turbine-test"]);
    }

    [Fact]
    public void The_self_test_wants_a_sweep_first_and_the_main_software()
    {
        _jet.Until(_ => _jet["ins.aligning"] > 0 && _jet["main.hydraulics"] > 3100);
        _jet.Hold("control-test", "pressed", 12);
        Assert.Equal(0, _jet["task.control-test"]);
        _jet.Hold("control-sweep", "sweeping", 6);
        _jet.Set("control-software", "backup");
        _jet.Hold("control-test", "pressed", 12);
        Assert.Equal(0, _jet["task.control-test"]);
        _jet.Set("control-software", "main");
        _jet.Hold("control-test", "pressed", 12);
        Assert.Equal(1, _jet["task.control-test"]);
    }

    /// <summary>The same lever goes to the same place for more than one step: an act is for the one that it is due for, else for the first of them.</summary>
    [Fact]
    public void One_act_is_judged_for_one_step()
    {
        Assert.Equal(2, _jet.Rehearsal.Tracker.Steps.Count(s => s.Definition.Act is { Set: "throttle", To: "idle" }));
        var early = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = "bramble" });
        early.Apply(new RunCommand(early.Machine.StepIndex, CommandKind.Set, "throttle", "idle"));
        early.Step();
        Assert.Equal("fuel-main", Assert.Single(early.Judge.Conclude().Findings.Where(f => f.Code == "out-of-order").Select(f => f.Step).Distinct()));

        _jet.GoOn(1500);
        Assert.DoesNotContain(_jet.Report.Findings, f => f.Code == "out-of-order");
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
