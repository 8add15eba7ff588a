using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The simulated crew chief and tower: delays, refusals, obstacles, who hears whom.</summary>
public sealed class CrewTests
{
    [Fact]
    public void An_answer_takes_its_seconds_and_the_switch_goes_back()
    {
        var thinks = Repository.Fleet.FindAircraft("juniper").Tasks.First(t => t.Id == "crew.chocks").States.First(s => s.Id == "asked").Seconds!;
        var bench = new Bench(Situations.Calm).Set("ask-chocks", "asking");
        var answered = bench.Until("crew.chocks", 30) - bench.LastCommandS;
        Assert.InRange(answered, thinks[0], thinks[1] + 0.3);
        Assert.Equal(0, bench.Run(0.5)["ask-chocks"]);
    }

    [Fact]
    public void What_stands_in_the_way_is_named_and_is_gone_after_a_while()
    {
        var bench = new Bench(Situations.Calm with { Faults = [new RunFault("in-the-way")] }).Set("ask-start-right", "asking");
        bench.Until("crew.start-right.refused", 30);
        var said = bench.Machine.Aircraft.Tasks.First(t => t.Id == "crew.start-right").States[(int)bench["crew.start-right.state"]].Says;
        Assert.StartsWith("Hold:", said, StringComparison.Ordinal);
        for (var i = 0; i < 20 && bench["crew.start-right"] < 0.5; i++)
        {
            bench.Set("ask-start-right", "asking").Run(12);
        }

        Assert.Equal(1, bench["crew.start-right"]);
    }

    [Fact]
    public void The_tower_hears_only_a_warm_radio()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1).Set("ask-tower", "asking").Run(15);
        Assert.Equal(0, bench["crew.tower"] + bench["crew.tower.refused"]);
        bench.Set("ask-tower", "quiet").Set("radio", "on");
        bench.Until("box.radio.ready", 90);
        bench.Set("ask-tower", "asking");
        bench.Run(12);
        Assert.Equal(1, bench["crew.tower"] + bench["crew.tower.refused"]);
    }

    [Fact]
    public void A_request_that_cannot_be_met_is_refused_and_one_ends_another()
    {
        var bench = new Bench(Situations.Calm with { Aircraft = "sedge" }).Set("ask-cart-away", "asking");
        bench.Until("crew.cart-away.refused", 30);
        bench.Run(0.5).Set("ask-cart", "asking");
        bench.Until("crew.cart", 60);
        bench.Run(0.5).Set("ask-cart-away", "asking");
        bench.Until("crew.cart-away", 60);
        Assert.Equal(0, bench.Run(0.5)["crew.cart"]);
    }

    [Fact]
    public void The_same_seed_gives_the_same_answers_and_another_seed_others()
    {
        double After(long seed)
        {
            var bench = new Bench(Situations.Calm with { Seed = seed }).Set("ask-chocks", "asking");
            return bench.Until("crew.chocks", 60);
        }

        Assert.Equal(After(3), After(3));
        Assert.NotEqual(After(3), After(4));
    }
}
