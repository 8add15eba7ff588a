using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>
/// An aircraft that the fleet does not have, by data alone (Eighth/*.json): its core is turned by a hose, it has no battery, no cooling and no inertial set,
/// a self-test with three outcomes, a call with two turns, a finding of its own.
/// </summary>
public sealed class EighthAircraftTests
{
    private static readonly Lazy<Fleet> Loaded = new(() => Fleet.Load(EighthAircraft.Files()));

    private static RunHeader Header => Situations.Calm with { Aircraft = "tormentil" };

    private static Machine Build(RunHeader header) => Loaded.Value.Build(header);

    private static void Run(Machine machine, double seconds)
    {
        var until = machine.StepIndex + (long)Math.Round(seconds / Steps.Seconds);
        while (machine.StepIndex < until)
        {
            machine.Step();
        }
    }

    private static Machine Set(Machine machine, string control, string to, CommandKind kind = CommandKind.Set)
    {
        machine.Apply(new RunCommand(machine.StepIndex, kind, control, to));
        Run(machine, 0.4);
        return machine;
    }

    private static Machine Powered(RunHeader header)
    {
        var machine = Build(header);
        Run(machine, 0.2);
        Set(machine, "ask-cart", "asking");
        Run(machine, 30);
        return Set(machine, "ground-power", "on");
    }

    [Theory]
    [InlineData("patient")]
    [InlineData("early")]
    public void A_scripted_pilot_brings_it_to_launch_ready(string fuelOn)
    {
        var rehearsal = new Rehearsal(Loaded.Value, Header with { School = new Dictionary<string, string> { ["fuelOn"] = fuelOn } });
        _ = new ScriptedPilot(rehearsal).Fly(1500);
        var judgement = rehearsal.Judge.Conclude();
        Assert.Equal((Verdict.LaunchReady, 0), (judgement.Verdict, judgement.Findings.Count(f => f.Severity > Severity.Note)));
        Assert.InRange(rehearsal.Machine["main.egt-highest"], 500, 700);
    }

    [Fact]
    public void Its_call_has_two_turns()
    {
        var machine = Powered(Header);
        Set(machine, "ask-hose", "asking");
        Run(machine, 10);
        Assert.Equal((1, 0, 0), (machine["crew.hose.question"], machine["crew.hose"], machine["air.duct"] > 10 ? 1 : 0));
        Set(machine, "say-coupled", "said", CommandKind.Hold);
        Run(machine, 5);
        Assert.Equal((0, 1, 1), (machine["crew.hose.question"], machine["crew.hose"], machine["air.duct"] > 40 ? 1 : 0));
    }

    [Fact]
    public void Its_self_test_has_three_outcomes()
    {
        var passed = Set(Powered(Header), "probe-key", "pressed", CommandKind.Hold);
        Run(passed, 5);
        Assert.Equal((1, 0), (passed["probe.passed"], passed["probe.failed"]));
        var failed = Set(Powered(Header with { Faults = [new RunFault("probe-sick")] }), "probe-key", "pressed", CommandKind.Hold);
        Run(failed, 5);
        Assert.Equal((0, 1, 1), (failed["probe.passed"], failed["probe.failed"], failed["lamp.probe"]));
        var cut = Set(Powered(Header), "probe-key", "pressed", CommandKind.Hold);
        Set(cut, "ground-power", "off");
        Run(cut, 5);
        Assert.Equal((0, 0, "cut-short"), (cut["probe.passed"], cut["probe.failed"], cut.Aircraft.Tasks.First(t => t.Id == "probe").States[(int)cut["probe.state"]].Id));
    }

    [Fact]
    public void A_finding_of_its_own_is_found()
    {
        var rehearsal = new Rehearsal(Loaded.Value, Header);
        _ = new ScriptedPilot(rehearsal, new PilotTraits(Forgets: new HashSet<string> { "probe" })).Fly(1500);
        var found = Assert.Single(rehearsal.Judge.Conclude().Findings, f => f.Code == "air-before-probe");
        Assert.Equal((Severity.Caution, "Duct air"), (found.Severity, found.Evidence!.Label));
        Assert.Matches(@"^The hose blew at [34]\d\.\d psi before", found.What);
    }

    /// <summary>Every kind of fault that can sit in it is recognised when it is reported, and "why" answers for every lamp.</summary>
    [Fact]
    public void Its_faults_are_recognised_and_its_lamps_explained()
    {
        var fleet = Loaded.Value;
        var aircraft = fleet.FindAircraft("tormentil");
        var inputs = fleet.Sample("tormentil").FaultInputNames.ToList();
        var places = fleet.Faults.Faults.Where(f => f.Report).SelectMany(f => FaultDraw.Places(f, aircraft, inputs)).Select(p => p.Fault).ToList();
        Assert.InRange(places.Count, 10, 60);
        foreach (var fault in places)
        {
            var rehearsal = new Rehearsal(fleet, Header with { Faults = [fault] });
            rehearsal.AdvanceTo(500);
            rehearsal.Apply(new RunCommand(rehearsal.Machine.StepIndex, CommandKind.Report, fault.Code, fault.Engine ?? fault.Item));
            Assert.DoesNotContain(rehearsal.Judge.Conclude().Findings, f => f.Code is "false-report" or "fault-missed" or "fault-unseen");
        }

        var why = new WillNotTake(Powered(Header));
        Assert.All(aircraft.Lamps.Where(l => !l.Spare), l => Assert.NotEmpty(why.For($"lamp.{l.Id}").Effects));
    }
}
