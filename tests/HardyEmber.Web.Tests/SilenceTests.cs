using HardyEmber.Testing;
using HardyEmber.Web.Live;

namespace HardyEmber.Web.Tests;

/// <summary>A page that nothing comes from any more is missed, however its wire broke: what it held springs back and the run stands still.</summary>
public sealed class SilenceTests
{
    private const string Longest = "2";

    [Theory]
    [InlineData(WireTrouble.Frozen, 8)]
    [InlineData(WireTrouble.HalfOpen, 1)]
    [InlineData(WireTrouble.Cut, 1)]
    public async Task A_silent_page_lets_go_and_the_run_stands_still(WireTrouble trouble, double rate)
    {
        await using var server = await ServerProcess.StartAsync(settings: ["--silence", Longest]);
        await using var wire = new Wire(server);
        var id = await server.CreateAsync();
        await using var page = await HubPage.OpenAsync(server, id, over: wire);
        await using var other = await HubPage.OpenAsync(server, id, Role.Look);
        Assert.Equal(2, page.Snapshot.SilenceS);
        await page.CallAsync("Rate", rate);
        await page.SendAsync("Set", "battery", "on");
        await page.SendAsync("Hold", "fire-test", "a");
        Assert.True(other.Value("fire-test") > 0.5 || other.Number < page.Number);
        var begun = other.Time;
        wire.Suffer(trouble);
        await other.UntilAsync(p => p.Paused && p.Value("fire-test") < 0.5, "the run standing still with nothing held");
        // Two seconds of silence and one in which it is looked at: the run has not gone on for half a minute, as it did. A busy machine may be late.
        Assert.InRange(other.Time - begun, 0, 15 * rate);
        if (trouble != WireTrouble.Cut)
        {
            await server.UntilSaidAsync("has fallen silent: fire-test sprang back, and the run stands still");
        }
    }

    [Fact]
    public async Task A_page_that_gives_signs_of_life_is_not_missed_though_its_run_stands()
    {
        await using var server = await ServerProcess.StartAsync(settings: ["--silence", Longest]);
        await using var page = await HubPage.OpenAsync(server, await server.CreateAsync());
        await page.SendAsync("Hold", "fire-test", "a");
        await page.CallAsync("Pause", true);
        for (var i = 0; i < 5; i++)
        {
            await Task.Delay(1000, TestContext.Current.CancellationToken);
            await page.InvokeAsync("Alive");
        }

        Assert.True(page.Value("fire-test") > 0.5);
        Assert.DoesNotContain("fallen silent", server.Output, StringComparison.Ordinal);
    }
}
