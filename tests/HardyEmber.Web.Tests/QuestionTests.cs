using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Tests;

/// <summary>Questions to a run: why will it not take, what falls without a source, where the controls stand; and reports.</summary>
public sealed class QuestionTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private static IEnumerable<string?> Unmet(JsonElement answer) =>
        answer.GetProperty("effects").EnumerateArray().SelectMany(e => e.GetProperty("chain").EnumerateArray()).Select(u => u.GetProperty("signal").GetString());

    [Fact]
    public async Task Why_is_answered_live_and_at_any_moment_of_the_past()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        Assert.Contains("battery", Unmet(await Server.JsonAsync($"/api/runs/{id}/why?target=aux-unit")));
        await page.StepAsync(1);
        await page.SendAsync("Set", "battery", "on");
        await page.SendAsync("Set", "aux-unit", "on");
        await page.StepUntilAsync(p => p.Value("aux.running") > 0.5, "the unit");
        Assert.DoesNotContain("battery", Unmet(await Server.JsonAsync($"/api/runs/{id}/why?target=aux-unit")));
        Assert.Contains("battery", Unmet(await Server.JsonAsync($"/api/runs/{id}/why?target=aux-unit&at=0.5")));
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    public async Task A_start_position_is_held_against_the_spot_and_a_bad_one_changes_nothing(string type)
    {
        var id = await Server.CreateAsync(Situations.Calm with { Aircraft = type });
        await using var page = await HubPage.OpenAsync(Server, id);
        async Task<string> Says() => (await Server.JsonAsync($"/api/runs/{id}/start-position")).GetProperty("sentence").GetString()!;
        Assert.StartsWith("Nothing is entered", await Says(), StringComparison.Ordinal);
        var refused = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Set", "start-position", "61 60.0 N 18 12.78 W"));
        Assert.Contains("latitude: minutes go to 59.99", refused.Message, StringComparison.Ordinal);
        await page.StepAsync(1);
        await page.SendAsync("Set", "start-position", "61 24.25 N 18 12.78 E");
        await page.StepAsync(1);
        Assert.Contains("east where it is west", await Says(), StringComparison.Ordinal);
        Assert.StartsWith("Nothing is entered", (await Server.JsonAsync($"/api/runs/{id}/start-position?at=0.5")).GetProperty("sentence").GetString(), StringComparison.Ordinal);
        await page.SendAsync("Set", "start-position", "spot");
        await page.StepAsync(1);
        Assert.Equal("It is spot A1.", await Says());
        Assert.DoesNotContain("61 60.0", await Server.Client.GetStringAsync(new Uri($"/api/runs/{id}/file", UriKind.Relative)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("juniper", "inertial")]
    [InlineData("bramble", "inertial")]
    [InlineData("alder", "inertial")]
    [InlineData("tansy", "platform")]
    [InlineData("sedge", "compass")]
    [InlineData("burdock", "inertial")]
    public async Task Going_now_or_waiting_is_answered_by_the_leg_of_the_run(string type, string selector)
    {
        var header = Situations.Calm with { Aircraft = type, Leg = new LegHeader(120, 20, 0.7) };
        var answer = await Server.JsonAsync($"/api/runs/{await Server.CreateAsync(header)}/go-or-wait");
        Assert.StartsWith("Usable after", answer.GetProperty("sentence").GetString(), StringComparison.Ordinal);
        Assert.False(answer.TryGetProperty("nowS", out _));
        Assert.Equal(120, answer.GetProperty("leg").GetProperty("lengthNm").GetDouble());

        // The alignment of a run by the book, asked in its middle and when it has been taken.
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine["ins.aligned"] > answer.GetProperty("earliestS").GetDouble() + 20));
        var middle = rehearsal.Machine.Time;
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine["ins.navigating"] > 0));
        Assert.Contains(pilot.Log, c => c.Target == selector);
        var id = await Server.ImportAsync(new RunLog(header, [.. pilot.Log]));
        var going = await Server.JsonAsync(FormattableString.Invariant($"/api/runs/{id}/go-or-wait?at={middle}"));
        Assert.StartsWith("Go in", going.GetProperty("sentence").GetString(), StringComparison.Ordinal);
        Assert.InRange(going.GetProperty("nowNm").GetDouble(), going.GetProperty("curve").EnumerateArray().Last().GetProperty("errorNm").GetDouble(),
            going.GetProperty("curve")[0].GetProperty("errorNm").GetDouble());
        var taken = await Server.JsonAsync(FormattableString.Invariant($"/api/runs/{id}/go-or-wait?at={rehearsal.Machine.Time}"));
        Assert.StartsWith("Taken after", taken.GetProperty("sentence").GetString(), StringComparison.Ordinal);
        Assert.True(taken.GetProperty("nowNm").GetDouble() < going.GetProperty("nowNm").GetDouble());

        // What comes of it nobody is told before the run is over.
        Assert.False((await Server.JsonAsync($"/api/runs/{id}/debrief")).TryGetProperty("leg", out _));
        var over = await Server.ImportAsync(new RunLog(header, [.. pilot.Log, new RunCommand(rehearsal.Machine.StepIndex + 500, CommandKind.End)]));
        var flown = (await Server.JsonAsync($"/api/runs/{over}/debrief")).GetProperty("leg");
        Assert.StartsWith("Flown on", flown.GetProperty("sentence").GetString(), StringComparison.Ordinal);
        Assert.True(flown.GetProperty("cameNm").GetDouble() > 0);
        Assert.Equal(taken.GetProperty("nowNm").GetDouble(), flown.GetProperty("asked").GetProperty("nowNm").GetDouble(), 9);
    }

    [Theory]
    [InlineData("lengthNm", 0)]
    [InlineData("minutes", 301)]
    [InlineData("markNm", -1)]
    public async Task A_leg_beyond_all_bounds_names_its_field(string field, double value)
    {
        using var response = await Server.Client.PostAsJsonAsync(Pages.Path("/api/runs"), new
        {
            aircraft = "juniper",
            place = "skerrow-main",
            spot = "A1",
            seed = 1,
            start = "first",
            conditions = new { oatC = 15, windFromDeg = 0, windKt = 0 },
            leg = new { lengthNm = field == "lengthNm" ? value : 100, minutes = field == "minutes" ? value : 20, markNm = field == "markNm" ? value : 1 },
        });
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Contains(field, (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("why?target=ashtray", HttpStatusCode.BadRequest, "target")]
    [InlineData("why?target=battery&at=-1", HttpStatusCode.BadRequest, "at")]
    [InlineData("why?target=battery&at=NaN", HttpStatusCode.BadRequest, "at")]
    [InlineData("without?source=windmill", HttpStatusCode.BadRequest, "source")]
    public async Task A_bad_question_names_its_field(string question, HttpStatusCode status, string field)
    {
        var id = await Server.CreateAsync();
        using var response = await Server.Client.GetAsync(Pages.Path($"/api/runs/{id}/{question}"));
        Assert.Equal(status, response.StatusCode);
        Assert.Equal(field, (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
    }

    [Fact]
    public async Task An_aircraft_without_an_inertial_set_says_so()
    {
        using var response = await Server.Client.GetAsync(Pages.Path($"/api/runs/{await Server.CreateAsync(Situations.Calm with { Aircraft = "teasel" })}/go-or-wait"));
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Contains("no inertial set", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_question_to_no_run_is_a_404() =>
        Assert.Equal(HttpStatusCode.NotFound, (await Server.Client.GetAsync(Pages.Path("/api/runs/none/why?target=battery"))).StatusCode);

    [Fact]
    public async Task What_falls_without_a_source_comes_in_order()
    {
        var id = await Server.CreateAsync();
        await using var page = await HubPage.OpenAsync(Server, id);
        await page.SendAsync("Set", "battery", "on");
        await page.UntilAsync(p => p.Value("bus.essential.live") > 0.5, "the bus");
        var drop = await Server.JsonAsync($"/api/runs/{id}/without?source=battery");
        Assert.Contains("essential", drop.GetProperty("buses").EnumerateArray().Select(b => b.GetString()));
        var after = drop.GetProperty("loads").EnumerateArray().Select(l => l.GetProperty("afterS").GetDouble()).ToList();
        Assert.NotEmpty(after);
        Assert.Equal(after.Order(), after);
    }

    [Fact]
    public async Task The_hardware_list_shows_what_the_last_pilot_left()
    {
        async Task<List<JsonElement>> ListAsync(string start)
        {
            using var response = await Server.Client.PostAsJsonAsync(Pages.Path("/api/positions"), Pages.Header with { Beginning = start }, FleetJson.Line);
            response.EnsureSuccessStatusCode();
            return [.. (await response.Content.ReadFromJsonAsync<JsonElement>()).EnumerateArray()];
        }

        Assert.DoesNotContain(await ListAsync("first"), p => p.GetProperty("differs").GetBoolean());
        var left = await ListAsync("turnaround");
        Assert.Contains(left, p => p.GetProperty("differs").GetBoolean() && p.GetProperty("at").GetString() != p.GetProperty("cold").GetString());
    }

    [Fact]
    public async Task A_report_is_stored_and_judged()
    {
        var id = await Server.CreateAsync(Pages.Header with { Faults = [new RunFault("inner-line-short", Level: 1)] });
        await using var page = await HubPage.OpenAsync(Server, id);
        await page.SendAsync("Set", "battery", "on");
        await page.StepUntilAsync(p => p.Value("fire.alarm") > 0.5, "the alarm");
        await page.SendAsync("Report", "inner-line-short", null!);
        var e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Report", "gremlins", null!));
        Assert.Contains("report: there is no fault", e.Message, StringComparison.Ordinal);
        e = await Assert.ThrowsAsync<HubException>(() => page.SendAsync("Report", "dead-bulb", "ashtray"));
        Assert.Contains("to: \"dead-bulb\" sits in one of", e.Message, StringComparison.Ordinal);
        await page.SendAsync("End");
        var findings = (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("judgement").GetProperty("findings").EnumerateArray();
        Assert.Contains(findings, f => f.GetProperty("code").GetString() == "fault-answered");
    }
}
