using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using HardyEmber.Web.Live;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Tests;

public sealed class LiveRunTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    [Fact]
    public async Task A_switch_lights_its_lamp_and_moves_the_cue()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        Assert.Equal("sweep-parking-brake", page.Cue!.Id);
        await page.SendAsync("Set", "battery", "on");
        Assert.True(page.Value("lamp.generator-right") > 0.5);
        Assert.InRange(page.Value("bus.essential"), 22, 27);
        await page.SendAsync("Look", "parking-brake");
        await page.StepUntilAsync(p => p.Cue!.Id == "sweep-throttle-right", "the next cue", 1);
        await page.StepAsync(0.5);
        Assert.InRange(page.Time, 0.5, 1);
        Assert.Equal(0, page.Missed);
    }

    /// <summary>What shows and was not said is told by the guide alone: neither before it shows, nor to who flies without one.</summary>
    [Theory]
    [InlineData("guided", "A fire warning with no test held")]
    [InlineData("prompted", "A fire warning with no test held")]
    [InlineData("alone", null)]
    public async Task The_sign_of_a_fault_is_told_until_it_was_reported(string mode, string? told)
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync(Situations.Calm with { Mode = mode, Faults = [new RunFault("outer-line-short")] }));
        await page.StepAsync(1);
        Assert.Null(page.Cue!.Sign);
        await page.SendAsync("Set", "battery", "on");
        await page.StepAsync(5);
        Assert.True(page.Value("fire.alarm") > 0);
        Assert.Equal(told is not null, page.Cue!.Sign?.Seen.StartsWith(told!, StringComparison.Ordinal) ?? false);
        await page.SendAsync("Report", "outer-line-short", null);
        await page.StepAsync(1);
        Assert.Null(page.Cue!.Sign);
    }

    [Fact]
    public async Task The_clock_stands_until_it_is_moved()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.StepAsync(1.5);
        Assert.Equal(1.5, page.Time, 2);
        await page.CallAsync("Rate", 8.0);
        await page.StepAsync(1.5);
        Assert.Equal(13.5, page.Time, 2);
    }

    /// <summary>What the cue asks is done by its name, so a press meant for another cue does nothing.</summary>
    [Fact]
    public async Task The_cue_is_done_by_its_name_and_only_while_it_is_the_cue()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.SendAsync("Do", "sweep-parking-brake");
        await page.StepUntilAsync(p => p.Cue!.Id != "sweep-parking-brake", "the next cue", 1);
        var e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Do", "sweep-parking-brake"));
        Assert.Contains("had just changed", e.Message, StringComparison.Ordinal);
        Assert.Equal(("look", "parking-brake"), page.Actions.Select(a => (a.Kind, a.Target)).Single());
    }

    /// <summary>The guide's key does not act before the cue's time; the control does.</summary>
    [Fact]
    public async Task A_guided_cue_is_not_done_before_its_time()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm);
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine["right.n2"] > 4));
        await using var page = await HubPage.OpenAsync(Server, await Server.ImportAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log])));
        await page.CallAsync("Pause", false);
        await page.StepUntilAsync(p => p.Cue is { Id: "fuel-first", Kind: CueKind.Ready }, "the fuel as the next cue", 5);
        var e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Do", "fuel-first"));
        Assert.Contains("cue: it is not time yet: nothing was moved", e.Message, StringComparison.Ordinal);
        Assert.Equal(0, page.Value("throttle-right"));
        await page.SendAsync("Set", "throttle-right", "idle");
        await page.StepUntilAsync(p => p.Value("throttle-right") > 0.5, "the lever at idle");
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
        Assert.Equal(one.Values, two.Values);
        Assert.Equal((0, 0), (one.Missed, two.Missed));
        Assert.Equal(42, (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").GetArrayLength());
    }

    [Fact]
    public async Task When_the_last_page_goes_held_switches_spring_back_and_the_run_stands_still()
    {
        var id = await Server.CreateAsync();
        await using (var page = await HubPage.OpenAsync(Server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.SendAsync("Hold", "fire-test", "outer");
            await page.StepUntilAsync(p => p.Value("fire.zone-1") > 0.5, "the first zone");
        }

        await using var back = await HubPage.OpenAsync(Server, id);
        await back.UntilAsync(p => p.Value("fire-test") < 1.5, "the switch sprung back");
        Assert.True(back.Paused);
        var stood = back.Time;
        await back.StepAsync(5);
        Assert.Equal(stood, back.Time);
        await back.CallAsync("Pause", false);
        await back.StepAsync(0.5);
        Assert.InRange(back.Time, stood + 0.46, stood + 0.52); // the spring’s own step is owed to the clock
    }

    [Fact]
    public async Task What_two_pages_hold_springs_back_when_the_last_lets_go()
    {
        var id = await Server.CreateAsync();
        await using var one = await HubPage.OpenAsync(Server, id);
        var two = await HubPage.OpenAsync(Server, id);
        await one.SendAsync("Hold", "fire-test", "outer");
        await two.SendAsync("Hold", "fire-test", "outer");
        await one.SendAsync("Release", "fire-test");
        Assert.Equal(2, one.Value("fire-test"));
        await two.DisposeAsync();
        await one.UntilAsync(p => p.Value("fire-test") < 1.5, "the switch, when the second page has gone");
    }

    [Fact]
    public async Task A_page_that_goes_lets_go_in_every_run_it_was_in()
    {
        var (first, second) = (await Server.CreateAsync(), await Server.CreateAsync());
        await using var watcher = await HubPage.OpenAsync(Server, second);
        var page = await HubPage.OpenAsync(Server, first);
        await page.InvokeAsync("Join", second, Role.Fly, false);
        await page.InvokeAsync("Hold", second, "fire-test", "outer");
        await watcher.UntilAsync(p => p.Value("fire-test") > 1.5, "the hold");
        await page.DisposeAsync();
        await watcher.UntilAsync(p => p.Value("fire-test") < 1.5, "the end of the hold");
    }

    [Fact]
    public async Task Who_never_joined_is_refused_with_a_word()
    {
        var id = await Server.CreateAsync();
        await using var stranger = await HubPage.ConnectAsync(Server, id);
        foreach (var method in new[] { "Set", "Hold" })
        {
            var e = await Assert.ThrowsAsync<HubException>(() => stranger.SendAsync(method, "battery", "on"));
            Assert.Contains("has not joined", e.Message, StringComparison.Ordinal);
        }

        await using var pilot = await HubPage.OpenAsync(Server, id);
        Assert.Contains("has not joined", (await Assert.ThrowsAsync<HubException>(() => stranger.SendAsync("Set", "battery", "on"))).Message, StringComparison.Ordinal);
        Assert.Contains("has not joined", (await Assert.ThrowsAsync<HubException>(() => stranger.CallAsync("Pause", true))).Message, StringComparison.Ordinal);
        Assert.Contains("has not joined", (await Assert.ThrowsAsync<HubException>(() => stranger.CallAsync("State"))).Message, StringComparison.Ordinal);
        Assert.Empty(pilot.Actions);
    }

    [Fact]
    public async Task Who_looks_on_sees_all_and_moves_nothing()
    {
        var id = await Server.CreateAsync();
        await using var pilot = await HubPage.OpenAsync(Server, id);
        await using var observer = await HubPage.OpenAsync(Server, id, Role.Look);
        Assert.Equal(Role.Look, observer.Snapshot.Role);
        await pilot.SendAsync("Set", "battery", "on");
        await observer.UntilAsync(p => p.Value("battery") > 0.5, "the pilot's battery");
        foreach (var act in new Func<Task>[] { () => observer.SendAsync("Set", "battery", "off"), () => observer.SendAsync("Do", observer.Cue!.Id),
            () => observer.SendAsync("End"), () => observer.CallAsync("Pause", true), () => observer.CallAsync("Rate", 8.0) })
        {
            Assert.Contains("looks on", (await Assert.ThrowsAsync<HubException>(act)).Message, StringComparison.Ordinal);
        }

        Assert.Single(pilot.Actions);
        // Nobody flies when only lookers-on are left.
        await pilot.DisposeAsync();
        await observer.UntilAsync(p => p.Paused, "the run standing still");
    }

    [Fact]
    public async Task A_pilots_page_never_learns_what_no_instrument_shows()
    {
        var header = Pages.Header with { Faults = [new RunFault("weak-air", Level: 0.7)], Surprises = 2 };
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync(header));
        Assert.Empty(page.Snapshot.Header.Faults);
        Assert.Equal(0, page.Snapshot.Header.Surprises);
        Assert.DoesNotContain(page.Snapshot.Signals, s => s.Name.EndsWith("egt-true", StringComparison.Ordinal) || s.Name.EndsWith("egt-highest", StringComparison.Ordinal));
        var e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Look", "right.egt-true"));
        Assert.Contains("there is no", e.Message, StringComparison.Ordinal);
    }

    /// <summary>A note of a look is no thing to look at: such a command was once stored, and the run could never be opened again.</summary>
    [Fact]
    public async Task To_look_at_a_look_is_refused_and_spoils_nothing()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        Assert.Contains("there is no", (await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Look", "seen.battery"))).Message, StringComparison.Ordinal);
        await page.SendAsync("Look", "battery");
        Assert.Single((await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("actions").EnumerateArray());
    }

    [Fact]
    public async Task A_command_moves_the_clock_only_while_the_run_runs()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.CallAsync("Pause", true);
        var stood = page.Time;
        for (var i = 0; i < 60; i++)
        {
            await page.SendAsync("Set", "radio", i % 2 == 0 ? "on" : "off");
        }

        Assert.Equal(stood, page.Time);
        await page.CallAsync("Pause", false);
        await page.SendAsync("Set", "radio", "on");
        Assert.Equal(stood + 0.02, page.Time, 3);
    }

    [Fact]
    public async Task Rates_speed_the_run_up_and_others_are_refused()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.CallAsync("Rate", 8.0);
        await page.StepAsync(1.5);
        Assert.Equal(12, page.Time, 2);
        Assert.Contains("rate", (await Assert.ThrowsAsync<HubException>(() => page.CallAsync("Rate", 1000.0))).Message, StringComparison.Ordinal);
        await page.CallAsync("Pause", true);
        await page.UntilAsync(p => p.Paused, "the pause");
    }

    [Fact]
    public async Task An_ended_run_is_judged_listed_and_takes_no_more_commands()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        await page.SendAsync("Set", "battery", "on");
        await page.SendAsync("End");
        Assert.True(page.Ended);
        Assert.Contains("ended", (await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Set", "battery", "off"))).Message, StringComparison.Ordinal);
        var row = (await Server.JsonAsync("/api/runs?verdict=not-ready")).GetProperty("runs").EnumerateArray().Single(r => r.GetProperty("id").GetString() == id);
        Assert.InRange(row.GetProperty("findings").GetInt32(), 1, 10); // what was not reached is one of them
        Assert.False(row.TryGetProperty("peakC", out _)); // no engine was ever lit
    }

    [Fact]
    public async Task A_run_of_six_hours_ends_by_itself_and_is_judged()
    {
        // Close to the end by import: six hours of waiting are no test.
        var header = System.Text.Json.JsonSerializer.Serialize(Pages.Header, Core.Definitions.FleetJson.Line);
        using var body = new StringContent(header + "\n{\"t\":21598,\"set\":\"battery\",\"to\":\"on\"}\n");
        using var response = await Server.Client.PostAsync(Pages.Path("/api/runs/import"), body);
        var id = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
        await using var page = await HubPage.OpenAsync(Server, id, resume: true);
        Assert.Equal(21600, page.Snapshot.LongestS);
        Assert.InRange(page.Snapshot.History.T.Count, 1000, 2400);
        await page.StepUntilAsync(p => p.Ended, "the end", 5);
        Assert.Equal(21600, page.Time, 1);
        var file = await Server.Client.GetStringAsync(Pages.Path($"/api/runs/{id}/file"));
        using var again = await Server.Client.PostAsync(Pages.Path("/api/runs/import"), new StringContent(file));
        Assert.Equal(System.Net.HttpStatusCode.Created, again.StatusCode);
    }

    [Fact]
    public async Task A_fork_carries_the_log_up_to_its_moment_and_leaves_the_parent_alone()
    {
        var id = await Server.CreateAsync();
        double forkAt;
        await using (var page = await HubPage.OpenAsync(Server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.StepAsync(1);
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
        using var beyond = await Server.Client.PostAsJsonAsync(Pages.Path($"/api/runs/{id}/fork"), new { at = forkAt + 60 });
        Assert.Equal("at", (await beyond.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
    }

    [Fact]
    public async Task Hands_bring_a_run_no_further_than_half_a_second_before_its_clock()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        for (var i = 0; i < 200; i++)
        {
            await page.SendAsync("Set", "radio", i % 2 == 0 ? "on" : "off");
        }

        Assert.InRange(page.Time, 0.3, 0.52);
        Assert.Equal(200, page.Actions.Count);
        await page.StepAsync(2);
        Assert.InRange(page.Time, 1.98, 2.02); // what hands took on is owed
    }

    [Theory]
    [InlineData("Set", "control", "RUN", null, "on")]
    [InlineData("Set", "run", null, "battery", "on")]
    [InlineData("Set", "position", "RUN", "battery", null)]
    [InlineData("Hold", "control", "RUN", null, "a")]
    [InlineData("Release", "control", "RUN", null)]
    [InlineData("Look", "target", "RUN", null)]
    [InlineData("Report", "fault", "RUN", null, null)]
    [InlineData("Do", "cue", "RUN", null)]
    [InlineData("State", "run", null)]
    [InlineData("End", "run", null)]
    public async Task An_argument_that_is_missing_is_named(string method, string field, params string?[]? arguments)
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        var before = Server.Output.Length;
        var e = await Assert.ThrowsAsync<HubException>(() => page.InvokeAsync(method, [.. (arguments ?? [null]).Select(a => a == "RUN" ? id : a)]));
        Assert.Contains($"HubException: {field}: is missing", e.Message, StringComparison.Ordinal);
        Assert.Empty(page.Actions);
        Assert.DoesNotContain($"The call {method} failed", Server.Output[before..], StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_end_that_cannot_be_stored_is_told_in_words_and_the_run_goes_on_from_what_is_stored()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        await page.SendAsync("Set", "battery", "on");
        await using (var other = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(Server.Data, "ember.db")};Pooling=False"))
        {
            await other.OpenAsync(TestContext.Current.CancellationToken);
            using var hold = other.CreateCommand();
            hold.CommandText = "BEGIN IMMEDIATE";
            _ = hold.ExecuteNonQuery();
            var e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("End"));
            Assert.Contains("HubException: later: another program holds the database: nothing was stored", e.Message, StringComparison.Ordinal);
            hold.CommandText = "ROLLBACK";
            _ = hold.ExecuteNonQuery();
        }

        await using var again = await HubPage.OpenAsync(Server, id);
        Assert.False(again.Ended);
        Assert.Single(again.Actions);
        await again.SendAsync("End");
        Assert.True(again.Ended);
    }

    [Fact]
    public async Task A_run_whose_server_halted_says_that_it_goes_slower_than_its_clock()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        await page.StepAsync(1);
        Assert.Null(page.Trouble);
        (await Server.Client.PostAsync(Pages.Path("/test/halt?seconds=4"), null)).EnsureSuccessStatusCode();
        await page.UntilAsync(p => p.Trouble is not null, "the word");
        Assert.InRange(page.Time, 1.4, 1.6); // it was not flung forward
        await page.StepAsync(4);
        Assert.Null(page.Trouble);
    }
}
