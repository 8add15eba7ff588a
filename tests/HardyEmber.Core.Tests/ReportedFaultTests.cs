using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>
/// Faults of a started engine that no hand can cure: met in a whole start flown by the cues, and either told to the crew when
/// they show or not.
/// </summary>
public sealed class ReportedFaultTests
{
    private const double LooksAgainAfterS = 10, TurnsPct = 8;

    public static TheoryData<string, string, string?, string> Faults => new()
    {
        { "juniper", "generator-dead", "right", "right.generator-refused" },
        { "juniper", "generator-dead", "left", "left.generator-refused" },
        { "bramble", "generator-dead", "main", "main.generator-refused" },
        { "alder", "generator-dead", "left", "left.generator-refused" },
        { "tansy", "generator-dead", "main", "main.generator-refused" },
        { "teasel", "generator-dead", "left", "left.generator-refused" },
        { "sedge", "generator-dead", "main", "main.generator-refused" },
        { "burdock", "generator-dead", "right", "right.generator-refused" },
        { "burdock", "bleed-latch-stuck", null, "air.cabin-freed" },
        { "teasel", "starter-sticks", "right", "right.starter-late" },
        { "juniper", "starter-drops", "left", "left.starter-dropped" },
        { "juniper", "receiver-deaf", null, "radio.unheard" },
        { "bramble", "receiver-deaf", null, "radio.unheard" },
        { "alder", "receiver-deaf", null, "radio.unheard" },
        { "tansy", "receiver-deaf", null, "radio.unheard" },
        { "teasel", "receiver-deaf", null, "radio.unheard" },
        { "sedge", "receiver-deaf", null, "radio.unheard" },
        { "burdock", "receiver-deaf", null, "radio.unheard" },
        { "juniper", "probe-noisy", "right", "right.n2" },
        { "bramble", "probe-noisy", "main", "main.n2" },
        { "alder", "probe-noisy", "left", "left.n2" },
        { "tansy", "probe-noisy", "main", "main.n2" },
        { "teasel", "probe-noisy", "right", "right.n2" },
        { "sedge", "probe-noisy", "main", "main.n2" },
        { "burdock", "probe-noisy", "left", "left.n2" },
    };

    [Theory]
    [MemberData(nameof(Faults))]
    public void Told_when_it_shows_it_is_answered(string aircraft, string code, string? engine, string sign)
    {
        var findings = Fly(aircraft, code, engine, sign, tells: true);
        Assert.Contains(findings, f => f.Code == "fault-answered");
        Assert.DoesNotContain(findings, f => f.Code is "fault-missed" or "fault-late" or "false-report" or "fault-damage");
    }

    [Theory]
    [MemberData(nameof(Faults))]
    public void Kept_to_oneself_it_is_missed(string aircraft, string code, string? engine, string sign)
    {
        var findings = Fly(aircraft, code, engine, sign, tells: false);
        Assert.Contains(findings, f => f.Code is "fault-missed" or "fault-damage");
        Assert.DoesNotContain(findings, f => f.Code == "fault-answered");
    }

    private static IReadOnlyList<Finding> Fly(string aircraft, string code, string? engine, string sign, bool tells)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = aircraft, Faults = [new RunFault(code, engine)] });
        var (m, shows) = (rehearsal.Machine, -1.0);
        bool Shows() => m[sign] > (code == "probe-noisy" ? TurnsPct : 0.5) && (code != "bleed-latch-stuck" || m["bleed"] > 0.5);
        // Who keeps it to himself lets everything run on, whatever the drills say.
        var pilot = new ScriptedPilot(rehearsal, new PilotTraits(CutsOff: tells));
        var ended = pilot.FlyUntil(() =>
        {
            shows = shows < 0 && Shows() ? m.Time : shows;
            return m.Time > 900 || tells && shows >= 0 && m.Time > shows + 2;
        });
        Assert.True(shows >= 0, $"it never showed; {m.Time:0} s, ended {ended}");
        if (!ended && tells)
        {
            // Until it is said the guide can tell it; what the pilot has answered with his hands needs no word.
            Assert.Equal(code is "starter-sticks" or "starter-drops" ? null : code, rehearsal.Judge.Unsaid?.Code);
            rehearsal.Apply(new RunCommand(m.StepIndex, CommandKind.Report, code, engine));
            Assert.Null(rehearsal.Judge.Unsaid);
            ended = pilot.FlyUntil(() => m.Time > shows + LooksAgainAfterS);
        }

        if (!ended)
        {
            rehearsal.Apply(new RunCommand(m.StepIndex, CommandKind.End, ""));
        }

        return rehearsal.Judge.Conclude().Findings;
    }
}
