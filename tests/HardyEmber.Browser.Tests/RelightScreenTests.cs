using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>Restarts in flight on the page: by the guide on every type, and what the plot and the table say on the way.</summary>
[Collection(nameof(BrowserOne))]
public sealed class RelightScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    [Theory]
    [InlineData("alder", 13_000, "starter")]
    [InlineData("teasel", 12_000, "starter")]
    [InlineData("juniper", 25_000, "windmill")]
    public async Task A_dead_core_is_brought_back_as_the_table_foretold(string aircraft, double heightFt, string method)
    {
        await _page.OpenRunAsync(Situations.Aloft(aircraft, heightFt, ("method", method)));
        _page.UntilTrue(() => _page.Has($"[data-method={method}][data-works=true]"), "the table");
        new Hands(_page).Follow("keyboard", () => _page.CueKind == "finished", 400);
        Assert.Contains("lit", _page.Text("[data-testid=envelope-word]"), StringComparison.Ordinal);
        _page.Find("[data-testid=end-run]").Click();
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        Assert.Empty(_page.Console());
    }

    /// <summary>The whole flight of every type and method is flown by the tests of the core; here its screen is looked at.</summary>
    [Theory]
    [InlineData("alder", 2)]
    [InlineData("bramble", 2)]
    [InlineData("burdock", 1)]
    [InlineData("juniper", 2)]
    [InlineData("sedge", 1)]
    [InlineData("tansy", 2)]
    [InlineData("teasel", 2)]
    public async Task Every_type_shows_its_envelope_its_methods_and_the_controls_that_matter(string aircraft, int methods)
    {
        await _page.OpenRunAsync(Situations.Aloft(aircraft, 25_000));
        _page.UntilTrue(() => _page.Has("[data-method=windmill][data-works=true]") && _page.Has("[data-testid=envelope]"), "the table and the envelope");
        Assert.Equal(methods, _page.Driver.FindElements(By.CssSelector("[data-method]")).Count);
        Assert.Contains("will not start", _page.Text("[data-testid=envelope-word]"), StringComparison.Ordinal);
        Assert.True(_page.Has("[data-control=pitch]") && _page.Has("[data-control=airspeed]") && _page.Has("[data-control^=throttle]"));
        Assert.Equal("", _page.Misfits(1280));
        Assert.Empty(_page.Console());
    }

    /// <summary>Too low for any restart: who has an engine that clears the ground is sent home on it, who has one that does not is told so.</summary>
    [Theory]
    [InlineData(null, "Home on the engine that runs", "Home on it:")]
    [InlineData(9_500.0, "leave", "On it alone the ground on the way is not cleared.")]
    public async Task Home_on_one_engine_is_promised_where_it_clears_the_ground(double? groundFt, string advice, string home)
    {
        var numbers = Repository.Fleet.FindAircraft("alder").Numbers;
        var header = Situations.Aloft("alder", groundFt is null ? 4_300 : 12_000);
        await _page.OpenRunAsync(header with
        {
            Flight = header.Flight! with { Other = RunFlight.IdleOther, EasKt = 215, FromNm = 200, GroundFt = groundFt },
            Conditions = header.Conditions with { OatC = groundFt is null ? 15 : 45 },
            Loading = new LoadingHeader(numbers.InternalFuelLb, groundFt is null ? 0 : 7_400),
        });
        _page.UntilTrue(() => _page.Text("[data-testid=relight-advice]").Contains(advice, StringComparison.Ordinal), advice);
        Assert.Contains(home, _page.Text("[data-testid=way-home]"), StringComparison.Ordinal);
        _page.UntilTrue(() => _page.Has("[data-chance]") || groundFt is null, "its last chances, though nobody is high enough for them");
        Assert.Equal("", _page.Misfits(1280));
        Assert.Empty(_page.Console());
    }

    /// <summary>Alone nothing is foretold, and no column stands empty where the guide would be.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(820, 1180)]
    public async Task Who_flies_alone_is_told_nothing_of_what_would_come(int width, int height)
    {
        try
        {
            _page.Driver.Resize(width, height, Chrome.Coarse);
            await _page.OpenRunAsync(Situations.Aloft("juniper", 25_000) with { Mode = "alone" });
            _page.Find("[data-testid=alone]");
            _page.Step(1);
            Assert.Equal("", _page.Text("[data-testid=envelope-word]"));
            Assert.False(_page.Has("[data-method]") || _page.Has("[data-testid=envelope]") || _page.Has("[aria-label=Guide]"));
            Assert.Equal("", _page.Misfits(width));
            Assert.Empty(_page.Console());
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }
    }

    [Fact]
    public async Task From_high_and_slow_the_plot_says_why_a_dive_is_right_and_a_low_jet_is_told_to_leave()
    {
        await _page.OpenRunAsync(Situations.Aloft("juniper", 25_000) with { Flight = new RunFlight(25_000, 230, "right") });
        _page.UntilTrue(() => _page.Text("[data-testid=relight-advice]").Contains("idle at", StringComparison.Ordinal), "advice");
        Assert.Contains("Windmill", _page.Text("[data-testid=relight-advice]"), StringComparison.Ordinal);
        _page.Find("[aria-label='Height costs'] [role=switch]").Click();
        Assert.Equal("", _page.Text("[data-testid=relight-advice]"));
        _page.Find("[aria-label='Height costs'] [role=switch]").Click();
        await _page.OpenRunAsync(Situations.Aloft("juniper", 11_000));
        _page.UntilTrue(() => _page.Has("[data-method=windmill][data-works=false]"), "a method that fails");
        Assert.Contains("leave there", _page.Text("[data-testid=relight-advice]"), StringComparison.Ordinal);
        Assert.Contains("above the decision height", _page.Text("[data-method=windmill]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task On_a_tablet_the_relight_screen_keeps_its_words_whole()
    {
        try
        {
            _page.Driver.Resize(820, 1180);
            await _page.OpenRunAsync(Situations.Aloft("alder", 20_000, ("method", "starter")));
            _page.UntilTrue(() => _page.Has("[data-testid=envelope]"), "the envelope");
            Assert.Equal("", _page.Misfits(820));
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }
    }

    [Fact]
    public async Task The_way_home_on_one_engine_tells_what_it_burns_and_that_it_is_not_aboard()
    {
        var header = Situations.Aloft("alder", 15_000) is var h ? h with
        {
            Flight = h.Flight! with { Other = RunFlight.IdleOther, FromNm = 60 },
            Loading = new LoadingHeader(900, 0)
        } : h;
        await _page.OpenRunAsync(header);
        _page.UntilTrue(() => _page.Text("[data-testid=fuel-home]").EndsWith("lb of 900, more than is aboard.", StringComparison.Ordinal), "the fuel for the way home");
        Assert.Contains("text-caution", _page.Attribute("[data-testid=fuel-home]", "class"), StringComparison.Ordinal);
        Assert.True(_page.Has("[data-control=pod]"), "what can be spared has its control here");
        Assert.Equal("", _page.Misfits(1280));
        Assert.Empty(_page.Console());
    }

    /// <summary>Night is set up on the sortie; without a light of its own nothing in the cockpit can be read.</summary>
    [Fact]
    public void At_night_the_gauges_are_read_by_the_light_of_a_battery()
    {
        _page.InTheAir();
        _page.Pick("light", "night");
        _page.Find("[data-testid=begin]").Click();
        _page.Find("[data-testid=height]");
        _page.Step(1);
        Assert.Contains("night", _page.Text("h1"), StringComparison.Ordinal);
        Assert.False(_page.Text("main").Contains("too dark", StringComparison.Ordinal));
        _page.Press("/");
        new Hands(_page).Give("command line", new RunCommand(0, CommandKind.Set, "battery", "off"));
        _page.Step(1);
        _page.UntilTrue(() => _page.Text("[data-testid=height]").StartsWith('–') && _page.Text("main").Contains("too dark", StringComparison.Ordinal), "the dark");
        Assert.Equal("", _page.Misfits(1280));
        new Hands(_page).Give("command line", new RunCommand(0, CommandKind.Set, "battery", "on"));
        _page.Step(1);
        _page.UntilTrue(() => !_page.Text("main").Contains("too dark", StringComparison.Ordinal), "the light");
        Assert.Empty(_page.Console());
    }

    /// <summary>High ground is set up on the sortie; the plot draws its decision height, and the field's own once that is near.</summary>
    [Fact]
    public void Over_high_ground_the_decision_is_drawn_higher_until_the_field_is_near()
    {
        _page.InTheAir();
        _page.Retype("fromNm", "5.3");
        _page.Retype("groundFt", "20");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]").Contains("the highest ground on the way", StringComparison.Ordinal), "what is wrong with it");
        _page.Retype("groundFt", "3 000");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]").Contains("Left above decision height", StringComparison.Ordinal), "an outlook");
        _page.Find("[data-testid=begin]").Click();
        string Line() => _page.Attribute("path.stroke-warning", "d");
        _page.UntilTrue(() => _page.Has("path.stroke-warning"), "the plot");
        var high = Line();
        _page.StepUntil(() => Line() != high, "the field's own decision height");
        static double HeightOf(string line) => double.Parse(line.Split(' ')[1].Split('H')[0], System.Globalization.CultureInfo.InvariantCulture);
        Assert.True(HeightOf(Line()) > HeightOf(high) + 20, $"{high} {Line()}");
        // The browser's own word for what the page has said, whenever the answer to a half-typed number came.
        Assert.All(_page.Console(), told => Assert.Contains("400 (Bad Request)", told, StringComparison.Ordinal));
    }
}
