using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What is otherwise on a ship: wings folded where the jet stands, and a nose wheel that turns further for it.</summary>
public sealed class AboardTests
{
    private static RunHeader Afloat => Situations.Calm with { Place = "wintergreen", Spot = "1" };

    private static readonly string[] Wings = ["surface.wing-left", "surface.wing-right"];

    [Fact]
    public void A_jet_stands_on_deck_with_its_wings_folded_and_its_sweep_says_so()
    {
        var (afloat, ashore) = (new Rehearsal(Repository.Fleet, Afloat), new Rehearsal(Repository.Fleet, Situations.Calm));
        Assert.All(Wings, w => Assert.Equal((100, 0), (afloat.Machine[w], ashore.Machine[w])));
        Assert.Equal("Look: wing fold at folded", afloat.Tracker.Find("sweep-wing-fold")!.Definition.Cue);
        Assert.Equal("Look: wing fold at spread", ashore.Tracker.Find("sweep-wing-fold")!.Definition.Cue);
    }

    /// <summary>What the last pilot left the wrong way is wrong by where it rests there.</summary>
    [Fact]
    public void On_deck_it_is_the_spread_handle_that_was_left_wrong()
    {
        var juniper = Repository.Fleet.FindAircraft("juniper");
        var fold = juniper.Controls.First(c => c.Id == "wing-fold");
        foreach (var (header, rest, wrong) in new[] { (Afloat, "folded", "spread"), (Situations.Calm, "spread", "folded") })
        {
            var place = Repository.Fleet.FindPlace(header.Place);
            var seeds = Enumerable.Range(1, 300).Select(seed => header with { Beginning = "turnaround", Seed = seed })
                .ToLookup(h => LeftPositions.IsWrong(fold, juniper, place, h));
            Assert.InRange(seeds[true].Count(), 25, 70); // 15 in 100
            Assert.All(seeds[true], h => Assert.Equal(wrong, LeftPositions.Of(fold, juniper, place, h).Position));
            Assert.All(seeds[false], h => Assert.Equal(rest, LeftPositions.Of(fold, juniper, place, h).Position));
        }

        var afloat = Enumerable.Range(1, 300).Select(seed => Afloat with { Beginning = "turnaround", Seed = seed });
        var left = new Rehearsal(Repository.Fleet, afloat.First(h => LeftPositions.IsWrong(fold, juniper, Repository.Fleet.FindPlace(h.Place), h)));
        left.Apply(new RunCommand(0, CommandKind.End));
        Assert.Contains("put it where a cold jet has it (folded)", left.Judge.Conclude().Findings.First(f => f.Code == "swept-past" && f.Step == "wing-fold").Instead,
            StringComparison.Ordinal);
    }

    [Fact]
    public void Tight_steering_takes_below_walking_pace_aboard_and_ashore()
    {
        var jet = new HandFlown(Afloat).Due("brake-off");
        Assert.Equal(1, jet["steering.tight"]);
        Assert.Equal(0, jet["surface.aileron-left"]); // still, with the wings folded
        jet.Set("wing-fold", "spread").Run(20);
        Assert.Equal((1, 0), (jet["steering.tight"], jet["surface.wing-left"]));
        var ashore = new HandFlown(Situations.Calm).Due("brake-off").Set("steering", "tight").Run(5);
        Assert.Equal(1, ashore["steering.tight"]);
        var aloft = new HandFlown(Situations.Aloft("juniper", 15_000)).Set("steering", "tight").Run(5);
        Assert.Equal(0, aloft["steering.tight"]);
    }

    /// <summary>With folded wings the stick is boxed and the ailerons stay where they are: that is right.</summary>
    [Fact]
    public void Ailerons_stay_still_while_the_wings_are_folded()
    {
        var jet = new HandFlown(Afloat).Due("control-sweep").Hold("control-sweep", "sweeping");
        var (most, tail) = (0.0, 0.0);
        for (var i = 0; i < 50; i++)
        {
            jet.Run(0.1);
            (most, tail) = (Math.Max(most, Math.Abs(jet["surface.aileron-left"])), Math.Max(tail, Math.Abs(jet["surface.tail-left"])));
        }

        Assert.Equal(0, most);
        Assert.True(tail > 10);
    }
}
