using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The procedure of a situation and a school, without a machine: steps, what they take, what comes before what.</summary>
public sealed class ProcedureInForceTests
{
    private static ProcedureInForce Of(string aircraft, string beginning = "first", params (string Question, string Answer)[] school)
    {
        var header = beginning == "air" ? Situations.Aloft(aircraft, school: school) : Situations.Taught(aircraft, school) with { Beginning = beginning };
        return ProcedureInForce.Of(Repository.Fleet.ProcedureFor(header), Repository.Fleet.FindAircraft(aircraft), Repository.Fleet.FindPlace(header.Place), header);
    }

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    /// <summary>Each answer of each question makes another procedure: a choice that changes nothing is none.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Every_answer_of_a_school_changes_something(string aircraft)
    {
        foreach (var (beginning, question) in Repository.Fleet.Procedures.Where(p => p.Aircraft == aircraft).SelectMany(p => p.Schools, (p, q) => (p.Beginnings[0], q)))
        {
            var told = question.Answers.Select(a => Of(aircraft, beginning, (question.Id, a.Id))).Select(p => string.Join('\n',
                p.Steps.Select(s => $"{s.Id} {s.Definition.Cue} {s.Definition.Needs} {string.Join(',', s.After.Select(d => d.Step))}")
                    .Concat(p.Definition.Ready.Where(r => r.School is not { } school || p.Is(school)).Select(r => r.Text))));
            Assert.Equal(question.Answers.Count, told.Distinct().Count());
        }
    }

    /// <summary>What comes first in the list never has to wait for what comes later, and nothing waits for itself.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Precedence_has_no_circle_and_gates_add_to_what_is_written(string aircraft)
    {
        var procedure = Of(aircraft);
        var machine = Repository.Fleet.Sample(aircraft);
        var precedes = Precedence.Of(procedure, machine.Signals, machine.Gates);
        Assert.Contains(precedes, p => p.By is not null);
        var left = procedure.Steps.Select(s => s.Id).ToHashSet();
        while (left.Count > 0)
        {
            var free = left.Where(id => precedes.All(p => p.After != id || !left.Contains(p.Before))).ToList();
            Assert.NotEmpty(free);
            left.ExceptWith(free);
        }
    }

    [Theory]
    [InlineData("juniper", "radio-on", "tower")]
    [InlineData("alder", "boost-left-on", "aux-on")]
    [InlineData("teasel", "avionics-one", "satellite")]
    [InlineData("tansy", "boost-on", "aux-on")]
    [InlineData("sedge", "fuel-cock-open", "crank-main")]
    [InlineData("bramble", "radio-on", "tower")]
    [InlineData("burdock", "boost-on", "crank-first")]
    public void A_step_that_needs_what_another_brings_comes_after_it(string aircraft, string before, string after)
    {
        var machine = Repository.Fleet.Sample(aircraft);
        Assert.Contains(Precedence.Of(Of(aircraft), machine.Signals, machine.Gates), p => (p.Before, p.After) == (before, after));
    }

    [Fact]
    public void A_step_says_what_it_takes_and_what_it_waits_for()
    {
        var steps = Of("juniper").Steps.ToDictionary(s => s.Id);
        Assert.Equal((Occupies.Hands | Occupies.Radio, "crew.tower.left"), (steps["tower"].Occupies, steps["tower"].Waits));
        Assert.Equal(Occupies.Hands, steps["crew-first"].Occupies); // the crew hears without the radio
        Assert.Equal((Occupies.Eyes, 0), (steps["idle-first"].Occupies, steps["idle-first"].HandsS));
        Assert.Equal((Occupies.Hands | Occupies.Eyes, 0.6), (steps["fuel-first"].Occupies, steps["fuel-first"].HandsS));
        Assert.Equal((Occupies.Eyes, 1), (steps["battery-volts"].Occupies, steps["battery-volts"].HandsS));
    }

    /// <summary>The sweep follows from the controls: on a first start a few are looked at, on a turnaround all that the last pilot may have left wrong.</summary>
    [Theory, MemberData(nameof(Types))]
    public void The_sweep_is_written_by_the_controls(string aircraft)
    {
        var controls = Repository.Fleet.FindAircraft(aircraft).Controls.Where(c => c.Sweep is not null).ToList();
        string[] Looked(string beginning) => [.. Of(aircraft, beginning).Steps.Where(s => s.Id.StartsWith("sweep-", StringComparison.Ordinal))
            .Select(s => s.Definition.Act.Look!).Order()];
        Assert.Equal(controls.Where(c => c.Sweep!.Always).Select(c => c.Id).Order(), Looked("first"));
        Assert.Equal(controls.Select(c => c.Id).Order(), Looked("turnaround"));
        Assert.All(controls, c => Assert.NotNull(c.Default));
    }

    /// <summary>Nothing that is said to a pilot is longer than he reads at a glance, names an id or holds a place that was not filled in.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Sentences_are_short_and_filled_in(string aircraft)
    {
        foreach (var procedure in Repository.Fleet.Procedures.Where(p => p.Aircraft == aircraft).SelectMany(p => p.Beginnings, (_, b) => b == "air" ? null : Of(aircraft, b))
            .OfType<ProcedureInForce>())
        {
            foreach (var step in procedure.Steps.Select(s => s.Definition))
            {
                Assert.All(new[] { step.Cue, step.Why, step.IfOmitted ?? "", step.Hazard ?? "" }, text =>
                {
                    Assert.InRange(text.Length, 0, 95);
                    Assert.DoesNotContain('{', text);
                });
            }
        }
    }

    /// <summary>What is offered for a moment only says for how long: as the machine then offers it.</summary>
    [Theory]
    [InlineData("juniper", 40)]
    [InlineData("bramble", 45)]
    [InlineData("alder", 40)]
    public void The_stored_heading_has_a_window_and_the_machine_keeps_to_it(string aircraft, double lastsS)
    {
        var step = Of(aircraft, school: ("alignment", "stored")).Steps.First(s => s.Id == "stored-heading");
        Assert.Equal(new StepWindow("ins.stored-offered", lastsS), step.Window);
        var jet = new HandFlown(Situations.Taught(aircraft, ("alignment", "stored"))).Due("stored-heading");
        var from = jet.Machine.Time;
        while (jet["ins.stored-offered"] > 0.5)
        {
            jet.Run(0.2);
        }

        Assert.InRange(jet.Machine.Time - from, 0.85 * lastsS, lastsS + 0.5); // the pilot's eyes came a little after it
    }

    /// <summary>Few steps are so: where everything had a window none would say anything.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Few_steps_have_a_window(string aircraft) => Assert.InRange(Of(aircraft).Steps.Count(s => s.Window is not null), 0, 3);
}
