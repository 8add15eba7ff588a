using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The data files are checked against each other: what dangles is named with its file and place.</summary>
public sealed class FleetTests
{
    [Theory]
    [InlineData("aircraft/juniper.json", "\"when\": \"battery is on\"", "\"when\": \"batery is on\"", "electrics.buses.essential.feeds[2].when")]
    [InlineData("aircraft/juniper.json", "\"lit\": \"aux.ready\"", "\"lit\": \"aux.reddy\"", "lamps.aux-ready.lit")]
    [InlineData("aircraft/juniper.json", "\"signal\": \"battery.amps\"", "\"signal\": \"battery.ampere\"", "battery.ampere")]
    [InlineData("aircraft/juniper.json", "\"engine\": \"left\"", "\"engine\": \"port\"", "air.bleed.left.engine")]
    [InlineData("aircraft/juniper.json", "\"from\": \"ac-left\"", "\"from\": \"ac-middle\"", "ac-middle")]
    [InlineData("aircraft/juniper.json", "\"role\":", "\"rôle\":", "rôle")]
    [InlineData("procedures/juniper-ground.json", "\"set\": \"aux-unit\"", "\"set\": \"aux-unti\"", "steps.aux-on.act")]
    [InlineData("procedures/juniper-ground.json", "\"step\": \"sweep-throttle-right\"", "\"step\": \"sweep-nothing\"", "steps.battery-on.after")]
    [InlineData("parts/steps.json", "\"catches\": [\"surface-still\"]", "\"catches\": [\"surface-stil\"]", "steps.control-sweep.catches")]
    [InlineData("procedures/juniper-ground.json", "\"school\": \"selfTests is all\"", "\"school\": \"selfTests is not al\"", "selfTests is al")]
    [InlineData("procedures/juniper-ground.json", "\"done\": \"task.control-reset\"", "\"done\": \"task.control-resets\"", "steps.control-reset.done")]
    [InlineData("procedures/juniper-ground.json", "\"firstPower is cart\"", "\"firstPower is cord\"", "steps.ask-cart.school")]
    [InlineData("parts/steps.json", "\"startAir is cart and secondAir is {second}\"", "\"startAir is cart and thirdAir is {second}\"", "steps.air-cart-away-early.school")]
    [InlineData("parts/steps.json", "\"school\": \"avionics is after\"", "\"school\": \"avionics later\"", "steps.align.after.idle-second.school")]
    [InlineData("procedures/alder-ground.json", "\"done\": \"aux-unit is off and {first}.generator\"", "\"done\": \"aux-unit is gone\"", "steps.unit-off-early.done")]
    [InlineData("aircraft/alder.json", "\"loop\": 3", "\"loop\": 9", "fire.zones[2].loop")]
    [InlineData("aircraft/alder.json", "\"shut\": \"shut-off-left is shut\"", "\"shut\": \"shut-of-left is shut\"", "fire.left.shut")]
    [InlineData("aircraft/juniper.json", "flight.airborne and utility is on", "flight.airborn and utility is on", "surfaces.utility.on")]
    [InlineData("aircraft/tansy.json", "\"min\": 100, \"max\": 999, \"step\": 1,", "\"min\": 100, \"max\": 999, \"step\": 0.5,", "controls.beacon-outer.wheels")]
    [InlineData("drills.json", "\"code\": \"bay-fire\"", "\"code\": \"bay-water\"", "drills[2].faults")]
    [InlineData("drills.json", "\"dead\": \"right\"", "\"dead\": \"middle\"", "drills[0].flight.dead")]
    [InlineData("drills.json", "\"ends\": \"runs\"", "\"ends\": \"well\"", "drills[0].ends")]
    [InlineData("faults.json", "\"format\": \"hardy-ember/faults\"", "\"format\": \"hardy-ember/sorrows\"", "sorrows")]
    public void A_dangling_name_is_an_error_with_its_path(string file, string from, string to, string named)
    {
        var files = Repository.FleetFiles();
        var index = files.FindIndex(f => f.Path == file);
        Assert.Contains(from, files[index].Text, StringComparison.Ordinal);
        files[index] = files[index] with { Text = files[index].Text.Replace(from, to, StringComparison.Ordinal) };
        var e = Assert.Throws<DataFaultException>(() => Fleet.Load(files));
        Assert.Contains(e.Faults, f => f.File == file && $"{f.Where}: {f.Problem}".Contains(named, StringComparison.Ordinal));
        // What is built of the file as well is told without a line of its own.
        Assert.All(e.Faults.Where(f => f.File == file || f.Line > 1), f => Assert.Contains(to[..Math.Min(6, to.Length)].Trim('"'),
            string.Join('\n', files.First(x => x.Path == f.File).Text.Split('\n').Skip(f.Line - 1)), StringComparison.Ordinal));
    }

    /// <summary>All that is wrong is told at once: each with its file, its line, its place and the name that was probably meant.</summary>
    [Fact]
    public void Every_fault_of_the_data_is_told_at_once()
    {
        (string File, string From, string To, string Told)[] slips =
        [
            ("aircraft/juniper.json", "\"lit\": \"aux.ready\"", "\"lit\": \"aux.reddy\"", "nearest: \"aux.ready\""),
            ("aircraft/juniper.json", "\"id\": \"anti-skid\",\n      \"label\": \"Anti-skid\",\n      \"kind\": \"toggle\",\n      \"link\": \"ready\"",
                "\"id\": \"anti-skid\",\n      \"label\": \"Anti-skid\",\n      \"kind\": \"toggle\",\n      \"link\": \"reddy\"", "nearest: \"ready\""),
            ("aircraft/sedge.json", "\"watts\":", "\"wats\":", "nearest: \"watts\""),
            ("places/dry-lantern.json", "\"elevationFt\": 640", "\"elevationFt\": \"high\"", "a number is needed"),
            ("procedures/bramble-ground.json", "\"set\": \"start-bottles\"", "\"set\": \"start-botles\"", "nearest: \"start-bottles\""),
            ("procedures/alder-ground.json", "\"done\": \"aux-unit is off and {first}.generator\"", "\"done\": \"aux-unit is gone and {first}.generator\"", "off, on"),
        ];
        var files = Repository.FleetFiles();
        foreach (var (file, from, to, _) in slips)
        {
            var index = files.FindIndex(f => f.Path == file);
            Assert.Contains(from, files[index].Text, StringComparison.Ordinal);
            var at = files[index].Text.IndexOf(from, StringComparison.Ordinal);
            files[index] = files[index] with { Text = files[index].Text[..at] + to + files[index].Text[(at + from.Length)..] };
        }

        var faults = Assert.Throws<DataFaultException>(() => Fleet.Load(files)).Faults;
        Assert.All(slips, slip => Assert.Contains(faults, f => f.File == slip.File && f.Problem.Contains(slip.Told, StringComparison.Ordinal)));
        Assert.All(faults, f => Assert.Contains(slips, s => s.File == f.File));
        foreach (var fault in faults)
        {
            // The line named holds the slip, or begins the object in which a field is missing.
            var line = files.First(f => f.Path == fault.File).Text.Split('\n')[fault.Line - 1];
            Assert.True(slips.Any(s => s.File == fault.File && s.To.Split('\n')[^1] is var slip && line.Contains(slip.Trim(), StringComparison.Ordinal))
                || fault.Problem.Contains("missing", StringComparison.Ordinal), $"{fault}: {line}");
        }
    }

    [Fact]
    public void The_cue_follows_the_machine_and_comes_back_when_a_step_is_undone()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm);
        foreach (var look in new[] { "parking-brake", "throttle-right", "master-arm", "wing-fold" })
        {
            rehearsal.Apply(new RunCommand(rehearsal.Machine.StepIndex, CommandKind.Look, look));
        }

        Assert.Equal("battery-on", rehearsal.Tracker.Now().Step!.Id);
        rehearsal.Apply(new RunCommand(0, CommandKind.Set, "battery", "on"));
        rehearsal.AdvanceTo(50);
        Assert.NotEqual("battery-on", rehearsal.Tracker.Now().Step!.Id);
        rehearsal.Apply(new RunCommand(50, CommandKind.Set, "battery", "off"));
        rehearsal.AdvanceTo(100);
        Assert.Equal("battery-on", rehearsal.Tracker.Now().Step!.Id);
    }

    [Fact]
    public void A_blocked_step_says_what_is_missing_nearest_first()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm);
        var step = rehearsal.Tracker.Find("crank-first")!;
        Assert.Contains("aux.ready", rehearsal.Tracker.WhyNot(step).Select(a => a.SignalName));
        Assert.Equal("aux.ready", rehearsal.Tracker.WhyNot(step)[0].SignalName);
    }

    [Fact]
    public void Every_school_and_every_place_can_be_flown_to_launch_ready()
    {
        var fleet = Repository.Fleet;
        var procedure = fleet.Procedures.Single(p => p.Aircraft == "juniper" && p.Beginnings.Contains("first"));
        foreach (var place in fleet.Places)
        {
            foreach (var question in procedure.Schools)
            {
                foreach (var answer in question.Answers)
                {
                    var header = Situations.Calm with
                    {
                        Place = place.Id,
                        Spot = place.Spots[0].Id,
                        Conditions = new RunConditions(10, place.Spots[0].HeadingDeg, 5),
                        Parked = new ParkedHeader(answer.Needs is not null),
                        Drilled = BeforeLaunch.Asked,
                        School = new Dictionary<string, string> { [question.Id] = answer.Id },
                    };
                    var rehearsal = new Rehearsal(fleet, header);
                    _ = new ScriptedPilot(rehearsal).Fly(1500);
                    var judgement = rehearsal.Judge.Conclude();
                    Assert.True(judgement.Verdict == Judging.Verdict.LaunchReady,
                        $"{place.Id} {question.Id}={answer.Id}: {judgement.Sentence} {string.Join("; ", judgement.Findings.Select(f => f.What))}");
                }
            }
        }
    }

    /// <summary>Nothing turns before the ground was warned, the tower asked and the crew has given its signal: on every type.</summary>
    [Fact]
    public void Every_first_crank_rests_on_light_tower_and_crew()
    {
        foreach (var procedure in Repository.Fleet.Procedures.Where(p => p.Beginnings.Contains("first")))
        {
            var crank = procedure.Phases.SelectMany(p => p.Steps).First(s => s.Id.StartsWith("crank", StringComparison.Ordinal));
            var on = crank.After.Select(a => a.Step).ToList();
            Assert.Contains("anti-collision", on);
            Assert.Contains("tower", on);
            Assert.Contains(on, s => s.StartsWith("crew-", StringComparison.Ordinal));
        }
    }
}
