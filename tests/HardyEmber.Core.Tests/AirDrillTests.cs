using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The drills of a flight, each flown by its guide to the end that its file names.</summary>
public sealed class AirDrillTests
{
    private const double WatchedS = 90, LongestS = 1500;

    public static TheoryData<string> Drills => [.. Repository.Fleet.Drills.Select(d => d.Id)];

    [Theory]
    [MemberData(nameof(Drills))]
    public void By_the_guide_it_ends_as_its_file_says(string id)
    {
        var drill = Repository.Fleet.Drills.First(d => d.Id == id);
        var flown = new HandFlown(drill.At(Repository.Fleet.FindPlace("skerrow-main"), 7));
        var ended = flown.Pilot.FlyUntil(() => flown.Machine.Time > (drill.Ends == AirDrill.FliesOn ? WatchedS : LongestS));
        var ends = !ended ? AirDrill.FliesOn : FlightOutcome.Of(flown.Machine).End switch
        {
            FlightEnd.Restarted => AirDrill.Runs,
            FlightEnd.HomeOnOne => AirDrill.Home,
            FlightEnd.Left => AirDrill.Leaves,
            var other => other.ToString(),
        };
        Assert.Equal(drill.Ends, ends);
        Assert.DoesNotContain(flown.Report.Findings, f => f.Code is "left-late" or "left-flying" or "below-decision-height" or "sound-one-cut");
    }

    [Fact]
    public void Three_types_have_at_least_ten_and_the_others_five()
    {
        var counts = Repository.Fleet.Aircraft.ToDictionary(a => a.Id, a => Repository.Fleet.Drills.Count(d => d.Aircraft == a.Id));
        Assert.All(counts, c => Assert.True(c.Value >= (c.Key is "juniper" or "bramble" or "alder" ? 10 : 5), $"{c.Key}: {c.Value}"));
        Assert.Equal(Repository.Fleet.Drills.Count, Repository.Fleet.Drills.Select(d => d.Id).Distinct().Count());
    }
}
