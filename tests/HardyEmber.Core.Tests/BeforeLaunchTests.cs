using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Three drills before a launch: short, of three kinds, for the day and for the pilot.</summary>
public sealed class BeforeLaunchTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static RunHeader Sortie(string type) => Situations.Calm with
    {
        Aircraft = type,
        Conditions = new RunConditions(-4, 300, 12),
        Loading = new LoadingHeader(3000, 500),
        Pilot = "Tinder"
    };

    private static DrillFlown Flown(string drill, double hoursAgo = 30, Verdict verdict = Verdict.LaunchReady, string sentence = "Restarted", double seconds = 60) =>
        new(drill, hoursAgo, verdict, sentence, seconds);

    [Theory, MemberData(nameof(Types))]
    public void It_is_three_short_flights_at_todays_weight_and_in_todays_air(string type)
    {
        var set = BeforeLaunch.For(Repository.Fleet, Sortie(type), []);
        Assert.Equal(BeforeLaunch.Asked, set.Drills.Count);
        Assert.InRange(set.Seconds, 60, 8 * 60);
        Assert.Equal(0, set.Done);
        Assert.All(set.Drills, d =>
        {
            Assert.Equal((d.Id, "air", "Tinder"), (d.Header.Drill, d.Header.Beginning, d.Header.Pilot));
            Assert.Equal((Sortie(type).Conditions, Sortie(type).Loading), (d.Header.Conditions, d.Header.Loading));
            Assert.False(string.IsNullOrEmpty(d.Why) || d.Done);
            _ = Repository.Fleet.Build(d.Header);
        });
        // One of a dead engine, the others begin with everything running.
        Assert.Equal(1, set.Drills.Count(d => d.Header.Flight!.Dead != RunFlight.NoneDead));
        Assert.Single(set.Drills, d => d.Header.Faults.Any(f => f.Code.StartsWith(RunHeader.FlameOut, StringComparison.Ordinal)));
    }

    [Fact]
    public void What_went_badly_comes_first_then_what_is_new_then_what_was_slow()
    {
        var dead = Repository.Fleet.Drills.Where(d => d.Aircraft == "juniper" && d.Flight.Dead != RunFlight.NoneDead).Select(d => d.Id).ToList();
        List<DrillFlown> well = [.. dead.Select(d => Flown(d))];
        string First(IEnumerable<DrillFlown> flown) => BeforeLaunch.For(Repository.Fleet, Sortie("juniper"), [.. flown]).Drills[0].Id;
        Assert.Equal("juniper-fast", First([Flown("juniper-fast", verdict: Verdict.NotReady, sentence: "Not ready"),
            .. well.Where(f => f.Drill is not "juniper-fast" and not "juniper-hot")]));
        Assert.Equal("juniper-hot", First(well.Where(f => f.Drill != "juniper-hot")));
        Assert.Equal("juniper-fast", First([Flown("juniper-fast", seconds: 240), .. well.Where(f => f.Drill != "juniper-fast")]));
    }

    [Fact]
    public void To_leave_in_time_is_well_flown_where_there_is_nothing_else()
    {
        var drill = Repository.Fleet.Drills.First(d => d.Id == "juniper-low");
        Assert.True(Flown(drill.Id, verdict: Verdict.NotReady, sentence: "Left at 10,300 ft").Well(drill));
        Assert.False(Flown(drill.Id, verdict: Verdict.NotReady, sentence: "It hit the ground").Well(drill));
        Assert.False(Flown("juniper-fast", verdict: Verdict.NotReady, sentence: "Left at 10,300 ft").Well(Repository.Fleet.Drills.First(d => d.Id == "juniper-fast")));
    }

    [Fact]
    public void They_count_for_four_hours_each_once_and_only_if_flown_to_an_end()
    {
        int Done(params DrillFlown[] flown) => BeforeLaunch.DoneOf(Repository.Fleet, flown);
        Assert.Equal(2, Done(Flown("juniper-fast", 1), Flown("juniper-fast", 2), Flown("juniper-hot", 3.9), Flown("juniper-cold", 4.1)));
        Assert.Equal(3, Done(Flown("juniper-fast", 1), Flown("juniper-hot", 2), Flown("juniper-cold", 3), Flown("juniper-low", 3)));
        Assert.Equal(0, Done(Flown("no-such-drill", 1)));
        // Broken off: nothing came of it yet, or what it is about had not even begun.
        Assert.Equal(0, Done(Flown("juniper-fast", 1, Verdict.NotReady, "Not ready: the right engine is not running."),
            Flown("juniper-quiet", 1, Verdict.ReadyWithDefects, "Flown on", 16)));
        Assert.Equal(3, Done(Flown("juniper-low", 1, Verdict.NotReady, "Left at 10,300 ft"), Flown("juniper-fast", 1, Verdict.AircraftDamaged, "Aircraft damaged"),
            Flown("juniper-quiet", 1, Verdict.ReadyWithDefects)));
    }

    /// <summary>Where the school asks for it a start without them is not ready to launch.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_school_may_ask_for_them(string type)
    {
        foreach (var (drilled, ready) in new[] { (2, false), (3, true) })
        {
            var header = Situations.Taught(type, ("drills", "three")) with { Drilled = drilled };
            var tracker = new Rehearsal(Repository.Fleet, header);
            var asked = Assert.Single(tracker.Tracker.Ready, r => r.Definition.Text.Contains("drills", StringComparison.Ordinal));
            Assert.Equal(ready, asked.When.Holds(tracker.Machine.Signals.Values));
        }

        Assert.DoesNotContain(new Rehearsal(Repository.Fleet, Situations.Taught(type)).Tracker.Ready, r => r.Definition.Text.Contains("drills", StringComparison.Ordinal));
    }
}
