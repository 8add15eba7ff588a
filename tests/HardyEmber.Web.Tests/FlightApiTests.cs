using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Flights over HTTP: what is foretold at any moment, forks with another method, and drills that count for a launch.</summary>
public sealed class FlightApiTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private static RunLog Flown(RunHeader header) => new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();

    private async Task<(HttpStatusCode Status, string Text)> PostAsync(string path, object body)
    {
        using var response = await Server.Client.PostAsJsonAsync(ServerCalls.Path(path), body, FleetJson.Line);
        return (response.StatusCode, await response.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task What_each_method_would_have_cost_is_told_for_any_moment_of_an_ended_flight()
    {
        var id = await Server.ImportAsync(Flown(Situations.Aloft("juniper", 25_000)));
        async Task<JsonElement> AtAsync(string at) => await Server.JsonAsync($"/api/runs/{id}/relight-outlook?at={at}");
        var (first, later) = (await AtAsync("0"), await AtAsync("20"));
        Assert.Equal(0, first.GetProperty("atS").GetDouble());
        Assert.Equal(20, later.GetProperty("atS").GetDouble());
        Assert.True(later.GetProperty("path").GetArrayLength() > 10);
        Assert.Equal("Skerrow Main", later.GetProperty("home").GetProperty("place").GetString());
        foreach (var bad in new[] { "-1", "1e9" })
        {
            using var refused = await Server.Client.GetAsync(ServerCalls.Path($"/api/runs/{id}/relight-outlook?at={bad}"));
            Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
            Assert.Contains("at", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_fork_may_try_another_method_and_is_compared_with_where_it_came_from()
    {
        var id = await Server.ImportAsync(Flown(Situations.Aloft("alder", 14_000)));
        var (status, text) = await PostAsync($"/api/runs/{id}/fork", new { at = 2.0, method = "magnets" });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("method", text, StringComparison.Ordinal);
        (status, text) = await PostAsync($"/api/runs/{id}/fork", new { at = 2.0, method = "starter" });
        Assert.Equal(HttpStatusCode.Created, status);
        var fork = JsonDocument.Parse(text).RootElement.GetProperty("id").GetString();
        var debrief = await Server.JsonAsync($"/api/runs/{fork}/debrief");
        Assert.Equal(id, debrief.GetProperty("parent").GetString());
        Assert.Equal(2, debrief.GetProperty("parentAt").GetDouble());
        Assert.Equal("starter", debrief.GetProperty("header").GetProperty("school").GetProperty("method").GetString());
        Assert.Equal("restarted", (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("flight").GetProperty("end").GetString());
    }

    /// <summary>Who still flies is to find out which engine it is: neither the steps nor what it came to tell him, and the end tells all.</summary>
    [Fact]
    public async Task The_debrief_of_a_flight_that_goes_on_does_not_name_its_engine()
    {
        var header = Situations.AllRun("juniper", 15_000) with { Faults = [new RunFault("flame-out-fuel", "right", 30)] };
        var flown = Flown(header);
        async Task<JsonElement> DebriefAsync(RunLog log) => await Server.JsonAsync($"/api/runs/{await Server.ImportAsync(log)}/debrief");
        // Before it fails, and while it is brought back.
        foreach (var untilS in new[] { 20, 45 })
        {
            var log = flown with { Commands = [.. flown.Commands.Where(c => c.Time < untilS), new RunCommand((long)(untilS / Steps.Seconds), CommandKind.Look, "throttle-left")] };
            var goesOn = await DebriefAsync(log);
            Assert.False(goesOn.TryGetProperty("flight", out _));
            Assert.Equal(0, goesOn.GetProperty("steps").GetArrayLength());
            Assert.DoesNotContain("right", goesOn.GetProperty("judgement").GetRawText(), StringComparison.OrdinalIgnoreCase);
            Assert.Equal("The flight still goes on.", goesOn.GetProperty("judgement").GetProperty("sentence").GetString());
            var another = await Server.ImportAsync(Flown(header with { Seed = 8 }));
            using var refused = await Server.Client.GetAsync(ServerCalls.Path($"/api/runs/{goesOn.GetProperty("id").GetString()}/comparison?with={another}"));
            Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
            Assert.Contains("\"field\":\"id\"", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        var ended = await DebriefAsync(flown);
        Assert.Equal("right", ended.GetProperty("flight").GetProperty("engine").GetString());
        Assert.True(ended.GetProperty("steps").GetArrayLength() > 5);
    }

    /// <summary>Nor does that of a start that goes on tell of a fault what its pilot is to find.</summary>
    [Fact]
    public async Task The_debrief_of_a_start_that_goes_on_tells_of_no_fault()
    {
        async Task<string> FoundAsync(params RunCommand[] end)
        {
            var id = await Server.ImportAsync(new RunLog(Situations.Calm with { Faults = [new RunFault("canopy-seal")] },
                [new RunCommand(100, CommandKind.Set, "battery", "on"), .. end]));
            return (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("judgement").GetRawText();
        }

        Assert.DoesNotContain("fault-", await FoundAsync(), StringComparison.Ordinal);
        Assert.Contains("fault-unseen", await FoundAsync(new RunCommand(200, CommandKind.End)), StringComparison.Ordinal);
    }

    /// <summary>What counts is what the logbook has: not what a page says of itself, not another pilot's, not another type's.</summary>
    [Fact]
    public async Task Drills_are_counted_by_the_logbook()
    {
        var sortie = Situations.Calm with { Pilot = "Thistle", School = new Dictionary<string, string> { ["drills"] = "three" } };
        async Task<BeforeLaunch> SetAsync(RunHeader header)
        {
            var (status, text) = await PostAsync("/api/before-launch", header);
            Assert.Equal(HttpStatusCode.OK, status);
            return JsonSerializer.Deserialize<BeforeLaunch>(text, FleetJson.Line)!;
        }

        async Task<int?> DrilledAsync(RunHeader header)
        {
            var run = await Server.JsonAsync($"/api/runs/{await Server.CreateAsync(header)}/debrief");
            return run.GetProperty("header").TryGetProperty("drilled", out var n) && n.ValueKind == JsonValueKind.Number ? n.GetInt32() : null;
        }

        var set = await SetAsync(sortie);
        Assert.Equal((BeforeLaunch.Asked, 0), (set.Drills.Count, set.Done));
        Assert.Null(await DrilledAsync(sortie with { Drilled = 3 }));
        foreach (var drill in set.Drills)
        {
            _ = await Server.ImportAsync(Flown(drill.Header));
        }

        var after = await SetAsync(sortie);
        Assert.Equal(3, after.Done);
        Assert.DoesNotContain(after.Drills, d => d.Why == "not flown yet" && set.Drills.Any(s => s.Id == d.Id));
        Assert.Equal(3, await DrilledAsync(sortie));
        Assert.Null(await DrilledAsync(sortie with { Pilot = "Bracken" }));
        Assert.Null(await DrilledAsync(sortie with { Aircraft = "alder" }));
        var (refused, why) = await PostAsync("/api/before-launch", sortie with { Aircraft = "heron" });
        Assert.Equal(HttpStatusCode.BadRequest, refused);
        Assert.Contains("aircraft", why, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("flight.fromNm", "{\"heightFt\":20000,\"easKt\":230,\"dead\":\"right\",\"fromNm\":-3}")]
    [InlineData("flight.bearingDeg", "{\"heightFt\":20000,\"easKt\":230,\"dead\":\"right\",\"bearingDeg\":400}")]
    [InlineData("flight.coreN2Pct", "{\"heightFt\":20000,\"easKt\":230,\"dead\":\"right\",\"coreN2Pct\":300}")]
    [InlineData("school", "{\"heightFt\":20000,\"easKt\":170,\"dead\":\"left\"}", "burdock")]
    public async Task A_flight_that_cannot_be_is_refused_by_its_field(string field, string flight, string aircraft = "juniper")
    {
        var method = aircraft == "juniper" ? "windmill" : "starter";
        var body = $$$"""{"aircraft":"{{{aircraft}}}","place":"skerrow-main","spot":"A1","seed":1,"start":"air","conditions":{"oatC":15,"windFromDeg":0,"windKt":0},"flight":"""
            + $$$"""{{{flight}}},"school":{"method":"{{{method}}}"}}""";
        using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        using var response = await Server.Client.PostAsync(ServerCalls.Path("/api/runs"), content);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Contains(field, await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }
}
