using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Findings written as data, and what the judge alone can say: late, idle, broken off.</summary>
public sealed class WatchTests
{
    private static readonly WatchDefinition Low = new()
    {
        Code = "battery-low",
        When = "battery is on and battery.volts < 40",
        ForS = 2,
        Severity = "caution",
        What = "The battery stood at {value} V, under {limit} V, for {seconds} s.",
        Cost = "It reads {battery.volts} V.",
        Instead = "Take one of {limit} V.",
        Evidence = "battery.volts",
        Limit = 40,
    };

    private static Rehearsal With(params WatchDefinition[] watches) => With("juniper", watches);

    private static Rehearsal With(string aircraft, params WatchDefinition[] watches)
    {
        var files = Repository.FleetFiles();
        var at = files.FindIndex(f => f.Path == $"aircraft/{aircraft}.json");
        var text = System.Text.Json.JsonSerializer.Serialize(watches, FleetJson.Line);
        files[at] = files[at] with { Text = files[at].Text.Replace("\"tasks\": [", $"\"watches\": {text},\n  \"tasks\": [", StringComparison.Ordinal) };
        return new Rehearsal(Fleet.Load(files), Situations.Calm with { Aircraft = aircraft });
    }

    private static Rehearsal Fly(Rehearsal rehearsal, double until, params (double At, string Control, string To)[] acts)
    {
        foreach (var (at, control, to) in acts)
        {
            rehearsal.AdvanceTo((long)Math.Round(at / Steps.Seconds));
            rehearsal.Apply(new RunCommand(rehearsal.Machine.StepIndex, CommandKind.Set, control, to));
        }

        rehearsal.AdvanceTo((long)Math.Round(until / Steps.Seconds));
        return rehearsal;
    }

    private static List<Finding> Found(Rehearsal rehearsal, string code) => [.. rehearsal.Judge.Conclude().Findings.Where(f => f.Code == code)];

    [Fact]
    public void A_watch_finds_once_what_lasts_and_fills_its_words_in()
    {
        var found = Assert.Single(Found(Fly(With(Low), 20, (3, "battery", "on")), "battery-low"));
        Assert.Matches(@"^The battery stood at 2\d\.\d V, under 40 V, for 2\.\d s\.$", found.What);
        Assert.Matches(@"^It reads 2\d\.\d V\.$", found.Consequence);
        Assert.Equal("Take one of 40 V.", found.Instead);
        Assert.Equal((Severity.Caution, "Battery: volts", 40), (found.Severity, found.Evidence!.Label, found.Evidence.Limit));
        Assert.InRange(found.From, 3, 3.4);
        Assert.Empty(Found(Fly(With(Low), 4.4, (3, "battery", "on")), "battery-low"));
    }

    /// <summary>A core that does not light, and a pilot who looks on.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_sign_that_nobody_answers_is_found_on_every_type(string aircraft)
    {
        var engines = Repository.Fleet.FindAircraft(aircraft).Engines;
        Rehearsal Flown(PilotTraits traits)
        {
            var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = aircraft, Faults = [.. engines.Select(e => new RunFault("igniter-dead", e.Id))] });
            _ = new ScriptedPilot(rehearsal, traits).Fly(700);
            return rehearsal;
        }

        var found = Found(Flown(new PilotTraits(CutsOff: false)), "missed-sign");
        Assert.NotEmpty(found);
        Assert.All(found, f => Assert.Equal(Severity.Caution, f.Severity));
        Assert.Empty(Found(Flown(new PilotTraits()), "missed-sign"));
    }

    [Fact]
    public void A_starter_that_works_too_long_is_found()
    {
        (double, string, string)[] cranked = [(1, "battery", "on"), (2, "aux-unit", "on"), (30, "starter-air", "right")];
        var onS = Repository.Fleet.FindAircraft("juniper").Engine.Starter.Duty!.OnS;
        Assert.Empty(Found(Fly(With(), 30 + onS - 5, cranked), "duty-broken"));
        var found = Assert.Single(Found(Fly(With(), 30 + onS + 30, cranked), "duty-broken"));
        Assert.Equal(("right.starter-heat", 100), (found.Evidence!.Signal, found.Evidence.Limit));
    }

    [Fact]
    public void It_repeats_where_it_says_so_and_counts_what_is_counted()
    {
        (double, string, string)[] twice = [(3, "battery", "on"), (8, "battery", "off"), (10, "battery", "on")];
        Assert.Single(Found(Fly(With(Low), 20, twice), "battery-low"));
        Assert.Equal(2, Found(Fly(With(Low with { Repeats = true }), 20, twice), "battery-low").Count);
        var counted = Low with { When = null, Counts = "battery.amps", Code = "more-amps", Repeats = true };
        Assert.NotEmpty(Found(Fly(With(counted), 20, twice), "more-amps"));
    }

    /// <summary>A sign that went away by itself asks for no answer: what is done later is not late.</summary>
    [Fact]
    public void An_answer_is_timed_from_its_sign_and_a_sign_that_did_not_come_true_is_forgotten()
    {
        var sign = Low with
        {
            Code = "answered",
            When = "battery is on and not radio is on",
            Answered = "radio is on",
            ForS = 0,
            WithinS = 3,
            LapseS = 4,
            Severity = "note",
            Late = new LateAnswer("caution", "Sooner."),
            What = "Answered after {seconds} s.",
        };
        var good = Assert.Single(Found(Fly(With(sign), 20, (3, "battery", "on"), (5, "radio", "on")), "answered"));
        Assert.Equal((Severity.Note, "Take one of 40 V."), (good.Severity, good.Instead));
        var late = Assert.Single(Found(Fly(With(sign), 20, (3, "battery", "on"), (9, "radio", "on")), "answered"));
        Assert.Equal((Severity.Caution, "Sooner."), (late.Severity, late.Instead));
        Assert.Empty(Found(Fly(With(sign), 20, (3, "battery", "on"), (4, "battery", "off"), (12, "radio", "on")), "answered"));
    }

    [Theory]
    [InlineData("when", "watches.battery-low.when")]
    [InlineData("evidence", "watches.battery-low.evidence")]
    [InlineData("severity", "is none of note, caution, warning, damage")]
    [InlineData("words", "there is no signal \"battery.vots\"; nearest: \"battery.volts\"")]
    [InlineData("neither", "it needs either \"when\" or \"counts\"")]
    public void What_is_wrong_in_a_watch_is_told(string wrong, string told)
    {
        var watch = wrong switch
        {
            "when" => Low with { When = "batery is on" },
            "evidence" => Low with { Evidence = "battery.vots" },
            "severity" => Low with { Severity = "terrible" },
            "words" => Low with { Cost = "It reads {battery.vots} V." },
            _ => Low with { When = null },
        };
        var faults = Assert.Throws<DataFaultException>(() => With(watch)).Faults;
        Assert.Contains(faults, f => $"{f.Where}: {f.Problem}".Contains(told, StringComparison.Ordinal));
        Assert.All(faults, f => Assert.Equal("aircraft/juniper.json", f.File));
    }

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    /// <summary>A run broken off has one finding for all that was not reached, on every type, and a whole one none.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_run_broken_off_has_one_finding_for_what_was_not_reached(string aircraft)
    {
        var header = Situations.Calm with { Aircraft = aircraft };
        var whole = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(whole).Fly(1500);
        Assert.Empty(Found(whole, "stopped"));
        Assert.Empty(Found(whole, "needless-wait"));
        var broken = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(broken).Fly(45);
        var findings = broken.Judge.Conclude().Findings;
        Assert.Single(findings, f => f.Code == "stopped");
        Assert.InRange(findings.Count(f => f.Code == "omitted"), 0, 5);
    }

    /// <summary>Switches of the last phases are thrown early while a machine is waited for; a run that ends at the first engine is broken off all the same.</summary>
    [Theory]
    [InlineData("juniper", "fuel-first")]
    [InlineData("alder", "crank-first")]
    [InlineData("sedge", "crank-main")]
    public void A_run_that_ends_at_the_first_engine_is_broken_off_there(string aircraft, string forgets)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm with { Aircraft = aircraft });
        _ = new ScriptedPilot(rehearsal, new PilotTraits(Forgets: new HashSet<string> { forgets })).Fly(240);
        var findings = rehearsal.Judge.Conclude().Findings;
        Assert.Single(findings, f => f.Code == "stopped");
        Assert.InRange(findings.Count(f => f.Code == "omitted"), 0, 6);
    }

    [Fact]
    public void Idle_hands_are_counted_while_a_step_is_open_and_not_while_nothing_can_be_done()
    {
        var idle = Fly(new Rehearsal(Repository.Fleet, Situations.Calm), 90, (2, "battery", "on"));
        var found = Assert.Single(Found(idle, "needless-wait"));
        Assert.InRange(found.Evidence!.Value, 75, 82);
        Assert.Contains("before “Look: ", found.What, StringComparison.Ordinal);
        Assert.Empty(Found(Fly(new Rehearsal(Repository.Fleet, Situations.Calm), 40, (2, "battery", "on")), "needless-wait"));
    }

    [Fact]
    public void A_step_that_comes_long_after_it_could_be_done_is_late()
    {
        (double, string, string)[] power = [(1, "battery", "on"), (2, "ask-cart", "asking"), (40, "ground-power", "on"), (42, "inverter-instrument", "on")];
        Rehearsal Sedge() => new(Repository.Fleet, Situations.Calm with { Aircraft = "sedge" });
        Assert.Empty(Found(Fly(Sedge(), 130, [.. power, (100, "compass", "field")]), "late"));
        var late = Assert.Single(Found(Fly(Sedge(), 160, [.. power, (150, "compass", "field")]), "late"));
        Assert.InRange(late.Evidence!.Value, 100, 110);
        Assert.Equal(("compass-on", Severity.Note), (late.Step, late.Severity));
    }
}
