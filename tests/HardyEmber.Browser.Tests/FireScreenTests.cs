using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>A fire on the page: what tells it from a lamp, the levers that answer it, and what the debrief says.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class FireScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    [Theory]
    [InlineData("juniper", "right", "keyboard")]
    [InlineData("teasel", "left", "mouse")]
    public async Task In_the_air_it_is_told_twice_answered_and_flown_home_from(string aircraft, string engine, string way)
    {
        await _page.OpenRunAsync(Situations.AllRun(aircraft) with { Faults = [new RunFault("bay-fire", engine, Level: 1)] });
        Assert.False(_page.Has("[data-testid=fire]"));
        _page.StepUntil(() => _page.Attribute($"[data-zone={engine}]", "data-word") == "burns", "the fire");
        _page.StepUntil(() => _page.CueId == $"fire-cut-{engine}", "the drill");
        Assert.Contains("it burns", _page.Text("[data-testid=fire-sentence]"), StringComparison.Ordinal);
        Assert.Equal("", _page.Misfits(1280));
        string Word() => _page.Attribute($"[data-zone={engine}]", "data-word");
        new Hands(_page).Follow(way, () => Word() == "out", 120);
        new Hands(_page).Follow("keyboard", () => _page.CueKind == "finished", 60);
        Assert.Equal("out", Word());
        Assert.StartsWith("It is out", _page.Text("[data-testid=fire-sentence]"), StringComparison.Ordinal);
        _page.UntilTrue(() => _page.Text("[aria-label='Height costs']").Contains("not started again", StringComparison.Ordinal), "the look ahead");
        _page.Find("[data-testid=end-run]").Click();
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        Assert.Contains("second sign confirmed", _page.Find("[data-testid=finding][data-code=fire-answered]").Text, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>On the ground the panel comes in front of the open link, agent ends the fire, and the guide says to walk away.</summary>
    [Fact]
    public async Task On_the_ground_it_comes_in_front_and_ends_the_start()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = "alder", Faults = [new RunFault("bay-fire", "left", At: 300)] });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine.Time > 300));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.StepUntil(() => _page.CueId == "fire-cut-left", "the drill");
        Assert.Equal("", _page.Misfits(1280));
        new Hands(_page).Follow("mouse", () => _page.CueId == "fire-walk-left", 60);
        Assert.Contains("1 of 2", _page.Text("[data-testid=fire]"), StringComparison.Ordinal);
        _page.OpenLink("battery");
        Assert.False(_page.Has("[data-testid=fire]"));
        _page.Driver.FindElement(By.XPath("//button[normalize-space()='To the fire']")).Click();
        _ = _page.Find("[data-testid=fire]");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task A_lamp_without_a_second_sign_is_said_to_be_one()
    {
        await _page.OpenRunAsync(Situations.AllRun("alder") with { Faults = [new RunFault("loop-a-short", Level: 2)] });
        _page.StepUntil(() => _page.Attribute("[data-zone=right]", "data-word") == "reports fire", "the lamp");
        Assert.Contains("One sign only", _page.Text("[data-testid=fire-sentence]"), StringComparison.Ordinal);
        Assert.DoesNotContain("fire-", _page.CueId, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public void The_sortie_offers_a_flight_in_which_all_engines_run()
    {
        _page.InTheAir();
        _page.Pick("dead", "none");
        _page.UntilTrue(() => !_page.Text("[aria-label=Situation]").Contains("Other engine", StringComparison.Ordinal), "nothing asked about the other");
        _page.Find("[data-testid=begin]").Click();
        _page.UntilTrue(() => _page.CueId.Length > 0, "the run");
        _page.UntilTrue(() => _page.Text("[data-testid=envelope-word]").Contains("lit", StringComparison.Ordinal), "a running engine");
        Assert.Empty(_page.Console());
    }

    /// <summary>A drill fills the situation in and does not tell what goes wrong; drawn by the seed, it is one of the type's.</summary>
    [Fact]
    public void A_drill_is_chosen_and_keeps_its_secret()
    {
        _page.InTheAir();
        _page.Until(() => _page.Driver.FindElements(By.XPath("//button[normalize-space()='Draw one']")).FirstOrDefault(), "the draw").Click();
        _page.UntilTrue(() => _page.Attribute("[data-choice=drill]", "data-value").Length > 0, "one drawn");
        _page.Pick("drill", "juniper-fire");
        _page.UntilTrue(() => !_page.Has("input[name=heightFt]") && !_page.Has("[data-testid=faults]"), "nothing else asked");
        _page.UntilTrue(() => _page.Find("[data-testid=begin]").Enabled, "Begin");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]").Contains("nothing to look ahead", StringComparison.Ordinal), "an outlook that tells nothing");
        Assert.DoesNotContain("fire", _page.Text("[aria-label=Drill]").Replace("juniper-fire", "", StringComparison.Ordinal), StringComparison.OrdinalIgnoreCase);
        _page.Find("[data-testid=begin]").Click();
        _page.UntilTrue(() => _page.CueId.Length > 0, "the run");
        _page.StepUntil(() => _page.Has("[data-testid=fire]"), "the fire");
        Assert.Empty(_page.Console());
    }
}
