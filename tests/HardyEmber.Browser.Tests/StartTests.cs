using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>The start screen flown by hands: keys, pointer, and what goes wrong.</summary>
[Collection(nameof(BrowserOne))]
public sealed class StartTests(BrowserFixture fixture)
{
    private const double WholeStartS = 1500;
    private readonly Cockpit _page = new(fixture);

    /// <summary>From the first page to the verdict by keyboard alone, knowing nothing but what the screen says.</summary>
    [Fact]
    public void The_whole_start_is_flown_by_keyboard_alone_to_launch_ready()
    {
        _page.Go("/");
        _page.Forget();
        _page.Go("/");
        _page.Find("[data-testid=begin]");
        _page.UntilTrue(() => Focused("data-testid") == "begin" || Tab(), "the Begin button by Tab");
        _page.Press(Keys.Enter);
        _page.Find("[data-testid=cue]");
        new Hands(_page).Follow("keyboard", () => _page.CueKind == "finished", WholeStartS);
        _page.UntilTrue(() => Focused("data-testid") == "end-run" || Tab(), "the End button by Tab");
        _page.Press(Keys.Enter);
        var verdict = _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict");
        Assert.True(verdict == "launch-ready", $"{verdict}: {_page.Text("[aria-label=Findings]")}");
        Assert.Empty(_page.Console());
    }

    /// <summary>The controls themselves under a finger: the shortest start of the fleet, from the battery to the taxi light.</summary>
    [Fact]
    public async Task A_whole_start_is_flown_by_touch_alone_to_launch_ready()
    {
        await _page.OpenRunAsync(Cockpit.Calm with { Aircraft = "sedge", Loading = null, Leg = null });
        new Hands(_page).Follow("touch", () => _page.CueKind == "finished", WholeStartS);
        _page.Find("[data-testid=end-run]").Click();
        var verdict = _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict");
        Assert.True(verdict == "launch-ready", $"{verdict}: {_page.Text("[aria-label=Findings]")}");
        Assert.Empty(_page.Console());
    }

    private bool Tab()
    {
        _page.Press(Keys.Tab);
        return false;
    }

    private string Focused(string attribute) => _page.Driver.SwitchTo().ActiveElement().GetDomAttribute(attribute) ?? "";

    /// <summary>A press meant for the brake must not do what has just come in its place, which nobody can have read.</summary>
    [Fact]
    public async Task A_cue_that_comes_under_the_finger_is_not_done()
    {
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        _page.UntilTrue(() => _page.Cue == ("sweep-parking-brake", "act"), "the first cue");
        _page.UntilTrue(() => _page.Attribute("[data-testid=cue-act]", "aria-disabled") != "true", "the first cue read");
        // Down and up in one go: the cue changes after the key is up, and its lines are kept, however soon they fade.
        _page.Driver.ExecuteScript("""
            window.refused = 0;
            const space = () => { for (const type of ['keydown', 'keyup']) document.body.dispatchEvent(new KeyboardEvent(type, { key: ' ', bubbles: true })); };
            new MutationObserver((records) => records.forEach((r) => r.addedNodes.forEach((n) => { if (n.textContent.includes('had just changed')) window.refused++; })))
                .observe(document.querySelector('[data-testid=toasts]'), { childList: true });
            new MutationObserver((_, observer) => {
                observer.disconnect();
                space();
                document.querySelector('[data-testid=cue-act]').click();
            }).observe(document.querySelector('[data-testid=cue]'), { attributeFilter: ['data-cue'] });
            space();
            """);
        _page.Settle();
        _page.Step(0.4);
        _page.UntilTrue(() => Equals(_page.Driver.ExecuteScript("return window.refused"), 2L), "both presses refused");
        var second = _page.CueId;
        Assert.NotEqual("sweep-parking-brake", second);
        _page.UntilTrue(() => _page.Attribute("[data-testid=cue-act]", "aria-disabled") != "true", "the cue read");
        _page.Press(" ");
        _page.StepUntil(() => _page.CueId != second, "the cue done when it was read");
        var log = await _page.Server.Client.GetStringAsync(new Uri($"/api/runs/{id}/file", UriKind.Relative));
        Assert.Equal(3, log.Trim().Split('\n').Length);
    }

    /// <summary>The curve of going now or waiting, from no alignment to one that is taken.</summary>
    [Theory]
    [InlineData("juniper", "alignment", "inertial set", 60)]
    [InlineData("sedge", "compass", "gyro compass", 110)] // soon after, it would do for its leg
    public async Task The_alignment_tells_when_to_go(string type, string link, string selector, double leftS)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = type });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine["ins.stage"] > 2 && rehearsal.Machine["ins.left"] < leftS));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.OpenLink(link);
        _page.UntilTrue(() => _page.Text("[data-testid=go-sentence]").StartsWith("Go in", StringComparison.Ordinal), "how long to wait");
        Assert.StartsWith("● now", _page.Text("[data-testid=go-now]"), StringComparison.Ordinal);
        _page.Press("p");
        _page.Step(5);
        _page.Press("/");
        new Hands(_page).Type($"{selector} navigate");
        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.Step(1);
        _page.OpenLink(link);
        _page.UntilTrue(() => _page.Text("[data-testid=go-sentence]").StartsWith("Taken after", StringComparison.Ordinal), "what was taken");
        Assert.StartsWith("● taken at", _page.Text("[data-testid=go-now]"), StringComparison.Ordinal);
        _page.Find("[data-testid=end-run]").Click();
        _page.UntilTrue(() => _page.Text("[aria-label='The alignment, flown on']").Contains("Flown on", StringComparison.Ordinal), "what came of it");
        Assert.Empty(_page.Console());
    }

    /// <summary>A typed start position: what is none is refused by its half and nothing changes; a slip is named; the spot's is taken; the command line can do it too.</summary>
    [Theory]
    [InlineData("juniper", "alignment")]
    [InlineData("bramble", "alignment")]
    [InlineData("alder", "alignment")]
    public async Task A_start_position_is_typed_and_held_against_the_spot(string type, string link)
    {
        await _page.OpenRunAsync(Cockpit.Calm with { Aircraft = type });
        _page.OpenLink(link);
        const string card = "[data-control=start-position]";
        void Type(string text)
        {
            _page.Find($"{card} input").SendKeys(text);
            _page.Find($"{card} input").SendKeys(Keys.Enter);
        }

        Type("91 24.3 N 18 12.7 W");
        _page.UntilTrue(() => _page.Text($"{card} [role=alert]").Contains("latitude: degrees go to 90", StringComparison.Ordinal), "what is wrong with it");
        Assert.Contains("nothing entered", _page.Text(card), StringComparison.Ordinal);
        _page.Find($"{card} input").SendKeys(Keys.Escape);
        Type("61 24.25 N 18 12.18 W");
        _page.Step(1);
        _page.OpenLink(link);
        _page.UntilTrue(() => _page.Text($"{card} [role=status]").Contains("ft from spot A1, on 090°. Most likely longitude: 1 where it is 7.", StringComparison.Ordinal),
            "the slip");
        _page.Find($"{card} [aria-label*='take the spot']").Click();
        _page.Step(1);
        _page.OpenLink(link);
        _page.UntilTrue(() => _page.Text($"{card} [role=status]").Contains("It is spot A1.", StringComparison.Ordinal), "the spot");
        _page.Press("/");
        new Hands(_page).Type("start position 61 24.25 s 18 12.78 w");
        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.Step(1);
        _page.OpenLink(link);
        _page.UntilTrue(() => _page.Text($"{card} [role=status]").Contains("south where it is north", StringComparison.Ordinal), "the hemisphere");
        Assert.Empty(_page.Console());
    }

    /// <summary>Under the cue stand the next steps with their seconds and what runs with what would spoil it; idle hands are told what fits; a line opens its control.
    /// Teasel has no wait that is long enough.</summary>
    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    [InlineData("tansy")]
    [InlineData("sedge")]
    [InlineData("burdock")]
    public async Task What_comes_next_stands_under_the_cue(string type)
    {
        // By the book until two steps wait for hands while something runs for half a minute yet.
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = type });
        var pilot = new ScriptedPilot(rehearsal);
        bool Overlaps()
        {
            var (m, cue) = (rehearsal.Machine, rehearsal.Tracker.Now());
            return cue is { Kind: CueKind.Act, Step: not null, Drill: null } && cue.Running.Any(r => r.Definition.Left is { } left && m[left] > 20)
                && Upcoming.After(rehearsal.Tracker, cue, m.Signals.Values).Count(u => u.Open) > 1;
        }

        Assert.False(pilot.FlyUntil(Overlaps));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.Step(1); // the log ends at its last command: what that began runs from here
        _page.UntilTrue(() => _page.Text("[data-testid=next]").Contains("fits into", StringComparison.Ordinal), "what comes next");
        // As many as there is room for; the others are out of reach as well as out of sight.
        var next = _page.Driver.FindElements(By.CssSelector("[data-testid=next] li:not([inert]) [data-step]"));
        Assert.InRange(next.Count, 1, 16);
        var list = _page.Find("[data-testid=next] ul");
        Assert.All(next, n => Assert.True(n.Location.Y + n.Size.Height <= list.Location.Y + list.Size.Height + 1, n.Text));
        Assert.All(next, n => Assert.Matches(@"\d+ s", n.Text));
        Assert.Contains("Lost by:", _page.Text("[aria-label=Running]"), StringComparison.Ordinal);
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-testid=nudge]")));
        _page.StepUntil(() => _page.Text("[data-testid=nudge]").Contains("it fits", StringComparison.Ordinal), "the nudge", withinS: 12, stepS: 1);

        var step = _page.Driver.FindElements(By.CssSelector("[data-testid=next] li:not([inert]) [data-step]"))[0];
        var target = rehearsal.Tracker.Find(step.GetDomAttribute("data-step")!)!.Definition.Act.Target!;
        step.Click();
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector($"[data-control='{target}'], [data-why='{target}']")).Count > 0, $"{target} in front");
        Assert.Empty(_page.Console());
    }

    /// <summary>Aboard the ship the set is fed by a cable, and what belongs ashore is not there; a type that does not fly from one is not offered it.</summary>
    [Fact]
    public async Task Aboard_a_ship_there_is_what_a_ship_has()
    {
        _page.Go("/");
        Aircraft("Alder");
        Assert.DoesNotContain("Wintergreen", _page.Offered("place"), StringComparison.Ordinal);
        Aircraft("Juniper");
        Assert.Contains("Wintergreen", _page.Offered("place"), StringComparison.Ordinal);
        Assert.DoesNotContain("Deck wind", _page.Text("[aria-label='The day']"), StringComparison.Ordinal);
        _page.Pick("place", "wintergreen");
        _page.UntilTrue(() => _page.Text("[aria-label='The day']") is var day && day.Contains("on 285° at 14 kt", StringComparison.Ordinal)
            && day.Contains("Deck wind", StringComparison.Ordinal), "a ship under way");

        await _page.OpenRunAsync(Cockpit.Calm with { Place = "wintergreen", Spot = "1" });
        _page.OpenLink("alignment");
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-control=start-position], [data-control=stored-heading]")));
        _page.Find("[data-ask='crew.data-cable']").Click();
        _page.StepUntil(() => _page.Text("[data-control=ask-data-cable]").Contains("answered", StringComparison.Ordinal), "the cable");
        Assert.Empty(_page.Console());
    }

    /// <summary>Before the run the same curve belongs to the leg that is typed; who has no inertial set is not asked for one.</summary>
    [Fact]
    public void The_sortie_tells_what_the_alignment_is_good_for()
    {
        _page.Go("/");
        Aircraft("Juniper");
        string Sentence() => _page.Text("[data-testid=go-sentence]");
        _page.UntilTrue(() => Sentence().StartsWith("Usable after", StringComparison.Ordinal), "when it is good enough");
        _page.Unfold("What the alignment is wanted for");
        _page.Retype("markNm", "0.1");
        _page.UntilTrue(() => Sentence().Contains("out of reach", StringComparison.Ordinal), "what no waiting gives");
        Aircraft("Teasel");
        _page.UntilTrue(() => Sentence().Length == 0 && _page.Text("[aria-label=Outlook]").Contains("Pressure altitude", StringComparison.Ordinal), "no alignment");
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("input[name=markNm]")));
        Assert.DoesNotContain("heading error", _page.Text("[aria-label=Outlook]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    private void Aircraft(string name) =>
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[aria-label=Aircraft] [role=radio]"))
            .FirstOrDefault(b => b.Text.StartsWith(name, StringComparison.Ordinal)), name).Click();

    [Fact]
    public async Task A_switch_a_sprung_switch_and_a_knob_are_worked_by_pointer()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.Choose("battery", "on");
        _page.StepUntil(() => _page.Lit("generator-right"), "the generator caution");
        _page.OpenLink("auxiliary");
        var hold = _page.Find("[aria-label='Fire line rocker: hold inner']");
        new Actions(_page.Driver).ClickAndHold(hold).Perform();
        _page.StepUntil(() => _page.Lit("fire-left-core"), "the first place, lit");
        _page.StepUntil(() => _page.Lit("fire-right-core"), "the second, lit after it");
        new Actions(_page.Driver).Release().Perform();
        _page.StepUntil(() => !_page.Lit("fire-left-core"), "the lamp out after letting go");
        _page.OpenLink("alignment");
        var knob = _page.Find("[data-control=inertial] [role=slider]");
        new Actions(_page.Driver).MoveToElement(knob).ClickAndHold().MoveByOffset(30, 0).Release().Perform();
        _page.UntilTrue(() => _page.Attribute("[data-control=inertial] [role=slider]", "aria-valuetext") == "standby", "the knob one detent on");
        Assert.Contains("Inertial set → standby", _page.Text("[data-testid=tape-text]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task A_guarded_switch_needs_two_acts()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.OpenLink("ready");
        Assert.NotNull(_page.Find("[data-control=master-arm] [role=radio]").GetDomAttribute("disabled"));
        _page.Find("[aria-label='Master weapons switch: lift the guard']").Click();
        _page.Choose("master-arm", "arm");
        _page.UntilTrue(() => _page.Text("[data-testid=tape-text]").Contains("Master weapons switch → arm", StringComparison.Ordinal), "the act on the tape");
    }

    [Fact]
    public async Task A_dial_takes_a_typed_number_and_a_lever_its_arrow_keys()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.OpenLink("pressure");
        var trim = _page.Find("[data-control=trim] input");
        trim.Click();
        trim.SendKeys("11.5" + Keys.Enter);
        _page.UntilTrue(() => _page.Text("[data-testid=tape-text]").Contains("Pitch trim → 11.5", StringComparison.Ordinal), "the trim on the tape");
        _page.OpenLink("core");
        _page.Find("[data-control=throttle-left] [role=slider]").SendKeys(Keys.ArrowRight);
        _page.UntilTrue(() => _page.Attribute("[data-control=throttle-left] [role=slider]", "aria-valuetext") == "idle", "the lever at idle");
    }

    [Fact]
    public async Task The_command_line_works_any_control()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.Press("/");
        var line = _page.Find("[aria-label=Command]");
        line.SendKeys("batt on");
        line.SendKeys(Keys.Enter);
        _page.StepUntil(() => _page.Lit("generator-right"), "the battery on");
        line.SendKeys(Keys.Escape);
        _page.Press("?");
        Assert.Contains("Space", _page.Find("[role=dialog]").Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_hot_start_is_foretold_and_cut_off_by_one_key()
    {
        // Fuel at 12 %: far too early. The peak without a cut would be about 830 °C.
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.Choose("battery", "on");
        _page.OpenLink("generator");
        _page.Choose("generator-right", "on");
        _page.OpenLink("auxiliary");
        _page.Choose("aux-unit", "on");
        _page.StepUntil(() => _page.Lit("aux-ready"), "the auxiliary unit");
        _page.OpenLink("core");
        _page.Choose("starter-air", "right");
        _page.StepUntil(() => _page.Reading("Core speed right") >= 10, "ten percent");
        Driver().FindElement(By.CssSelector("[aria-label='Throttle right: idle']")).Click();
        _page.StepUntil(() => _page.CueId == "hot-right", "the drill");
        Assert.Contains("cut-off now", _page.Text("[data-testid=cue]"), StringComparison.Ordinal);
        _page.Press("c");
        _page.UntilTrue(() => _page.Text("[data-testid=tape-text]").Contains("Throttle right → cut-off", StringComparison.Ordinal), "the cut on the tape");
        _page.Find("[data-testid=end-run]").Click();
        _page.Find("[data-testid=verdict]");
        var finding = _page.Find("[data-testid=finding][data-code=hot-start-answered]");
        Assert.Contains("fuel cut", finding.Text, StringComparison.Ordinal);
        Assert.Empty(Driver().FindElements(By.CssSelector("[data-code=start-temperature]")));
    }

    [Theory]
    [InlineData("prompted")]
    [InlineData("alone")]
    public async Task Prompted_shows_a_checklist_and_alone_nothing(string mode)
    {
        await _page.OpenRunAsync(Cockpit.Calm with { Mode = mode });
        Assert.Empty(Driver().FindElements(By.CssSelector("[data-testid=cue]")));
        if (mode == "prompted")
        {
            _page.Find("[aria-label=Checklist]");
            _page.Find("[data-testid=stuck]").Click();
            Assert.Equal("sweep-parking-brake", _page.Find("[data-testid=cue]").GetDomAttribute("data-cue"));
        }
        else
        {
            _page.Press(" ");
            _page.Choose("battery", "on");
            _page.UntilTrue(() => _page.Text("[data-testid=tape-text]") is var t && t.Contains("Battery", StringComparison.Ordinal)
                && !t.Contains("looked", StringComparison.Ordinal), "only the battery on the tape");
        }
    }

    private IWebDriver Driver() => _page.Driver;
}
