using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Testing;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Tests;

public sealed class LiveRunTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    [Fact]
    public async Task A_switch_lights_its_lamp_and_moves_the_cue()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        Assert.Equal("sweep-brake", page.Cue!.Id);
        await page.SendAsync("Set", "battery", "on");
        await page.UntilAsync(p => p.Value("lamp.generator-right") > 0.5, "the generator caution");
        Assert.InRange(page.Value("bus.essential"), 22, 27);
        await page.SendAsync("Look", "parking-brake");
        await page.UntilAsync(p => p.Cue!.Id == "sweep-throttles", "the next cue");
        await page.UntilAsync(p => p.Time > 0.5, "time");
    }

    [Theory]
    [InlineData("Set", "warp", "on", "set: there is no control")]
    [InlineData("Set", "battery", "sideways", "to: \"battery\" has no position")]
    [InlineData("Set", "lamp-test", "pressed", "set: \"lamp-test\" springs back")]
    [InlineData("Hold", "battery", "on", "hold: \"battery\" stays")]
    [InlineData("Look", "nothing", null, "look: there is no")]
    public async Task A_command_that_cannot_be_obeyed_is_refused_and_not_logged(string method, string control, string? position, string complaint)
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        var e = await Assert.ThrowsAsync<HubException>(() => position is null ? page.SendAsync(method, control) : page.SendAsync(method, control, position));
        Assert.Contains(complaint, e.Message, StringComparison.Ordinal);
        Assert.Equal(0, (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").GetArrayLength());
    }

    [Fact]
    public async Task A_run_that_does_not_exist_says_so() =>
        Assert.Contains("there is no run", (await Assert.ThrowsAsync<HubException>(() => HubPage.OpenAsync(Server, "none"))).Message, StringComparison.Ordinal);

    [Fact]
    public async Task Two_pages_on_one_run_see_the_same_and_both_may_act()
    {
        var id = await Server.CreateAsync();
        await using var one = await HubPage.OpenAsync(Server, id);
        await using var two = await HubPage.OpenAsync(Server, id);
        await one.SendAsync("Set", "battery", "on");
        await two.UntilAsync(p => p.Value("bus.essential.live") > 0.5, "the other page's battery");
        await Task.WhenAll(Enumerable.Range(0, 40).Select(i => (i % 2 == 0 ? one : two).SendAsync("Set", "radio", i % 4 < 2 ? "on" : "off")));
        await one.SendAsync("Set", "radio", "on");
        await two.UntilAsync(p => p.Value("radio") > 0.5 && p.Actions.Count == 42, "every action on both pages");
        Assert.Equal(42, (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").GetArrayLength());
    }

    [Fact]
    public async Task When_the_last_page_goes_held_switches_spring_back_and_the_run_stands_still()
    {
        var id = await Server.CreateAsync();
        await using (var page = await HubPage.OpenAsync(Server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.SendAsync("Hold", "fire-test", "a");
            await page.UntilAsync(p => p.Value("fire.zone") > 0.5, "the first zone");
        }

        await using var back = await HubPage.OpenAsync(Server, id);
        await back.UntilAsync(p => p.Value("fire-test") < 0.5, "the switch sprung back");
        Assert.True(back.Paused);
        var stood = back.Time;
        await back.SendAsync("Pause", false);
        await back.UntilAsync(p => p.Time > stood + 0.3, "the run going on");
    }

    [Fact]
    public async Task Rates_speed_the_run_up_and_others_are_refused()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.SendAsync("Rate", 8.0);
        await page.UntilAsync(p => p.Time > 12, "twelve seconds at eight times", 5);
        Assert.Contains("rate", (await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Rate", 1000.0))).Message, StringComparison.Ordinal);
        await page.SendAsync("Pause", true);
        await page.UntilAsync(p => p.Paused, "the pause");
    }

    [Fact]
    public async Task An_ended_run_is_judged_listed_and_takes_no_more_commands()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        await page.SendAsync("Set", "battery", "on");
        await page.SendAsync("End");
        Assert.Contains("ended", (await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Set", "battery", "off"))).Message, StringComparison.Ordinal);
        var row = (await Server.JsonAsync("/api/runs?verdict=not-ready")).GetProperty("runs").EnumerateArray().Single(r => r.GetProperty("id").GetString() == id);
        Assert.True(row.GetProperty("findings").GetInt32() > 10);
    }

    [Fact]
    public async Task A_fork_carries_the_log_up_to_its_moment_and_leaves_the_parent_alone()
    {
        var id = await Server.CreateAsync();
        double forkAt;
        await using (var page = await HubPage.OpenAsync(Server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.UntilAsync(p => p.Time > 1, "a second");
            forkAt = page.Time;
            await page.SendAsync("Set", "radio", "on");
        }

        using var response = await Server.Client.PostAsJsonAsync(Pages.Path($"/api/runs/{id}/fork"), new { at = forkAt - 0.1 });
        var fork = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
        await using var forked = await HubPage.OpenAsync(Server, fork);
        Assert.Equal(id, forked.Snapshot.Parent);
        Assert.Equal(1, forked.Value("battery"));
        Assert.Equal(0, forked.Value("radio"));
        Assert.Equal(2, (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").GetArrayLength());
    }
}
