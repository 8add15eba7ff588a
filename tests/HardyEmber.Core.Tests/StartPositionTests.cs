using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Where the inertial set is told that it stands: reading, distance, slips, and what a wrong one does.</summary>
public class StartPositionTests
{
    /// <summary>The worked example of E. Williams, Aviation Formulary: 0.623585 rad, course 1.150035 rad.</summary>
    [Fact]
    public void Great_circle_agrees_with_the_published_line()
    {
        var (from, to) = (GeoPosition.Parse("33°57′N 118°24′W"), GeoPosition.Parse("40°38′N 73°47′W"));
        Assert.Equal(0.623585 * 180 / Math.PI * 60, GreatCircle.DistanceNm(from, to), 0.01);
        Assert.Equal(1.150035 * 180 / Math.PI, GreatCircle.CourseDeg(from, to), 0.001);

        // Its point at four tenths of the way lies on the line, and divides it.
        var between = GeoPosition.Parse("38°40.167′N 101°37.570′W");
        Assert.Equal(0.4 * GreatCircle.DistanceNm(from, to), GreatCircle.DistanceNm(from, between), 0.01);
        Assert.Equal(0.6 * GreatCircle.DistanceNm(from, to), GreatCircle.DistanceNm(between, to), 0.01);
    }

    [Theory]
    [InlineData(0, 0, 0, 1, 60, 90)]
    [InlineData(60, 10, 60, 11, 30, 89.57)]
    [InlineData(0, 179.5, 0, -179.5, 60, 90)]
    [InlineData(89, 0, 89, 180, 120, 0)]
    public void Great_circle_holds_where_it_can_be_told_by_hand(double lat1, double lon1, double lat2, double lon2, double nm, double course)
    {
        Assert.Equal(nm, GreatCircle.DistanceNm(new(lat1, lon1), new(lat2, lon2)), 0.01);
        Assert.Equal(course, GreatCircle.CourseDeg(new(lat1, lon1), new(lat2, lon2)), 0.01);
    }

    [Theory]
    [InlineData("61°24.25′N 018°12.78′W")]
    [InlineData("61 24.25 N, 18 12.78 W")]
    [InlineData("n61 24.25 w018 12.78")]
    [InlineData("61 24.25N18 12.78W")]
    [InlineData("N 61° 24.25' W 018° 12.78'")]
    public void A_position_is_read_as_it_is_written(string text) => Assert.Equal("61°24.25′N 018°12.78′W", GeoPosition.Parse(text).ToString());

    [Theory]
    [InlineData("", "latitude: it is missing")]
    [InlineData("91°00.0′N 018°12.7′W", "latitude: degrees go to 90")]
    [InlineData("90°00.1′N 018°12.7′W", "latitude: degrees go to 90")]
    [InlineData("61°60.0′N 018°12.7′W", "latitude: minutes go to 59.99")]
    [InlineData("61°24.3′N", "longitude: it is missing")]
    [InlineData("61°24.3′N 018°12.7′", "longitude: E or W is missing")]
    [InlineData("61°24.3′N 181°12.7′W", "longitude: degrees go to 180")]
    [InlineData("61°24.3′ 018°12.7′W", "latitude: N or S is missing")]
    [InlineData("61.405 N 18.21 W", "latitude: whole degrees and minutes are needed")]
    [InlineData("61.5 24.3 N 18 12 W", "latitude: whole degrees and minutes are needed")]
    [InlineData("somewhere", "latitude: write degrees and minutes")]
    [InlineData("NW", "latitude: degrees and minutes are missing")]
    public void What_is_no_position_says_which_half_and_why(string text, string says)
    {
        Assert.StartsWith(says, Assert.Throws<FormatException>(() => GeoPosition.Parse(text)).Message, StringComparison.Ordinal);
        var bench = new Bench(Situations.Calm);
        Assert.StartsWith(says, Assert.Throws<CommandException>(() => bench.Machine.Check(new RunCommand(0, CommandKind.Set, "start-position", text))).Message,
            StringComparison.Ordinal);
        Assert.Equal(0, bench["start-position"]);
    }

    [Theory]
    [InlineData("61°24.25′S 018°12.78′W", "latitude: south where it is north")]
    [InlineData("61°24.25′N 018°12.78′E", "longitude: east where it is west")]
    [InlineData("61°14.55′N 018°12.78′W", "latitude: minutes taken for decimals of a degree")]
    [InlineData("61°24.25′N 018°21.30′W", "longitude: decimals of a degree typed as minutes")]
    [InlineData("16°24.25′N 018°12.78′W", "latitude: 61 and 16 changed places")]
    [InlineData("61°42.25′N 018°12.78′W", "latitude: 24 changed places")]
    [InlineData("61°24.25′N 081°12.78′W", "longitude: 18 changed places")]
    [InlineData("67°24.25′N 018°12.78′W", "latitude: 7 where it is 1")]
    [InlineData("61°24.25′S 018°21.78′W", "latitude: south where it is north; longitude: 12 changed places")]
    public void The_likely_slip_is_named(string typed, string slip)
    {
        var meant = GeoPosition.Parse("61°24.25′N 018°12.78′W");
        Assert.Equal(Words(slip), Words(PositionSlip.Name(meant, GeoPosition.Parse(typed))));

        // "61 and 16" or "6 and 1": what counts is that both say the same two figures.
        static string Words(string? text) => string.Concat((text ?? "none").Replace(" and ", "", StringComparison.Ordinal).Where(c => !char.IsDigit(c)));
    }

    [Fact]
    public void Halves_that_changed_places_are_seen_and_what_nobody_can_know_is_not()
    {
        var meant = new GeoPosition(22.1764, -40.0372);
        Assert.Equal("latitude and longitude changed places", PositionSlip.Name(meant, new(-40.0372, 22.1764)));
        Assert.Null(PositionSlip.Name(meant, meant));
        Assert.Null(PositionSlip.Name(meant, new(29.3, -47.91)));
    }

    /// <summary>Without an entry the set takes what its last flight left; with one, the spot; and a typed one is held against it in feet.</summary>
    [Theory]
    [InlineData("juniper", "right")]
    [InlineData("alder", null)]
    [InlineData("bramble", null)]
    public void The_set_believes_what_it_is_given(string aircraft, string? starts)
    {
        var header = Situations.Calm with { Aircraft = aircraft, Seed = 5 };
        var bench = starts is null ? new Bench(header) : Bench.WithRightRunning(header);
        var before = StartPosition.Of(bench.Machine);
        Assert.Null(before.Entered);
        Assert.Equal("61°24.25′N 018°12.78′W", before.Offered);

        bench.Set("start-position", "61°24.25′N 018°12.18′W");
        var typed = StartPosition.Of(bench.Machine);
        Assert.InRange(typed.OffFt!.Value, 1700, 1800); // 0.6 minutes of longitude here
        Assert.Equal(90, typed.BearingDeg!.Value, 0.5);
        Assert.Equal("longitude: 1 where it is 7", typed.Slip);
        Assert.Contains("ft from spot A1, on 090°. Most likely longitude: 1 where it is 7.", typed.Sentence, StringComparison.Ordinal);
        bench.Set("start-position", "spot");
        Assert.Equal("It is spot A1.", StartPosition.Of(bench.Machine).Sentence);
        if (starts is null)
        {
            return;
        }

        Assert.Equal(InertialSet.Nothing, bench["ins.position-error"]);
        bench.Set("inertial", "field").Run(5);
        Assert.Equal(0, bench["ins.position-error"], 0.005);
        bench.Set("start-position", "61°24.25′N 018°22.78′W").Run(5);
        Assert.Equal(4.79, bench["ins.position-error"], 0.03); // ten minutes of longitude, cos 61.4°
        bench.Until("ins.good", 400);
        bench.Set("inertial", "navigate").Run(1);
        Assert.Equal(4.79, bench["ins.position-error"], 0.03);
        bench.Set("start-position", "spot").Run(10); // an update: it believes it
        Assert.InRange(bench["ins.position-error"], 0, 0.05);
    }

    [Fact]
    public void What_it_remembers_is_as_wrong_as_its_last_flight_left_it()
    {
        var off = Enumerable.Range(0, 40).Select(seed => Bench.WithRightRunning(Situations.Calm with { Seed = seed }).Set("inertial", "field").Run(5)["ins.position-error"])
            .Order().ToList();
        Assert.InRange(off[20], 0.3, 0.9);
        Assert.InRange(off[^1], 0.8, 4);
    }

    /// <summary>A latitude that is wrong by more than two degrees spoils the heading; less, or a longitude, does not.</summary>
    [Theory]
    [InlineData("59°30.00′N 018°12.78′W", true)]
    [InlineData("61°24.25′N 058°12.78′W", true)]
    [InlineData("16°24.25′N 018°12.78′W", false)]
    [InlineData("61°24.25′S 018°12.78′W", false)]
    public void A_latitude_far_off_spoils_the_heading(string typed, bool good)
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("start-position", typed).Set("inertial", "field").Run(600);
        Assert.Equal(good ? 1 : 0, bench["ins.good"]);
        if (!good)
        {
            Assert.Equal(InertialSet.Nothing, bench["ins.left"]);
            bench.Set("start-position", "spot").Run(1);
            Assert.Equal(1, bench["ins.good"]);
        }
    }

    [Fact]
    public void Only_a_set_that_is_given_one_is_asked_for_it()
    {
        Assert.Throws<ArgumentException>(() => StartPosition.Of(new Bench(Situations.Calm with { Aircraft = "sedge" }).Machine));
        Assert.Throws<ArgumentException>(() => StartPosition.Of(new Bench(Situations.Calm with { Aircraft = "teasel" }).Machine));
    }
}
