using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>Crank, light-off, spool on the seven types, in the browser: the watch, the card, abnormal starts answered.</summary>
[Collection(nameof(BrowserOne))]
public sealed class EngineStartTests(BrowserFixture fixture)
{
    private const double SpoolS = 240;
    private readonly Cockpit _page = new(fixture);

    /// <summary>Opens a run that a steady pilot has brought to a step, the first crank where none is named: what is looked at here begins there.</summary>
    private async Task<string> AtTheCrankAsync(RunHeader header, string from = "crank")
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var pilot = new ScriptedPilot(rehearsal);
        bool There(Cue cue) => cue is { Kind: CueKind.Act, Step.Id: var id } && id.StartsWith(from, StringComparison.Ordinal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine.StepIndex % Steps.PerTick == 2 && There(rehearsal.Tracker.Now())));
        var id = await _page.OpenLogAsync(new RunLog(header, [.. pilot.Log]));
        _page.Press("p");
        return id;
    }

    private string Engine => _page.Find("[data-testid=watch]").GetDomAttribute("data-engine")!;

    private bool Watched(string running) => _page.Attribute("[data-testid=watch]", "data-running") == running;

    private string Advice => _page.Attribute("[data-testid=advice]", "data-advice");

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    [InlineData("tansy")]
    [InlineData("teasel")]
    [InlineData("sedge")]
    [InlineData("burdock")]
    public async Task Each_type_starts_its_engine_under_the_watch_and_gets_its_card(string type)
    {
        await AtTheCrankAsync(Cockpit.Calm with { Aircraft = type, Pilot = "First-time" });
        var hands = new Hands(_page);
        hands.Follow("keyboard", () => Watched("true"), SpoolS);
        var heard = new HashSet<string>();
        hands.Follow("keyboard", () => heard.Add(Advice) && Watched("false") || Watched("false"), SpoolS);
        Assert.DoesNotContain(heard, w => w is not ("" or "none" or "stay" or "keeps" or "late-light" or "warm" or "slow"));
        var card = _page.Find("[data-testid=start-card]");
        Assert.Equal("idle", card.GetDomAttribute("data-outcome"));
        Assert.Contains("Margin to the limit", card.Text, StringComparison.Ordinal);
        Assert.Contains("No earlier start", card.Text, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>A school is carried by the cues: who asks for the running engine's bleed is led through it and back.</summary>
    [Fact]
    public async Task The_second_engine_is_turned_by_the_first_where_the_school_says_so()
    {
        var id = await AtTheCrankAsync(Cockpit.Calm with { School = new Dictionary<string, string> { ["secondAir"] = "bleed" } }, "cross-feed-on");
        var hands = new Hands(_page);
        hands.Follow("keyboard", () => _page.Text("[data-testid=tape-text]").Contains("Cross-feed → off", StringComparison.Ordinal), SpoolS);
        var log = await _page.Server.Client.GetStringAsync(new Uri($"/api/runs/{id}/file", UriKind.Relative));
        string[] led = ["\"cross-feed\",\"to\":\"on\"", "\"throttle-right\",\"to\":\"half\"", "\"aux-unit\",\"to\":\"off\"", "\"starter-air\",\"to\":\"left\"",
            "\"throttle-left\",\"to\":\"idle\"", "\"throttle-right\",\"to\":\"idle\"", "\"cross-feed\",\"to\":\"off\""];
        var places = led.Select(act => log.LastIndexOf(act, StringComparison.Ordinal)).ToList();
        Assert.All(places, p => Assert.True(p > 0, log));
        Assert.Equal(places.Order(), places);
        Assert.Empty(_page.Console());
    }

    [Theory]
    [InlineData("juniper", "igniter-dead", "right", "no-light")]
    [InlineData("bramble", "oil-pump", "main", "no-oil")]
    [InlineData("tansy", "gauge-sticks", "main", "gauge-still")]
    [InlineData("sedge", "starter-sticks", "main", "starter-late")]
    [InlineData("teasel", "rich-control", "left", "hot", "rich")]
    public async Task An_abnormal_start_is_named_answered_and_truly_debriefed(string type, string fault, string engine, string advice, string? belief = null)
    {
        await AtTheCrankAsync(Cockpit.Calm with { Aircraft = type, Faults = [new RunFault(fault, engine)] });
        var hands = new Hands(_page);
        hands.Follow("keyboard", () => Advice == advice, SpoolS);
        Assert.Equal(engine, Engine);
        if (belief is not null)
        {
            Assert.Equal(belief, _page.Attribute("[data-testid=belief]", "data-belief"));
        }

        _page.Press("c");
        _page.StepUntil(() => Advice != advice, "the end of the advice");
        _page.Find("[data-testid=end-run]").Click();
        _page.Find("[data-testid=verdict]");
        Assert.Contains("recognised", _page.Find("[data-testid=finding][data-code=fault-answered]").Text, StringComparison.Ordinal);
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-code=fault-missed], [data-code=fault-damage]")));
    }

    [Fact]
    public async Task Alone_the_advice_can_be_switched_off_and_a_hot_start_is_still_cut_in_time()
    {
        await AtTheCrankAsync(Cockpit.Calm with { Mode = "alone", Spot = "A4", Conditions = new RunConditions(15, 310, 22, PressureAltitudeFt: 0) });
        _page.Press("/");
        var hands = new Hands(_page);
        hands.Type("starter air right");
        _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        _page.StepUntil(() => Watched("true"), "the watch");
        Assert.Contains("nothing but the machine", _page.Text("[data-testid=alone]"), StringComparison.Ordinal);
        _page.Find("[data-testid=advice]");
        _page.Find("[data-testid=watch] [role=switch]").Click();
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-testid=advice]")));
        _page.StepUntil(() => _page.Reading("Core speed right") >= 20, "twenty percent");
        _page.Click("[aria-label='Throttle right: idle']");
        _page.StepUntil(() => ToCome() > 785, "a peak to come over the limit");
        _page.Step(1.4); // a reaction
        _page.Press("c");
        _page.Find("[data-testid=end-run]").Click();
        _page.Find("[data-testid=finding][data-code=hot-start-answered]");
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-code=start-temperature]")));
    }

    private int BatteryMinutes() => _page.Text("[data-testid=battery-line]") is { Length: > 0 } line
        ? int.Parse(line.Split("Battery: ")[1].Split(' ')[0], CultureInfo.InvariantCulture) : 0;

    private double ToCome()
    {
        var text = _page.Text("[data-testid=watch] [aria-label='Gas temperature right']");
        var at = text.LastIndexOf("to come ", StringComparison.Ordinal);
        return at < 0 ? 0 : double.Parse(text[(at + 8)..].Trim().Replace("\u202f", "", StringComparison.Ordinal), CultureInfo.InvariantCulture);
    }

    [Fact]
    public void Before_the_start_the_sortie_compares_the_schools_and_advises_against_the_wind()
    {
        _page.Go("/");
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[aria-label=Aircraft] [role=radio]"))
            .FirstOrDefault(b => b.Text.StartsWith("Juniper", StringComparison.Ordinal)), "Juniper").Click();
        _page.UntilTrue(() => _page.Text("[data-price='fuelOn/early']") is var price && price.StartsWith("As soon as the core takes it", StringComparison.Ordinal)
            && price.Contains("°C", StringComparison.Ordinal), "the price of another answer");
        Assert.Contains("Start as planned", _page.Text("[data-testid=recommendation]"), StringComparison.Ordinal);
        _page.UntilTrue(() => BatteryMinutes() is >= 7 and <= 9, "the battery on a cold day");
        Assert.Matches(@"you need \d+ \(2 attempts\)", _page.Text("[data-testid=battery-line]"));
        _page.Pick("soak", "hangared");
        _page.UntilTrue(() => BatteryMinutes() > 11, "the battery of a jet from a hangar");
        var scramble = _page.Find("[data-price='selfTests/fire']");
        scramble.FindElement(By.CssSelector("[data-testid=gives-up] button")).Click();
        _page.UntilTrue(() => scramble.Text.Contains("Hold the lamp test", StringComparison.Ordinal), "the checks it gives up");
        Assert.Contains("dead bulb", scramble.Text, StringComparison.Ordinal);
        _page.Pick("spot", "A4");
        _page.Retype("oatC", "15");
        _page.Retype("windKt", "25");
        _page.UntilTrue(() => _page.Text("[data-testid=recommendation]").Contains("turned into the wind", StringComparison.Ordinal), "the advice to turn");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task In_the_run_the_pilot_looks_ahead_before_the_crank()
    {
        await AtTheCrankAsync(Cockpit.Calm);
        _page.Press("p");
        _page.Find("[data-link=core]").Click();
        _page.Find("[data-tab=ahead]").Click();
        Assert.Contains("Start as planned", _page.Find("[data-testid=recommendation]").Text, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }
}
