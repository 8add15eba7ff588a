using System.Net;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using HardyEmber.Web.Api;

namespace HardyEmber.Web.Tests;

/// <summary>Runs that carry data of their own, however odd: refused by their field, or flown apart from all others.</summary>
public sealed class CarriedDataTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    [Fact, Trait("search", "yes")]
    public async Task Odd_data_are_refused_by_their_field_or_taken_and_nothing_else_comes_of_them()
    {
        var treated = await AbuseOfData.CarriedAsync(Server, Property.Seed + 1, 30);
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
    public void What_takes_too_much_of_a_processor_is_refused_with_what_took_it()
    {
        var run = AbuseOfData.Heavy(20);
        var plenty = new CarriedLimits(TimeSpan.FromMinutes(1), TimeSpan.FromMinutes(1), 1_000_000);
        Assert.True(CarriedData.Fly(run, run.Data!, plenty).Machine.StepIndex == 0);
        void Refused(CarriedLimits limits, string words) =>
            Assert.Contains(words, Assert.Throws<CarriedDataException>(() => CarriedData.Fly(run, run.Data!, limits)).Message, StringComparison.Ordinal);
        Refused(plenty with { StepMicroseconds = 0.001 }, "a step takes");
        Refused(plenty with { Reading = TimeSpan.Zero }, "reading them takes more than 0 s");
        var hours = run with { Commands = [new((long)(5 * 3600 / Steps.Seconds), CommandKind.End)] };
        Assert.Contains("flying it takes more than 0 s", Assert.Throws<CarriedDataException>(() =>
            CarriedData.Fly(hours, run.Data!, plenty with { Flying = TimeSpan.Zero })).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_machine_whose_values_stop_being_numbers_is_refused_with_the_first_of_them()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.Calm);
        Assert.Null(rehearsal.Machine.NoNumber());
        var signal = rehearsal.Machine.Signals.Find("battery.volts")!;
        rehearsal.Machine.Signals.Values[signal.Index] = double.NaN;
        Assert.Equal("battery.volts", rehearsal.Machine.NoNumber());
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
    public async Task A_run_of_another_aircraft_than_it_carries_is_refused_by_its_field()
    {
        var run = AbuseOfData.Heavy(1);
        var (status, text) = await ImportAsync(run with { Header = run.Header with { Aircraft = "alder" } });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal("aircraft", JsonDocument.Parse(text).RootElement.GetProperty("field").GetString());
    }

    [Fact]
    public async Task A_condition_nested_sixty_thousand_deep_is_refused_and_the_server_goes_on()
    {
        var run = AbuseOfData.Heavy(1);
        var deep = new string('(', 60_000) + "busy{i}.on and";
        var files = run.Data!.Files.Select(f => f with { Text = f.Text.Replace("busy{i}.on and", deep, StringComparison.Ordinal) });
        var data = DataVersion.Of(files);
        var (status, text) = await ImportAsync(new RunLog(run.Header with { Data = data.Digest }, []) { Data = data });
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Matches("aircraft/juniper.json:[0-9]+: /lamps/[0-9]+/do/0/lit: the text grows longer than [0-9]+ characters", text);
        _ = await Server.JsonAsync("/api/health");
    }
}
