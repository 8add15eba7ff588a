using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Engine starts over the wire: the outlook before, the cards after, and what the same pilot did earlier.</summary>
public sealed class StartsApiTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private async Task<string> ImportAsync(RunLog log)
    {
        using var text = new StringWriter();
        RunFile.Write(text, log);
        using var content = new StringContent(text.ToString());
        using var response = await Server.Client.PostAsync(Pages.Path("/api/runs/import"), content);
        response.EnsureSuccessStatusCode();
        return (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
    }

    [Fact]
    public async Task A_flown_run_has_its_cards_its_expected_curves_and_then_counts_as_earlier()
    {
        var header = Pages.Header with { Pilot = "Clinker", Conditions = new RunConditions(15, 0, 0, 0) };
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();
        var first = await Server.JsonAsync($"/api/runs/{await ImportAsync(log)}/starts");
        Assert.Equal(["idle", "idle"], first.GetProperty("cards").EnumerateArray().Select(c => c.GetProperty("outcome").GetString()));
        Assert.Equal(2, first.GetProperty("expected").GetArrayLength());
        Assert.Equal(0, first.GetProperty("earlier").GetArrayLength());
        var peak = first.GetProperty("cards")[0].GetProperty("peakC").GetDouble();
        Assert.Equal(peak, first.GetProperty("expected").EnumerateArray()
            .First(c => c.GetProperty("engine").GetString() == first.GetProperty("cards")[0].GetProperty("engine").GetString())
            .GetProperty("gasC").EnumerateArray().Max(c => c.GetDouble()), 4.0);
        var second = await Server.JsonAsync($"/api/runs/{await ImportAsync(log)}/starts");
        Assert.Equal(2, second.GetProperty("earlier").GetArrayLength());
        Assert.Equal(peak, second.GetProperty("earlier").EnumerateArray().Max(e => e.GetProperty("peakC").GetDouble()), 6.0);
    }

    [Fact]
    public async Task The_outlook_of_a_run_takes_what_was_done_into_account()
    {
        var id = await Server.CreateAsync(Pages.Header with { Spot = "A4", Conditions = new RunConditions(15, 310, 25, 0) });
        var outlook = await Server.JsonAsync($"/api/runs/{id}/start-outlook");
        Assert.Equal("warning", outlook.GetProperty("advice").GetProperty("severity").GetString());
        Assert.Contains("turn", outlook.GetProperty("options").EnumerateArray().Select(o => o.GetProperty("kind").GetString()));
    }

    [Theory]
    [InlineData("/api/runs/none/starts", HttpStatusCode.NotFound)]
    [InlineData("/api/runs/none/start-outlook", HttpStatusCode.NotFound)]
    public async Task What_is_not_there_is_a_404(string path, HttpStatusCode status) =>
        Assert.Equal(status, (await Server.Client.GetAsync(Pages.Path(path))).StatusCode);

    [Fact]
    public async Task An_outlook_on_a_bad_situation_names_its_field()
    {
        using var response = await Server.Client.PostAsJsonAsync(Pages.Path("/api/start-outlook"), Pages.Header with { Spot = "Z9" }, FleetJson.Line);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Equal("spot", (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
    }

    [Fact]
    public async Task The_panel_knows_every_word_of_advice_and_the_controls_of_each_start()
    {
        foreach (var aircraft in Repository.Fleet.Aircraft)
        {
            var panel = await Server.JsonAsync($"/api/aircraft/{aircraft.Id}");
            Assert.Contains("hot", panel.GetProperty("advice").EnumerateArray().Select(a => a.GetProperty("word").GetString()));
            foreach (var engine in panel.GetProperty("engines").EnumerateArray())
            {
                var controls = engine.GetProperty("controls").EnumerateArray().Select(c => c.GetString()).ToList();
                Assert.Equal(engine.GetProperty("throttle").GetString(), controls[^1]);
                Assert.True(controls.Count > 1, $"{aircraft.Id}: {string.Join(", ", controls)}");
            }
        }
    }
}
