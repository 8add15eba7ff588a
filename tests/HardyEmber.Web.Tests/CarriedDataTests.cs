using System.Net;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Runs that carry data of their own, however odd: refused by their field, or flown apart from all others.</summary>
public sealed class CarriedDataTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    [Fact, Trait("search", "yes")]
    public async Task Odd_data_are_refused_by_their_field_or_taken_and_nothing_else_comes_of_them()
    {
        var treated = await AbuseOfData.CarriedAsync(Server, Property.Seed + 1, 60);
        // How long an answer takes is measured in bench/, not here: the machine may be busy.
        var wrong = treated.Wrong.Where(w => !w.Contains(" s for ", StringComparison.Ordinal)).ToList();
        Assert.True(wrong.Count == 0, $"{string.Join("\n", wrong.Take(5))}\nagain: EMBER_SEED={Property.Seed} ./ember soak once");
        Assert.InRange(treated.Refused, 1, treated.Times - 1);
    }

    private async Task<(HttpStatusCode Status, string Text)> ImportAsync(RunLog run)
    {
        using var text = new StringWriter();
        RunFile.Write(text, run);
        using var body = new StringContent(text.ToString(), Encoding.UTF8, "application/x-ndjson");
        using var response = await Server.Client.PostAsync(Pages.Path("/api/runs/import"), body);
        return (response.StatusCode, await response.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task An_aircraft_that_is_too_slow_for_a_live_run_is_refused_and_nothing_is_kept_of_it()
    {
        var before = (await Server.JsonAsync("/api/runs?limit=1")).GetProperty("total").GetInt32();
        var (status, text) = await ImportAsync(AbuseOfData.Heavy(220));
        Assert.Equal(HttpStatusCode.BadRequest, status);
        var answer = JsonDocument.Parse(text).RootElement;
        Assert.Equal("data", answer.GetProperty("field").GetString());
        // Reading it, or each of its steps: whichever is seen first.
        Assert.Contains(" takes ", answer.GetProperty("detail").GetString(), StringComparison.Ordinal);
        Assert.Equal(before, (await Server.JsonAsync("/api/runs?limit=1")).GetProperty("total").GetInt32());
    }

    [Fact]
    public async Task A_run_with_data_of_its_own_flies_on_a_thread_apart()
    {
        var (status, text) = await ImportAsync(AbuseOfData.Heavy(4));
        Assert.True(status == HttpStatusCode.Created, text);
        var id = JsonDocument.Parse(text).RootElement.GetProperty("id").GetString()!;
        await using var page = await HubPage.OpenAsync(Server, id, resume: true);
        await page.CallAsync("Pause", false);
        await page.SendAsync("Set", "battery", "on");
        await page.StepAsync(3);
        Assert.InRange(page.Time, 2.5, 3.6);
        Assert.Contains(page.Values.Keys, k => k == "busy0.on");
    }

    [Fact]
    public async Task A_condition_nested_sixty_thousand_deep_is_refused_and_the_server_goes_on()
    {
        var run = AbuseOfData.Heavy(1);
        var deep = string.Concat(Enumerable.Repeat("not ", 50_000)) + "busy{i}.on and";
        var files = run.Data!.Files.Select(f => f with { Text = f.Text.Replace("busy{i}.on and", deep, StringComparison.Ordinal) });
        var data = DataVersion.Of(files);
        var (status, text) = await ImportAsync(new RunLog(run.Header with { Data = data.Digest }, []) { Data = data });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Matches("aircraft/juniper.json:[0-9]+: /lamps/[0-9]+/do/0/lit: at most [0-9]+ characters", text);
        _ = await Server.JsonAsync("/api/health");
    }
}
