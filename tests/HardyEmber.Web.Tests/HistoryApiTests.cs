using System.Net;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Web.Tests;

/// <summary>What was flown and judged stays so, whatever the data or the program become.</summary>
public sealed class HistoryApiTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private static string Text(RunLog run)
    {
        using var text = new StringWriter();
        RunFile.Write(text, run);
        return text.ToString();
    }

    private static (RunLog Log, Rehearsal Flown) Fly(Fleet fleet, RunHeader header)
    {
        var rehearsal = new Rehearsal(fleet, header);
        return (new ScriptedPilot(rehearsal).Fly() with { Header = rehearsal.AsFlown }, rehearsal);
    }

    private static Fleet Other() => Fleet.Load(Repository.FleetFiles().Select(f => f.Path == "aircraft/juniper.json" ? f with { Text = Renamed(f.Text) } : f));

    private static string Renamed(string juniper) => juniper.Replace("\"label\": \"Battery\"", "\"label\": \"Accumulator battery\"", StringComparison.Ordinal);

    private static string? LabelOf(JsonElement panel, string control) =>
        panel.GetProperty("controls").EnumerateArray().First(c => c.GetProperty("id").GetString() == control).GetProperty("label").GetString();

    private static RunHeader Header(string file) => RunFile.Read(new StringReader(file)).Header;

    private Task<string> FileAsync(string id, string query = "") => Server.Client.GetStringAsync(Pages.Path($"/api/runs/{id}/file{query}"));

    private async Task<string?> RefusedAsync(string file)
    {
        using var body = new StringContent(file, Encoding.UTF8, "application/x-ndjson");
        using var response = await Server.Client.PostAsync(Pages.Path("/api/runs/import"), body);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        return JsonDocument.Parse(await response.Content.ReadAsStringAsync()).RootElement.GetProperty("field").GetString();
    }

    [Fact]
    public async Task New_data_change_no_verdict_that_was_given_and_no_run_that_goes_on()
    {
        var folder = Repository.FolderOf(Repository.FleetFiles());
        await using var server = await ServerProcess.StartAsync(stepped: true, settings: ["--fleet", folder]);
        var ended = await server.ImportAsync(Fly(Repository.Fleet, Pages.Header).Log);
        var going = await server.CreateAsync();
        var before = await server.JsonAsync($"/api/runs/{ended}/debrief");
        var digest = before.GetProperty("header").GetProperty("data").GetString();
        await using (var page = await HubPage.OpenAsync(server, going))
        {
            await page.SendAsync("Set", "battery", "on");
        }

        await server.KillAsync();
        var juniper = Path.Combine(folder, "aircraft", "juniper.json");
        var text = Renamed(await File.ReadAllTextAsync(juniper, TestContext.Current.CancellationToken));
        await File.WriteAllTextAsync(juniper, text.Replace("\"startLimitC\": 7", "\"startLimitC\": 3", StringComparison.Ordinal), TestContext.Current.CancellationToken);
        await server.RestartAsync();

        // With today's data the same commands would be a hot start.
        var today = Fly(new Core.Runs.DataVersion("", [.. Store.FleetFolder.Read(folder)]).Load(), Pages.Header).Flown;
        Assert.NotEqual(Core.Judging.Verdict.LaunchReady, today.Judge.Conclude().Verdict);
        var after = await server.JsonAsync($"/api/runs/{ended}/debrief");
        Assert.Equal(before.GetProperty("judgement").ToString(), after.GetProperty("judgement").ToString());
        Assert.Equal(before.GetProperty("summary").ToString(), after.GetProperty("summary").ToString());
        Assert.False(after.TryGetProperty("recomputed", out _));
        Assert.Equal(digest, Header(await server.Client.GetStringAsync(Pages.Path($"/api/runs/{going}/file"))).Data);
        await using (var page = await HubPage.OpenAsync(server, going))
        {
            Assert.Equal(1, page.Value("battery"));
            Assert.Null(page.Snapshot.Recomputed); // its data are kept
        }

        Assert.Equal(("Battery", "Accumulator battery"),
            (LabelOf(await server.JsonAsync($"/api/aircraft/juniper?data={digest}"), "battery"), LabelOf(await server.JsonAsync("/api/aircraft/juniper"), "battery")));
        Assert.Equal(digest, Header(await server.Client.GetStringAsync(Pages.Path($"/api/runs/{await server.ForkAsync(going, 0)}/file"))).Data);
        Assert.NotEqual(digest, Header(await server.Client.GetStringAsync(Pages.Path($"/api/runs/{await server.CreateAsync()}/file"))).Data);
    }

    [Fact]
    public async Task A_run_brings_its_data_with_it_and_gives_them_again()
    {
        var (log, flown) = Fly(Other(), Pages.Header);
        Assert.NotEqual(log.Header.Data, Header(await FileAsync(await Server.ImportAsync(log))).Data); // nobody has them yet
        var carried = Text(log with { Data = flown.Data });
        var id = await Server.ImportAsync(carried);
        Assert.Equal(carried, await FileAsync(id, "?data=true"));
        Assert.Equal(Text(log), await FileAsync(id));
        Assert.Equal("Accumulator battery", LabelOf(await Server.JsonAsync($"/api/aircraft/juniper?data={log.Header.Data}"), "battery"));
        var debrief = await Server.JsonAsync($"/api/runs/{id}/debrief");
        Assert.Equal(RunSummary.Of(flown).Digest, debrief.GetProperty("summary").GetProperty("digest").GetString());
        // The data are here now: the next run of that time need not bring them.
        Assert.Equal(log.Header.Data, Header(await FileAsync(await Server.ImportAsync(log))).Data);
    }

    [Fact]
    public async Task A_run_whose_data_nobody_has_rests_on_todays_and_one_with_unsound_data_is_refused()
    {
        var (log, flown) = Fly(Repository.Fleet, Pages.Header);
        var id = await Server.ImportAsync(log with { Header = log.Header with { Data = new string('a', 32) } });
        Assert.Equal(flown.Data.Digest, Header(await FileAsync(id)).Data);
        var unsound = DataVersion.Of(flown.Data.Files.Select(f => f with { Text = f.Text.Replace("battery.volts", "battery.vlots", StringComparison.Ordinal) }));
        Assert.Equal("data", await RefusedAsync(Text(log with { Header = log.Header with { Data = unsound.Digest }, Data = unsound })));
        Assert.Equal("data", await RefusedAsync(Text(log with { Header = log.Header with { Data = new string('b', 32) }, Data = flown.Data })));
    }

    [Fact]
    public async Task Other_physics_recompute_the_curves_and_say_so()
    {
        var (log, _) = Fly(Repository.Fleet, Pages.Header);
        var id = await Server.ImportAsync(log with { Header = log.Header with { Physics = Physics.Version + 6 } });
        var debrief = await Server.JsonAsync($"/api/runs/{id}/debrief");
        Assert.Contains($"version {Physics.Version + 6} of the physics", debrief.GetProperty("recomputed").GetString(), StringComparison.Ordinal);
        Assert.Equal("launch-ready", debrief.GetProperty("judgement").GetProperty("verdict").GetString());
    }

    [Fact]
    public async Task Who_goes_on_with_a_run_is_told_where_it_is_not_computed_as_it_was_begun()
    {
        var begun = new Rehearsal(Other(), Pages.Header);
        var log = new RunLog(begun.AsFlown, [new RunCommand(50, CommandKind.Set, "battery", "on")]) { Data = begun.Data };
        await using var server = await ServerProcess.StartAsync(stepped: true);
        var lost = await server.ImportAsync(log);
        await using (var database = new SqliteConnection($"Data Source={Path.Combine(server.Data, "ember.db")}"))
        {
            database.Open();
            await using var delete = database.CreateCommand();
            delete.CommandText = "DELETE FROM data WHERE digest = $digest";
            delete.Parameters.AddWithValue("$digest", begun.Data.Digest);
            Assert.Equal(1, await delete.ExecuteNonQueryAsync(TestContext.Current.CancellationToken));
        }

        await using (var page = await HubPage.OpenAsync(server, lost))
        {
            Assert.Equal("The data that it was flown with are not here, or no longer understood: all of it is computed with today's.", page.Snapshot.Recomputed);
        }

        await using var onward = await HubPage.OpenAsync(server, await server.ImportAsync(log with { Header = log.Header with { Physics = Physics.Version + 6 } }));
        Assert.Equal($"It was flown with version {Physics.Version + 6} of the physics, and all of it is computed with version {Physics.Version}.", onward.Snapshot.Recomputed);
    }

    [Fact]
    public async Task What_was_drawn_is_hidden_until_the_run_has_ended()
    {
        var id = await Server.CreateAsync(Pages.Header with { Surprises = 2, Drawn = [new RunFault("weak-air", Level: 0.5)] });
        Assert.Null(Header(await FileAsync(id)).Drawn);
        Assert.DoesNotContain("\"drawn\"", (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("header").ToString(), StringComparison.Ordinal);
        await using (var page = await HubPage.OpenAsync(Server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.CallAsync("End");
        }

        // Not what the page said, but what was drawn on the server.
        var drawn = Header(await FileAsync(id)).Drawn!;
        Assert.Equal(new Rehearsal(Repository.Fleet, Pages.Header with { Surprises = 2 }).Machine.Faults, drawn);
        Assert.Equal(2, (await Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("header").GetProperty("drawn").GetArrayLength());
    }
}
