using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>High ground on the way: where one decides, who hits it, who gets over it.</summary>
public sealed class HighGroundTests
{
    public static TheoryData<string> Types => FlameOutTests.Types;

    public static TheoryData<string> Twins => FlameOutTests.Twins;

    private const double GroundFt = 4000;

    private static RunHeader OverHighGround(string type, double heightFt, double fromNm, double? groundFt = GroundFt) =>
        Situations.Aloft(type, heightFt) is var h ? h with { Flight = h.Flight! with { FromNm = fromNm, GroundFt = groundFt } } : h;

    /// <summary>Over high ground one decides higher, the machine as well as every look ahead; near the field its own ground counts again.</summary>
    [Theory, MemberData(nameof(Types))]
    public void High_ground_raises_the_decision_until_the_field_is_near(string type)
    {
        var decision = Repository.Fleet.FindAircraft(type).Flight.DecisionHeightFt;
        var field = Repository.Fleet.FindPlace(Situations.Calm.Place).ElevationFt;
        var header = OverHighGround(type, 22_000, 5.5);
        var flown = new HandFlown(header).Run(1);
        Assert.Equal(flown["flight.height"] - GroundFt - decision, flown["flight.above-decision"], 3);
        Assert.Equal(GroundFt + decision, RelightEnvelope.For(Repository.Fleet, header).DecisionFt, 0);
        flown.Run(40);
        Assert.Equal(flown["flight.height"] - field - decision, flown["flight.above-decision"], 3);
        Assert.True(flown["flight.home"] < RunFlight.OwnGroundNm);

        // What would come to idle over the field does not over the ground that is left.
        var low = RelightEnvelope.For(Repository.Fleet, OverHighGround(type, 22_000, 40, 14_000)).Windmill;
        var open = RelightEnvelope.For(Repository.Fleet, Situations.Aloft(type, 22_000)).Windmill;
        Assert.True(open.Count > 0 && (low.Count == 0 || low.Min(e => e.FloorFt) > open.Min(e => e.FloorFt) + 5000));
    }

    [Fact]
    public void Who_flies_into_high_ground_hits_it_there_and_the_glide_home_has_to_clear_it()
    {
        var flown = new HandFlown(OverHighGround("alder", 9000, 30));
        flown.Dial("pitch", -20).Run(60);
        Assert.Equal(FlightEnd.HitGround, FlightOutcome.Of(flown.Machine).End);
        Assert.InRange(flown["flight.height"], GroundFt - 1, GroundFt + 1);

        var clear = RelightOutlook.For(Repository.Fleet, OverHighGround("alder", 12_000, 8), [], 0).Home!;
        var plain = RelightOutlook.For(Repository.Fleet, OverHighGround("alder", 12_000, 8, null), [], 0).Home!;
        Assert.True(clear.ArrivesFt > 0 && plain.ArrivesFt > clear.ArrivesFt);
        var far = plain.ReachNm - 1;
        Assert.True(RelightOutlook.For(Repository.Fleet, OverHighGround("alder", 12_000, far), [], 0).Home!.ArrivesFt < 0);
        Assert.True(RelightOutlook.For(Repository.Fleet, OverHighGround("alder", 12_000, far, null), [], 0).Home!.ArrivesFt > 0);
    }

    /// <summary>An engine that holds its height lower than the ground on the way does not bring it home, whatever fuel there is: a hot day, a heavy jet.</summary>
    [Theory]
    [InlineData("alder")]
    [InlineData("burdock")]
    [InlineData("teasel")]
    public void High_ground_is_cleared_on_one_engine_or_it_does_not_get_home(string type)
    {
        const double AwayNm = 250, FromFt = 12_000;
        var numbers = Repository.Fleet.FindAircraft(type).Numbers;
        WayHome Home(double? groundFt) => RelightOutlook.For(Repository.Fleet, OverHighGround(type, FromFt, AwayNm, groundFt) is var h ? h with
        {
            Flight = h.Flight! with { Other = RunFlight.IdleOther, EasKt = 1.3 * h.Flight.EasKt },
            Conditions = h.Conditions with { OatC = 45 },
            Loading = new LoadingHeader(numbers.InternalFuelLb, Math.Round(0.3 * numbers.EmptyLb)),
        } : h, [], 0).Home!;
        var holds = Home(null).LevelsOffFt!.Value;
        Assert.InRange(holds, 5000, 10_000);
        Assert.NotNull(Home(holds - 2500).FuelLb);
        Assert.Null(Home(holds + 1000).FuelLb);
    }

    /// <summary>Who has an engine that holds the height is sent home on it and not out of the jet; who has none, or one that does not clear the ground, is told to leave.</summary>
    [Theory, MemberData(nameof(Twins))]
    public void Too_low_for_any_restart_a_twin_is_sent_home_on_the_engine_that_runs(string type)
    {
        var aircraft = Repository.Fleet.FindAircraft(type);
        var low = Situations.Aloft(type, Math.Round(aircraft.Flight.DecisionHeightFt) - 500);
        var home = RelightOutlook.For(Repository.Fleet, low with { Flight = low.Flight! with { Other = RunFlight.IdleOther } }, [], 0).Advice;
        Assert.Equal(Severity.Caution, home.Severity);
        Assert.Contains("Home on the engine that runs", home.Text, StringComparison.Ordinal);
        var none = RelightOutlook.For(Repository.Fleet, low, [], 0).Advice;
        Assert.Equal(Severity.Warning, none.Severity);
        Assert.Contains("leave", none.Text, StringComparison.Ordinal);
        var burning = low with
        {
            Flight = low.Flight! with { Other = RunFlight.IdleOther },
            Faults = [new RunFault("bay-fire", aircraft.Engines.First(e => e.Id != low.Flight!.Dead).Id)]
        };
        Assert.Contains("leave", RelightOutlook.For(Repository.Fleet, burning, [], (long)(20 / Steps.Seconds)).Advice.Text, StringComparison.Ordinal);
    }

    /// <summary>Where nothing works from any height that is flown, there is no last chance, and no error.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Over_the_highest_ground_on_a_hot_day_no_last_chance_is_higher_than_anybody_flies(string type)
    {
        var numbers = Repository.Fleet.FindAircraft(type).Numbers;
        var header = OverHighGround(type, 20_000, 200, 16_000);
        header = header with
        {
            Conditions = header.Conditions with { OatC = 45 },
            Loading = new LoadingHeader(numbers.InternalFuelLb, Math.Round(0.3 * numbers.EmptyLb)),
            Flight = header.Flight! with { EasKt = 1.3 * header.Flight.EasKt }
        };
        Assert.All(LastChance.For(Repository.Fleet, header).SelectMany(c => c.Points), p => Assert.InRange(p.HeightFt, 16_000, RunFlight.HighestFt));
    }

    [Theory]
    [InlineData(6000, 4000, null)]
    [InlineData(4400, 4000, "flight.heightFt: 4400 ft is not 500 ft over the ground there, 4000 ft")]
    public void A_height_under_high_ground_is_refused_by_its_field(double heightFt, double groundFt, string? problem)
    {
        var header = OverHighGround("tansy", heightFt, 20, groundFt);
        if (problem is null)
        {
            _ = new Rehearsal(Repository.Fleet, header);
            return;
        }

        Assert.Equal(problem, Assert.Throws<FormatException>(() => new Rehearsal(Repository.Fleet, header)).Message);
    }

    [Fact]
    public void Ground_lower_than_the_place_is_refused_by_its_field()
    {
        var high = Repository.Fleet.Places.MaxBy(p => p.ElevationFt)!;
        var header = OverHighGround("tansy", 20_000, 20, high.ElevationFt - 10) with { Place = high.Id, Spot = high.Spots[0].Id };
        Assert.StartsWith("flight.groundFt: ", Assert.Throws<FormatException>(() => new Rehearsal(Repository.Fleet, header)).Message, StringComparison.Ordinal);
    }
}
