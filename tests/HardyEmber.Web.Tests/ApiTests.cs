using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

public sealed class ApiTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private HttpClient Client => Server.Client;

    private async Task<(HttpStatusCode Status, string Field, string Detail)> PostAsync(string path, string body, string type = "application/json")
    {
        using var content = new StringContent(body, Encoding.UTF8, type);
        using var response = await Client.PostAsync(Pages.Path(path), content);
        var problem = await response.Content.ReadFromJsonAsync<JsonElement>();
        return (response.StatusCode, problem.TryGetProperty("field", out var field) ? field.GetString()! : "",
            problem.TryGetProperty("detail", out var detail) ? detail.GetString()! : "");
    }

    [Theory]
    [InlineData("\"aircraft\":\"juniper\"", "\"aircraft\":\"nobody\"", "aircraft")]
    [InlineData("\"place\":\"skerrow-main\"", "\"place\":\"nowhere\"", "place")]
    [InlineData("\"spot\":\"A1\"", "\"spot\":\"Q7\"", "spot")]
    [InlineData("\"oatC\":15", "\"oatC\":\"warm\"", "conditions.oatC")]
    [InlineData("\"oatC\":15", "\"oatC\":150", "conditions.oatC")]
    [InlineData("\"seed\":7", "\"seed\":7,\"extra\":1", "extra")]
    [InlineData("\"mode\":\"guided\"", "\"mode\":\"asleep\"", "mode")]
    public async Task A_bad_header_is_refused_with_its_field_and_nothing_is_stored(string from, string to, string field)
    {
        var before = (await Server.JsonAsync("/api/runs")).GetProperty("total").GetInt32();
        var body = JsonSerializer.Serialize(Pages.Header, FleetJson.Line);
        Assert.Contains(from, body, StringComparison.Ordinal);
        var (status, named, detail) = await PostAsync("/api/runs", body.Replace(from, to, StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.True(named == field || detail.Contains(field, StringComparison.Ordinal), $"{named}: {detail}");
        Assert.Equal(before, (await Server.JsonAsync("/api/runs")).GetProperty("total").GetInt32());
    }

    [Theory]
    [InlineData("{")]
    [InlineData("[]")]
    [InlineData("")]
    [InlineData("null")]
    public async Task A_body_that_is_no_header_is_a_400_not_a_500(string body) => Assert.Equal(HttpStatusCode.BadRequest, (await PostAsync("/api/runs", body)).Status);

    [Fact]
    public async Task A_deeply_nested_body_is_refused() =>
        Assert.Equal(HttpStatusCode.BadRequest, (await PostAsync("/api/runs",
            "{\"school\":" + string.Concat(Enumerable.Repeat("{\"a\":", 200)) + "1" + new string('}', 201))).Status);

    [Theory]
    [InlineData("alder")]
    [InlineData("bramble")]
    [InlineData("juniper")]
    public async Task The_outlook_plans_with_the_stored_heading_where_the_school_takes_it(string aircraft)
    {
        var set = Repository.Fleet.FindAircraft(aircraft).Inertial!;
        var parked = Pages.Header with { Aircraft = aircraft, Parked = new ParkedHeader(HeadingStored: true) };
        async Task<double> Earliest(RunHeader header)
        {
            using var response = await Client.PostAsJsonAsync(Pages.Path("/api/preview"), header, FleetJson.Line);
            return (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("goOrWait").GetProperty("earliestS").GetDouble();
        }

        Assert.Equal(set.WarmUpS + set.LevelS, await Earliest(parked), 1e-6);
        Assert.Equal(set.Stored!.Seconds, await Earliest(parked with { School = new Dictionary<string, string> { ["alignment"] = "stored" } }), 1e-6);
    }

    [Fact]
    public async Task A_flown_run_is_imported_judged_exported_equal_and_debriefed()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Pages.Header);
        using var text = new StringWriter();
        RunFile.Write(text, new ScriptedPilot(rehearsal).Fly() with { Header = rehearsal.AsFlown });
        using var content = new StringContent(text.ToString());
        using var response = await Client.PostAsync(Pages.Path("/api/runs/import"), content);
        Assert.Equal(HttpStatusCode.Created, response.StatusCode);
        var id = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString();
        Assert.Equal(text.ToString(), await Client.GetStringAsync(Pages.Path($"/api/runs/{id}/file")));
        var debrief = await Server.JsonAsync($"/api/runs/{id}/debrief");
        Assert.Equal("launch-ready", debrief.GetProperty("judgement").GetProperty("verdict").GetString());
        Assert.Equal(RunSummary.Of(rehearsal).Digest, debrief.GetProperty("summary").GetProperty("digest").GetString());
        var n2 = debrief.GetProperty("traces").GetProperty("columns").GetProperty("right.n2").EnumerateArray().Select(v => v.GetDouble()).ToList();
        Assert.InRange(n2.Max(), 70, 72);
        var row = (await Server.JsonAsync("/api/runs?verdict=launch-ready")).GetProperty("runs").EnumerateArray().First(r => r.GetProperty("id").GetString() == id);
        Assert.True(row.GetProperty("ended").GetBoolean());
    }

    [Theory]
    [InlineData("rubbish", "line", "line 1")]
    [InlineData("{\"format\":\"hardy-ember/run\",\"version\":1}", "line", "line 1")]
    public async Task A_bad_import_names_line_and_field(string body, string field, string detail)
    {
        var (status, named, words) = await PostAsync("/api/runs/import", body, "application/x-ndjson");
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, named));
        Assert.Contains(detail, words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_log_cut_in_half_names_its_last_line()
    {
        var header = JsonSerializer.Serialize(Pages.Header, FleetJson.Line);
        var (status, _, words) = await PostAsync("/api/runs/import", header + "\n{\"t\":1,\"set\":\"battery\",\"to\":\"on\"}\n{\"t\":2,\"set\":\"aux-un", "application/x-ndjson");
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("line 3", words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_file_of_fifty_megabytes_is_refused_and_the_server_goes_on()
    {
        using var content = new ByteArrayContent(new byte[50 << 20]);
        try
        {
            using var response = await Client.PostAsync(Pages.Path("/api/runs/import"), content);
            Assert.Equal(HttpStatusCode.RequestEntityTooLarge, response.StatusCode);
        }
        catch (HttpRequestException)
        {
            // The server may hang up before the last byte is sent: refused all the same.
        }

        Assert.Equal("up", (await Server.JsonAsync("/api/health")).GetProperty("status").GetString());
    }

    [Theory]
    [InlineData("/api/runs/none/debrief")]
    [InlineData("/api/runs/none/file")]
    [InlineData("/api/nothing")]
    public async Task What_is_not_there_is_a_404_problem(string path)
    {
        using var response = await Client.GetAsync(Pages.Path(path));
        Assert.Equal(HttpStatusCode.NotFound, response.StatusCode);
        Assert.Equal("application/problem+json", response.Content.Headers.ContentType!.MediaType);
    }

    [Theory]
    [InlineData("http://evil.example", HttpStatusCode.Forbidden)]
    [InlineData("null", HttpStatusCode.Forbidden)]
    public async Task A_write_from_another_origin_is_refused(string origin, HttpStatusCode expected)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, Pages.Path("/api/runs")) { Content = JsonContent.Create(Pages.Header, options: FleetJson.Line) };
        request.Headers.Add("Origin", origin);
        using var response = await Client.SendAsync(request);
        Assert.Equal(expected, response.StatusCode);
    }

    [Fact]
    public async Task The_page_comes_with_a_strict_policy_and_asks_nobody_outside()
    {
        using var response = await Client.GetAsync(Pages.Path("/"));
        var policy = response.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("default-src 'none'", policy, StringComparison.Ordinal);
        Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
        Assert.DoesNotContain("http", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_front_ends_types_are_those_of_this_api()
    {
        var served = JsonSerializer.SerializeToElement(await Server.JsonAsync("/openapi/v1.json"));
        var kept = JsonSerializer.Deserialize<JsonElement>(await File.ReadAllTextAsync(Path.Combine(Repository.Root, "web", "src", "api", "openapi.json"),
            TestContext.Current.CancellationToken));
        foreach (var part in new[] { "paths", "components" })
        {
            Assert.True(JsonElement.DeepEquals(served.GetProperty(part), kept.GetProperty(part)), $"{part} differ: run ./ember types");
        }
    }

    [Fact]
    public async Task A_forecast_runs_the_simulator_ahead()
    {
        using var response = await Client.PostAsJsonAsync(Pages.Path("/api/forecast"), Pages.Header with { Spot = "A4", Conditions = new RunConditions(15, 310, 25, 0) },
            FleetJson.Line);
        var forecast = await response.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal("not-ready", forecast.GetProperty("summary").GetProperty("verdict").GetString());
        using var calm = await Client.PostAsJsonAsync(Pages.Path("/api/forecast"), Pages.Header, FleetJson.Line);
        Assert.Equal("launch-ready", (await calm.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("summary").GetProperty("verdict").GetString());
    }
}
