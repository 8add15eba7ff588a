using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>Power, lamps, fire detection, auxiliary unit, permission: three aircraft, three ways of hands, and what goes wrong.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class FirstThirdTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private static RunHeader At(string aircraft, double oatC = 15, string start = "first") =>
        Cockpit.Calm with { Aircraft = aircraft, Beginning = start, Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0) };

    [Theory]
    [InlineData("sedge", "command line", 50)]
    [InlineData("tansy", "mouse", -35)]
    public async Task To_the_edge_of_cranking(string aircraft, string way, double oatC)
    {
        await _page.OpenRunAsync(At(aircraft, oatC));
        new Hands(_page).Follow(way, AtTheEdge, 900);
        Assert.False(_page.Lit("fire"));
        Assert.Empty(_page.Console());
    }

    private bool AtTheEdge() => _page.CueKind == "finished" || _page.CueId.StartsWith("crank", StringComparison.Ordinal);

    [Theory]
    [InlineData("juniper", "weak-battery", null, "battery on", "weak battery")]
    [InlineData("juniper", "inner-line-open", null, "battery on|fire test inner 20s", "inner line open")]
    [InlineData("juniper", "outer-line-short", null, "battery on", "outer line short")]
    [InlineData("juniper", "gong-dead", null, "battery on|fire test inner 20s", "gong")]
    [InlineData("juniper", "fuel-gauge-off", "left", "battery on|fuel gauge test 8s", "fuel gauge left")]
    [InlineData("juniper", "aux-no-light", null, "battery on|auxiliary unit on", null)]
    [InlineData("juniper", "aux-hot", null, "battery on|auxiliary unit on", null)]
    [InlineData("sedge", "dead-bulb", "fire", "battery on|ground power master on|ask cart asking|lamp test 30s", "bulb fire")]
    [InlineData("sedge", "cart-over-volts", "cart", "battery on|ask cart asking", "cart over")]
    [InlineData("tansy", "inverter-dead", "two", "battery on|inverter 2 on", "inverter two")]
    public async Task A_fault_is_recognised_and_answered(string aircraft, string code, string? item, string acts, string? report)
    {
        await _page.OpenRunAsync(At(aircraft) with { Faults = [new RunFault(code, Item: item)] });
        _page.Press("/");
        var hands = new Hands(_page);
        foreach (var act in acts.Split('|'))
        {
            hands.Type(act);
        }

        if (report is null)
        {
            _page.StepUntil(() => _page.CueId == "aux-off", "the drill");
            hands.Type("auxiliary unit off");
        }
        else
        {
            UntilSeen(code);
            // The guide says what shows and what is right then, until it was said.
            var fault = Repository.Fleet.Faults.Faults.First(f => f.Code == code);
            _page.StepUntil(() => _page.Text("[data-testid=sign]").Contains(fault.Signature, StringComparison.Ordinal), "the sign told");
            Assert.Contains(fault.Response, _page.Text("[data-testid=sign]"), StringComparison.Ordinal);
            hands.Type($"report {report}");
            _page.StepUntil(() => !_page.Has("[data-testid=sign]"), "nothing left unsaid");
        }

        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.Find("[data-testid=end-run]").Click();
        _page.Find("[data-testid=verdict]");
        Assert.Contains("recognised", _page.Find("[data-testid=finding][data-code=fault-answered]").Text, StringComparison.Ordinal);
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-code=fault-missed], [data-code=false-report]")));
    }

    // A fault is reported when its sign is on the screen: a lamp that is lit or dark, a call that does not come, a reading.
    private void UntilSeen(string code)
    {
        Func<bool> seen = code switch
        {
            "weak-battery" => () => _page.Lit("battery-low"),
            "outer-line-short" => () => _page.Lit("fire-left-core"),
            "cart-over-volts" => () => _page.Lit("ground-power-bad"),
            "inverter-dead" => () => _page.Lit("inverter-two"),
            "dead-bulb" => () => _page.Lit("hot") && !_page.Lit("fire"),
            _ => () => string.CompareOrdinal(_page.Text("[data-testid=clock]"), "00:26") >= 0,
        };
        _page.StepUntil(seen, $"the sign of {code}");
    }

    [Fact]
    public async Task Why_names_what_is_missing_and_leads_to_the_cure()
    {
        await _page.OpenRunAsync(At("juniper"));
        _page.Find("[data-link=auxiliary]").Click();
        var card = _page.Find("[data-control=aux-unit]");
        new Actions(_page.Driver).ContextClick(card).Perform();
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[role=menuitem]")).FirstOrDefault(m => m.Text.StartsWith("Why", StringComparison.Ordinal)), "the menu").Click();
        _page.UntilTrue(() => _page.Text("[data-testid=why]").Contains("Battery", StringComparison.Ordinal), "the battery named");
        _page.Find("[data-goto=battery]").Click();
        _page.Find("[data-panel=battery]");
        _page.UntilTrue(() => _page.Driver.SwitchTo().ActiveElement().Text == "on", "the focus on the switch's position");
        _page.Press(Keys.Enter);
        _page.StepUntil(() => _page.Lit("generator-right"), "the battery on");
        new Actions(_page.Driver).MoveToElement(_page.Find("[data-lamp=generator-right]")).Perform();
        _page.Driver.ExecuteScript("document.activeElement.blur()");
        _page.Press("w");
        _page.UntilTrue(() => _page.Text("[data-testid=why-sentence]").Contains("burns", StringComparison.Ordinal), "why the lamp burns");
        Assert.Contains("Generator right to on", _page.Text("[data-testid=why]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task The_one_line_diagram_is_live_and_says_what_falls()
    {
        await _page.OpenRunAsync(At("tansy"));
        _page.Find("[data-link=buses]").Click();
        Assert.Equal("false", _page.Find("[data-node='bus.main']").GetDomAttribute("data-on"));
        _page.Press("/");
        var hands = new Hands(_page);
        hands.Type("battery on");
        hands.Type("inverter 2 on");
        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.StepUntil(() => _page.Attribute("[data-edge='inverter.two/instruments']", "data-live") == "true", "the feed of the instruments");
        var battery = _page.Find("[data-node=battery]");
        _page.Driver.ExecuteScript("arguments[0].focus()", battery);
        _page.Press(Keys.Enter);
        _page.UntilTrue(() => _page.Text("[data-testid=one-line-text]").Contains("Without Battery", StringComparison.Ordinal)
            && _page.Text("[data-testid=one-line-text]").Contains("Gauges", StringComparison.Ordinal), "what falls");
        Assert.Contains("would go dark", _page.Find("[data-node='bus.main']").GetDomAttribute("aria-label"), StringComparison.Ordinal);
    }

    /// <summary>Everything on at one generator: the diagram says how long it bears that, then that it has tripped.</summary>
    [Fact]
    public async Task The_one_line_shows_an_overloaded_generator_and_that_it_has_tripped()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, At("tansy"));
        var (m, pilot) = (rehearsal.Machine, new ScriptedPilot(rehearsal));
        Assert.False(pilot.FlyUntil(() => m["main.generator"] > 0.5));
        List<RunCommand> log = [.. pilot.Log, .. new[] { "anti-ice", "taxi-light", "probe-one",
            "probe-two" }.Select((c, i) => new RunCommand(m.StepIndex + 10 * i, CommandKind.Set, c, "on"))];
        await _page.OpenLogAsync(new RunLog(m.Header, log));
        _page.OpenLink("buses");
        _page.Press("p");
        string Generator() => _page.Find("[data-node='gen.main']").GetDomAttribute("aria-label") ?? "";
        _page.StepUntil(() => Generator().Contains("overloaded", StringComparison.Ordinal), "the overload");
        Assert.Matches(@"1[0-3]\d %, \d+ s", Generator());
        _page.Step(120);
        _page.UntilTrue(() => Generator().Contains("tripped", StringComparison.Ordinal), "the trip");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task The_command_line_remembers_and_suggests()
    {
        await _page.OpenRunAsync(At("juniper"));
        _page.Press("/");
        var hands = new Hands(_page);
        hands.Type("batery on");
        _page.UntilTrue(() => _page.Text("[data-testid=command-line]").Contains("Perhaps Battery", StringComparison.Ordinal), "the suggestion");
        hands.Type("battery half");
        _page.UntilTrue(() => _page.Text("[data-testid=command-line]").Contains("it has off, on", StringComparison.Ordinal), "the positions");
        hands.Type("battery on");
        _page.StepUntil(() => _page.Lit("generator-right"), "the battery");
        var line = _page.Find("[aria-label=Command]");
        line.SendKeys(Keys.ArrowUp + Keys.ArrowUp);
        _page.UntilTrue(() => line.GetDomProperty("value") == "battery half", "the line before");
    }

    [Fact]
    public async Task What_the_crew_says_is_written_and_a_caution_is_acknowledged_and_restacked()
    {
        await _page.OpenRunAsync(At("sedge") with { Faults = [new RunFault("in-the-way")] });
        _page.Press("/");
        var hands = new Hands(_page);
        hands.Type("battery on");
        hands.Type("ask start asking");
        _page.StepUntil(() => _page.Text("[data-testid=caption]").Contains("Hold", StringComparison.Ordinal), "the refusal");
        hands.Type("ask cart asking");
        hands.Type("ground power master on");
        _page.StepUntil(() => _page.Attribute("[data-testid=master-caution]", "data-lit") == "true", "the master caution");
        _page.Find("[data-testid=master-caution]").Click();
        _page.StepUntil(() => _page.Attribute("[data-testid=master-caution]", "data-lit") == "false", "the master out");
        hands.Type("instrument inverter on");
        _page.StepUntil(() => _page.Driver.FindElements(By.CssSelector("[data-testid=stack] [aria-label=gap]")).Count > 0, "the gap");
        _page.Find("[data-testid=master-caution]").Click();
        _page.StepUntil(() => _page.Driver.FindElements(By.CssSelector("[data-testid=stack] [aria-label=gap]")).Count == 0, "the gap closed");
    }

    [Fact]
    public void A_turnaround_is_set_up_with_its_hardware_list_faults_and_surprises()
    {
        _page.Go("/");
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[aria-label=Aircraft] [role=radio]"))
            .FirstOrDefault(b => b.Text.StartsWith("Tansy", StringComparison.Ordinal)), "Tansy").Click();
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[aria-label='What to rehearse'] [role=radio]"))
            .FirstOrDefault(b => b.Text.StartsWith("Turnaround", StringComparison.Ordinal)), "the turnaround").Click();
        _page.Unfold("Faults");
        _page.AddFault("dead-bulb", "bulb");
        _page.Pick("faults.0.place", "fire");
        _page.Pick("surprises", "1");
        _page.Until(() => _page.Driver.FindElements(By.TagName("button")).FirstOrDefault(b => b.Text == "Match my hardware"), "the button").Click();
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=hardware-list] tr[data-differs=true]")).Count > 0, "what is not as on a cold jet");
        _page.Press(Keys.Escape);
        _page.Find("[data-testid=begin]").Click();
        _page.UntilTrue(() => _page.CueId.StartsWith("right-", StringComparison.Ordinal) || _page.CueId.StartsWith("sweep-", StringComparison.Ordinal), "the sweep");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task The_debrief_answers_why_at_the_moment_of_a_finding()
    {
        await _page.OpenRunAsync(At("tansy"));
        _page.Press("/");
        var hands = new Hands(_page);
        hands.Type("air starter unit on");
        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.Find("[data-testid=end-run]").Click();
        _page.Find("[data-testid=verdict]");
        var finding = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-testid=finding]"))
            .FirstOrDefault(f => f.Text.Contains("air starter unit on", StringComparison.Ordinal)), "the finding");
        finding.FindElement(By.CssSelector("[data-testid=why-then]")).Click();
        _page.UntilTrue(() => finding.Text.Contains("Boost pump", StringComparison.Ordinal), "the boost pump named");
    }

    [Theory]
    [InlineData("juniper", 1280, 800)]
    [InlineData("sedge", 1280, 800)]
    [InlineData("tansy", 1280, 800)]
    [InlineData("bramble", 1280, 800)]
    [InlineData("juniper", 820, 1180)]
    [InlineData("tansy", 820, 1180)]
    public async Task No_text_is_cut_and_nothing_overlaps(string aircraft, int width, int height)
    {
        try
        {
            _page.Driver.Resize(width, height);
            await _page.OpenRunAsync(At(aircraft));
            _page.Press("/");
            new Hands(_page).Type("battery on");
            _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
            foreach (var link in _page.Driver.FindElements(By.CssSelector("[data-link]")).Select(l => l.GetDomAttribute("data-link")!).ToList())
            {
                _page.Find($"[data-link={link}]").Click();
                _page.Find($"[data-panel={link}]");
                var bad = _page.Misfits(width);
                Assert.True(string.IsNullOrEmpty(bad), $"{aircraft} {link}: {bad}");
            }
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }
    }
}
