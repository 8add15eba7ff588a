using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Browser.Tests;

/// <summary>A server whose fleet has one aircraft more.</summary>
public sealed class EighthFixture : BrowserFixture
{
    protected override IReadOnlyList<string> Settings { get; } = ["--fleet", Repository.FolderOf(EighthAircraft.Files())];
}

/// <summary>The screens take an aircraft that they have never seen: one core turned by a hose, no battery, no inertial set.</summary>
public sealed class EighthAircraftTests(EighthFixture fixture) : IClassFixture<EighthFixture>
{
    private const double WholeStartS = 1500;
    private readonly Cockpit _page = new(fixture);

    /// <summary>The sweep and the tests before the hose are the scripted pilot's; from there on the page is flown.</summary>
    [Fact]
    public async Task It_is_flown_by_its_cues_to_launch_ready_and_debriefed()
    {
        var rehearsal = new Rehearsal(Fleet.Load(EighthAircraft.Files()), Cockpit.Calm with { Aircraft = "tormentil" });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => pilot.Log.Any(c => c.Target == "ask-hose")));
        var id = await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        Assert.Contains("Ground cart", _page.Text("[aria-label='Chain of energy']"), StringComparison.Ordinal);
        new Hands(_page).Follow("command line", () => _page.CueKind == "finished", WholeStartS);
        _page.Click("[data-testid=end-run]");
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        var traces = _page.Until(() => _page.Driver.FindElements(OpenQA.Selenium.By.CssSelector("[data-testid=trace]")) is { Count: >= 2 } some ? some : null, "the traces");
        Assert.Equal(["main.n2", "main.egt"], traces.Take(2).Select(t => t.GetDomAttribute("data-signals")));
        Assert.Equal("launch-ready", (await _page.Server.JsonAsync($"/api/runs/{id}/debrief")).GetProperty("judgement").GetProperty("verdict").GetString());
        Assert.Empty(_page.Console());
    }
}
