using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>What moves outside is seen to move (on every type: the core’s own tests); and what a canopy and a cabin show.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class SurfacesTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private double At(string surface) => double.Parse(_page.Find($"[data-surface={surface}]").GetDomAttribute("data-at")!, CultureInfo.InvariantCulture);

    /// <summary>By the book until a control is due, on the link that shows it, with the clock in the test's hand.</summary>
    private async Task OpenAsync(string type, string due, string link, params RunFault[] faults)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = type, Faults = faults });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Tracker.Next() is { Step: { } step } && step.Id == due));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.Step(1);
        _page.OpenLink(link);
    }

    private void Hold(string control, double seconds, Action meanwhile)
    {
        new Actions(_page.Driver).ClickAndHold(_page.Find($"[data-control={control}] button[data-holds]")).Perform();
        _page.Settle();
        for (var t = 0.0; t < seconds; t += 0.5)
        {
            _page.Step(0.5);
            meanwhile();
        }

        new Actions(_page.Driver).Release().Perform();
        _page.Settle();
    }

    /// <summary>By the command line, wherever the cue has led; then back to what is looked at.</summary>
    private void Say(string line)
    {
        _page.Press("/");
        new Hands(_page).Type(line);
        _page.OpenLink("pressure");
    }

    /// <summary>One hand on the arm switch, the other on the reset: by both keys of the guide, a mouse with Shift, two fingers, two lines.</summary>
    [Theory]
    [InlineData("keyboard")]
    [InlineData("mouse")]
    [InlineData("touch")]
    [InlineData("command line")]
    public async Task What_takes_both_hands_is_done_with_any(string way)
    {
        await OpenAsync("alder", "channels", "pressure");
        new Hands(_page).Follow("keyboard", () => _page.Cue == ("channels", "act"), 30);
        Assert.StartsWith("Hold both", _page.Text("[data-testid=cue-act]"), StringComparison.Ordinal);
        new Hands(_page).Follow(way, () => _page.Cue.Id != "channels", 30);
        _page.UntilTrue(() => !_page.Driver.FindElements(By.CssSelector("[data-control] button[data-holds]")).Any(b => b.GetDomAttribute("aria-pressed") == "true"),
            "both hands free");
        Assert.Empty(_page.Console());
    }

    /// <summary>There is one other hand: laid on something else it lets go, and a second press takes it off.</summary>
    [Fact]
    public async Task The_other_hand_holds_one_thing_at_a_time()
    {
        await OpenAsync("alder", "channels", "pressure");
        void Shifted(string control) => new Actions(_page.Driver).KeyDown(Keys.Shift).Click(_page.Find($"[data-control={control}] button[data-holds]")).KeyUp(Keys.Shift).Perform();
        void Until(string control, bool held) => _page.StepUntil(() => _page.Attribute($"[data-control={control}] button[data-holds]",
            "aria-pressed") == (held ? "true" : "false"), $"{control} held: {held}");
        Shifted("channel-arm");
        Until("channel-arm", true);
        Assert.Equal("other hand", _page.Text("[data-control=channel-arm] button[data-holds]"));
        Shifted("control-reset");
        Until("control-reset", true);
        Until("channel-arm", false);
        _page.Click("[data-control=control-reset] button[data-holds]");
        Until("control-reset", false);
        Assert.Empty(_page.Console());
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("sedge")]
    public async Task A_sweep_is_seen_outside(string type)
    {
        await OpenAsync(type, "control-sweep", "pressure");
        var (least, most) = (0.0, 0.0);
        Hold("control-sweep", 5, () =>
        {
            (least, most) = (Math.Min(least, At("aileron-left")), Math.Max(most, At("aileron-left")));
            Assert.Equal(0, At("aileron-left") + At("aileron-right"), 1.0);
        });
        Assert.True(least < -50 && most > 50, $"{least} to {most}");
        _page.Step(4);
        _page.OpenLink("pressure"); // the cue went on elsewhere
        Assert.InRange(At("aileron-left"), -1, 1);
        Assert.Contains("middle", _page.Find("[data-surface=aileron-left]").GetDomAttribute("aria-label")!, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>Out, and the crew says so; folded wings keep the ailerons still.</summary>
    [Fact]
    public async Task The_crew_says_what_it_has_seen_and_folded_wings_keep_the_ailerons_still()
    {
        await OpenAsync("juniper", "control-sweep", "pressure");
        Say("hook down");
        _page.StepUntil(() => At("hook") > 99, "the hook down", withinS: 8, stepS: 0.5);
        _page.StepUntil(() => _page.Text("[data-testid=caption]").Contains("Hook: seen", StringComparison.Ordinal), "the crew", withinS: 8, stepS: 0.5);
        Say("wing fold folded");
        _page.StepUntil(() => _page.CueId == "stores-test", "the next cue, on another link");
        _page.OpenLink("pressure");
        _page.StepUntil(() => At("wing-left") > 99, "the wings folded", withinS: 14, stepS: 1);
        Hold("control-sweep", 3, () => Assert.Equal(0, At("aileron-left")));
    }

    /// <summary>A canopy that stops on a strap comes back, why says where to look, and looked at it shuts.</summary>
    [Fact]
    public async Task A_canopy_that_stops_says_why()
    {
        await OpenAsync("burdock", "battery-volts", "pressure", new RunFault("canopy-rail"));
        Say("canopy closed");
        _page.Step(7);
        _page.OpenLink("pressure");
        _page.UntilTrue(() => _page.Text("[data-control=canopy] [data-state=on], [data-control=canopy] [aria-checked=true]") == "open", "the canopy back");
        new Actions(_page.Driver).MoveToElement(_page.Find("[data-control=canopy]")).Perform();
        _page.Driver.ExecuteScript("document.activeElement.blur()");
        _page.Press("w");
        _page.UntilTrue(() => _page.Text("[data-testid=why]").Contains("Look at Canopy", StringComparison.OrdinalIgnoreCase), "what to look at");
        Assert.Empty(_page.Console());
    }
}
