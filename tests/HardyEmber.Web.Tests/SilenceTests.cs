using System.Text.Json;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>A page that nothing comes from any more is missed, however its wire broke: what it held springs back and the run stands still.</summary>
public sealed class SilenceTests
{
    private const string Longest = "5";

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
        Assert.Equal(5, page.Snapshot.SilenceS);
        await page.CallAsync("Rate", rate);
        await page.SendAsync("Set", "battery", "on");
        var held = (await page.SendAsync("Hold", "fire-test", "outer")).T;
        wire.Suffer(trouble);
        // Asked over another wire, of what is stored: the run went on for some seconds, and not for half a minute as it once did. A busy machine may be late.
        Assert.InRange(await ReleasedAsync(server, id) - held, 0, 20 * rate);
        if (trouble != WireTrouble.Cut)
        {
            await server.UntilSaidAsync("has fallen silent: fire-test sprang back, and the run stands still");
        }
    }

    // When the run's log says that the control was let go.
    private static async Task<double> ReleasedAsync(ServerProcess server, string id)
    {
        while (true)
        {
            var actions = (await server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").EnumerateArray().ToList();
            if (actions.Find(a => a.GetProperty("kind").GetString() == "release") is { ValueKind: JsonValueKind.Object } release)
            {
                return release.GetProperty("t").GetDouble();
            }

            await Task.Delay(100, TestContext.Current.CancellationToken);
        }
    }
}
