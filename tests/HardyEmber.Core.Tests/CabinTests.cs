using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Canopy, seal, air, warmth, oxygen and the bays that the air cools: what each does on every type, and what the debrief says of it.</summary>
public sealed class CabinTests
{
    private static readonly string[] OfTheCabin = ["cabin-hot", "cabin-cold", "no-oxygen", "oxygen-short", "bay-tripped"];

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static TheoryData<string> WithBottle => [.. Repository.Fleet.Aircraft.Where(a => a.Oxygen!.FullPsi is not null).Select(a => a.Id)];

    private static RunHeader On(string type, double oatC, params RunFault[] faults) =>
        Situations.Calm with { Aircraft = type, Conditions = Situations.Calm.Conditions with { OatC = oatC }, Faults = faults };

    private static IEnumerable<string> Canopies(HandFlown c) => c.Machine.Aircraft.Controls.Select(k => k.Id).Where(k => k.StartsWith("canopy", StringComparison.Ordinal));

    private static bool Shut(HandFlown c) => Canopies(c).All(k => c[$"{k}.shut"] > 0);

    [Theory]
    [MemberData(nameof(Types))]
    public void By_the_book_nobody_freezes_boils_or_gasps(string type)
    {
        foreach (var oatC in new[] { -31.0, 15, 44 })
        {
            var c = new HandFlown(On(type, oatC));
            var report = c.GoOn();
            Assert.Equal(Verdict.LaunchReady, report.Verdict);
            Assert.DoesNotContain(report.Findings, f => OfTheCabin.Contains(f.Code));
            Assert.Equal((1, 0, 0), (c["oxygen.flow"], c["oxygen.alarm"], c["cabin.unsealed"]));
            Assert.InRange(c["cabin.psi"], c.Machine.Aircraft.Cabin!.LeastPsi, c.Machine.Aircraft.Cabin.HoldsPsi);
            Assert.InRange(c["cabin.temperature"], oatC < 20 ? oatC + 0.5 : 15, oatC < 20 ? 35 : oatC + 2);
        }
    }

    /// <summary>First order: after one time constant, 1 − 1/e of the way to what the air supply is set to is done.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_shut_cabin_follows_its_air(string type)
    {
        var c = new HandFlown(On(type, -20)).Until(x => x["air.cabin"] > 0 && Shut(x));
        var before = c["cabin.temperature"];
        c.Run(c.Machine.Aircraft.Cabin!.TimeConstantS);
        Assert.Equal(1 - 1 / Math.E, (c["cabin.temperature"] - before) / (22 - before), 0.03);
    }

    /// <summary>Closed without a look along the rail, it stops on what lies there and comes back; looked at, it shuts.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void What_lies_on_the_rail_stops_the_canopy(string type)
    {
        var c = new HandFlown(On(type, 15, new RunFault("canopy-rail"))).Until(x => x["battery"] > 0 || type == "sedge" && x.Machine.Time > 5);
        foreach (var canopy in Canopies(c).Where(k => c[$"seen.{k}"] < 1).ToList())
        {
            c.Set(canopy, "closed").Run(8);
            Assert.Equal((0, 1, 0), (c[$"{canopy}.shut"], c[$"{canopy}.stopped"], c[canopy]));
            Assert.Contains(new WillNotTake(c.Machine).For(canopy).Effects.SelectMany(e => e.Chain), u => u.Cure is { Kind: "look" } cure && cure.Control == canopy);
            c.Set(canopy, "closed").Run(8);
            Assert.Equal((0, 0), (c[$"{canopy}.shut"], c[canopy]));
            c.Look(canopy).Set(canopy, "closed").Run(8);
            Assert.Equal((1, 0), (c[$"{canopy}.shut"], c[$"{canopy}.stopped"]));
        }

        Assert.Contains(c.Report.Findings, f => f.Code == "fault-answered");
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_torn_seal_is_seen_by_its_lamp_and_to_report_it_is_right(string type)
    {
        var c = new HandFlown(On(type, 15, new RunFault("canopy-seal"))).Until(x => x["cabin.unsealed"] > 0);
        c.Run(1);
        Assert.Equal(1, c["lamp.cabin"]);
        c.ReportFault("canopy-seal").Run(1);
        Assert.DoesNotContain(c.Report.Findings, f => f.Code == "fault-missed");
        Assert.Contains("the cabin holds no pressure", c.Report.Missing);
    }

    /// <summary>A bottle lasts as long as its file says, half as long undiluted; a leak empties it at its own pace, breathed or not.</summary>
    [Theory]
    [MemberData(nameof(WithBottle))]
    public void A_bottle_has_an_end(string type)
    {
        var d = Repository.Fleet.FindAircraft(type).Oxygen!;
        double Spent(string to, params RunFault[] faults)
        {
            var c = new HandFlown(On(type, 15, faults)).Set("oxygen", to).Run(20);
            var before = c["oxygen.psi"];
            return before - c.Run(600)["oxygen.psi"];
        }

        var usual = d.FullPsi!.Value / d.Minutes * 10;
        var on = d.Pure is null ? "on" : "normal";
        Assert.Equal(usual, Spent(on), 0.02 * usual);
        Assert.Equal(0, Spent("off"), 0.1);
        Assert.Equal(600, Spent("off", new RunFault("oxygen-leak", Level: 1)), 2);
        if (d.Pure is not null)
        {
            Assert.Equal(2 * usual, Spent("pure"), 0.04 * usual);
        }

        var leaks = new HandFlown(On(type, 15, new RunFault("oxygen-leak", Level: 8))).Set("oxygen", on);
        leaks.Run((d.FullPsi.Value - d.LowPsi) / (8 + usual / 600) - 20);
        Assert.Equal(0, leaks["oxygen.alarm"]);
        leaks.Run(40);
        Assert.Equal(1, leaks["oxygen.alarm"]);
        leaks.ReportFault("oxygen-leak").Run(1);
        Assert.Contains(leaks.Report.Findings, f => f.Code == "oxygen-short");
        Assert.DoesNotContain(leaks.Report.Findings, f => f.Code == "fault-missed");
    }

    [Theory]
    [MemberData(nameof(WithBottle))]
    public void Shut_in_without_oxygen_is_told_and_nothing_shut_is_not(string type)
    {
        var c = new HandFlown(On(type, 15)).Until(x => x["lamp-test"] > 0 || x.Machine.Time > 60);
        c.Set("oxygen", "off").Run(200);
        Assert.Equal(0, c["oxygen.alarm"]);
        foreach (var canopy in Canopies(c).ToList())
        {
            c.Look(canopy).Set(canopy, "closed");
        }

        c.Run(20);
        Assert.Equal(0, c["oxygen.alarm"]);
        c.Run(120);
        Assert.Equal(1, c["oxygen.alarm"]);
        Assert.Contains(c.Report.Findings, f => f.Code == "no-oxygen");
    }

    /// <summary>Too hot and too cold are told only where an engine's air was there to be had, and where it lasted.</summary>
    [Theory]
    [InlineData("juniper", 44, "cabin-hot")]
    [InlineData("alder", 44, "cabin-hot")]
    [InlineData("juniper", -31, "cabin-cold")]
    [InlineData("burdock", -31, "cabin-cold")]
    public void Air_that_was_there_and_not_let_in_is_told(string type, double oatC, string code)
    {
        var c = new HandFlown(On(type, oatC)).Until(x => x["air.offered"] > 0);
        var air = c.Machine.Aircraft.Controls.First(k => k.Id is "cooling" or "bleed");
        c.Run(30).Set(air.Id, air.Positions.First(p => p is "off" or "shut")).Run(60);
        Assert.DoesNotContain(c.Report.Findings, f => f.Code == code);
        c.Run(400);
        Assert.Contains(c.Report.Findings, f => f.Code == code);
    }

    /// <summary>The clock of a bay says when it will trip, and it does; cooled it has no clock.</summary>
    [Theory]
    [InlineData("juniper", "cabinet", "displays", "radar")]
    [InlineData("juniper", "aft-bay", "warning-receiver", "sensors", "jammer")]
    [InlineData("bramble", "cabinet", "displays", "radar")]
    [InlineData("bramble", "aft-bay", "sensors", "stores")]
    public void The_clock_of_a_bay_is_right(string type, string bay, params string[] boxes)
    {
        const double NoClock = 9999;
        var c = new HandFlown(On(type, 30)).Until(x => x["air.cabin"] > 0 && x["box.displays.ready"] > 0);
        c.Run(60);
        Assert.Equal(NoClock, c[$"{bay}.clock"]);
        c.Set(type == "juniper" ? "cooling" : "cooling-air", type == "juniper" ? "off" : "shut").Run(1);
        foreach (var box in boxes)
        {
            var control = c.Machine.Aircraft.Controls.First(k => k.Id == box);
            c.Set(box, control.Positions.First(p => p is "on" or "standby"));
        }

        c.Run(30);
        var (said, at) = (c[$"{bay}.clock"], c.Machine.Time);
        Assert.InRange(said, 20, 600);
        while (c[$"{bay}.tripped"] < 1)
        {
            Assert.True(c.Machine.Time < at + said + 30, $"{bay} has not tripped after {said} s");
            c.Run(0.2);
        }

        Assert.InRange(c.Machine.Time - at, said - 1, said + 1);
        Assert.Equal(NoClock, c[$"{bay}.clock"]);
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    [InlineData("burdock")]
    public void A_dead_fan_is_noticed_before_its_bay_trips(string type)
    {
        var c = new HandFlown(On(type, 15, new RunFault("cooling-fan"))).Until(x => x["cabinet.uncooled"] > 0);
        Assert.Equal(0, c["cabinet.tripped"]);
        Assert.True(c["air.cabin"] > 0 && c["cabinet.cooled"] == 0);
        c.ReportFault("cooling-fan").Run(1);
        Assert.DoesNotContain(c.Report.Findings, f => f.Code == "fault-missed");
    }
}
