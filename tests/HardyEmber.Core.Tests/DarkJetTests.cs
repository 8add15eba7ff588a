using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A jet that nobody has touched: nothing dead looks well.</summary>
public sealed class DarkJetTests
{
    public static TheoryData<string> Types => [.. RandomHands.Types];

    [Theory]
    [MemberData(nameof(Types))]
    public void No_link_without_energy_is_green(string aircraft)
    {
        var bench = new Bench(Situations.Calm with { Aircraft = aircraft });
        foreach (var _ in new[] { "before the first step", "a second later" })
        {
            Assert.All(bench.Machine.Aircraft.Chain, link =>
            {
                var state = link.States[(int)bench[$"chain.{link.Id}"]];
                // A bottle is full on a dark jet as well; what has nothing is not well.
                Assert.True(state.Status != "ready" || bench[link.Number] > 0, $"{aircraft}: {link.Label} is {state.Word} with {link.Number} {bench[link.Number]}");
            });
            bench.Run(1);
        }
    }

    /// <summary>A battery that feeds nothing lasts for no time one could name: its gauges show a dash.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void What_means_nothing_on_a_dark_jet_is_at_its_dash(string aircraft)
    {
        var bench = new Bench(Situations.Calm with { Aircraft = aircraft }).Run(1);
        var lasts = Assert.Single(bench.Machine.Aircraft.Gauges, g => g.Signal == "battery.left");
        Assert.True(bench["battery.left"] >= lasts.DashFrom, $"{lasts.Label} shows {bench["battery.left"]}");
    }
}
