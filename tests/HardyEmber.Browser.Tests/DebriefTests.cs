using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>What is left of a run: its debrief on every type, and the logbook that lists it.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class DebriefTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static RunLog Flown(RunHeader header, PilotTraits? traits = null, double forS = 1500) =>
        new ScriptedPilot(new Rehearsal(Repository.Fleet, header), traits).Fly(forS);

    [Theory]
    [MemberData(nameof(Types))]
    public async Task Every_type_is_debriefed_with_the_plots_of_all_its_engines(string aircraft)
    {
        var id = await _page.Server.ImportAsync(Flown(Cockpit.Calm with { Aircraft = aircraft }));
        _page.Go($"/debrief/{id}");
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        var plots = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-testid=trace]")) is { Count: 3 } three ? three : null, "three plots");
        var engines = Repository.Fleet.FindAircraft(aircraft).Engines;
        foreach (var (plot, reading) in plots.Take(2).Zip(["n2", "egt"]))
        {
            Assert.Equal(engines.Select(e => $"{e.Id}.{reading}").Order(), plot.GetDomAttribute("data-signals")!.Split(' '));
        }

        Assert.All(plots, plot =>
        {
            Assert.True(int.Parse(plot.GetDomAttribute("data-points")!, CultureInfo.InvariantCulture) > 100);
            Assert.NotEmpty(plot.GetDomAttribute("data-signals")!);
            Assert.DoesNotContain(".", plot.FindElement(By.TagName("figcaption")).Text, StringComparison.Ordinal); // words, not names
        });
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=debrief-start] svg")).Count >= engines.Count, "the curves of its starts");
        Assert.Empty(_page.Console());
    }

    /// <summary>A set that never ran has no quality that one could draw: the battery stands there instead, which every start has.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public async Task What_never_meant_anything_is_no_line(string aircraft)
    {
        var run = Flown(Cockpit.Calm with { Aircraft = aircraft }, forS: 20);
        _page.Go($"/debrief/{await _page.Server.ImportAsync(run)}");
        var shown = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-testid=trace]")) is { Count: 3 } three ? three : null, "three plots");
        Assert.Equal("battery.volts", shown[2].GetDomAttribute("data-signals"));
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task Evidence_is_told_by_its_label_and_flying_on_needs_a_moment()
    {
        var id = await _page.Server.ImportAsync(Flown(Cockpit.Calm with { Spot = "A4", Conditions = new RunConditions(15, 310, 22, PressureAltitudeFt: 0) },
            new PilotTraits(CutsOff: false), 400));
        _page.Go($"/debrief/{id}");
        var hot = _page.Find("[data-testid=finding][data-code=start-temperature]");
        Assert.Contains("Gas temperature right, highest", hot.Text, StringComparison.Ordinal);
        IWebElement? FlyOn() => _page.Driver.FindElements(By.TagName("button")).FirstOrDefault(b => b.Text.StartsWith("Fly on", StringComparison.Ordinal));
        Assert.Null(FlyOn());
        hot.FindElement(By.TagName("button")).Click();
        _page.Until(FlyOn, "flying on from there").Click();
        _page.ShowsAnotherThan(id);
        Assert.Empty(_page.Console());
    }

    /// <summary>A run of earlier data and other physics: its own controls, the verdict that was given, and a word on the curves, or on all where it goes on.</summary>
    [Fact]
    public async Task A_run_keeps_the_controls_and_the_verdict_of_its_time()
    {
        static string Older(string text) => text.Replace("\"label\": \"Battery\"", "\"label\": \"Old battery\"", StringComparison.Ordinal);
        var earlier = Fleet.Load(Repository.FleetFiles().Select(f => f with { Text = Older(f.Text) }));
        var rehearsal = new Rehearsal(earlier, Cockpit.Calm);
        var flown = new ScriptedPilot(rehearsal).Fly() with { Header = rehearsal.AsFlown with { Physics = 900 }, Data = rehearsal.Data };
        _page.Go($"/debrief/{await _page.Server.ImportAsync(flown)}");
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        Assert.Contains("The verdict is the one that was given. It was flown with version 900 of the physics", _page.Text("[role=note]"), StringComparison.Ordinal);
        Assert.Contains("/file?data=true", _page.Find("a[href*='data=true']").GetDomAttribute("href"), StringComparison.Ordinal);
        _ = await _page.OpenLogAsync(flown with { Commands = [.. flown.Commands.Take(3)] });
        _page.UntilTrue(() => _page.Text("[data-testid=toasts]").Contains("It was flown with version 900 of the physics, and all of it is computed with version",
            StringComparison.Ordinal), "the word on the physics");
        _page.OpenLink("battery");
        _page.UntilTrue(() => _page.Text("main").Contains("Old battery", StringComparison.Ordinal), "the battery's name of that time");
        _page.Driver.FindElement(By.LinkText("Hardy Ember")).Click();
        _page.UntilTrue(() => _page.Has("[aria-label=Outlook]") && _page.Text("[data-testid=toasts]").Length == 0, "the line gone with its run");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task A_part_of_the_debrief_that_fails_says_so_and_leaves_the_rest()
    {
        var id = await _page.Server.ImportAsync(Flown(Cockpit.Calm));
        using (new ScriptOnEveryPage(_page.Driver,
            "const f = window.fetch; window.fetch = (u, ...r) => String(u).endsWith('/starts') ? Promise.reject(new Error('gone')) : f(u, ...r);"))
        {
            _page.Go($"/debrief/{id}");
            _page.UntilTrue(() => _page.Text("[role=alert]").Contains("engine starts cannot be shown", StringComparison.Ordinal), "the word");
            Assert.NotNull(_page.Find("[data-testid=verdict]"));
        }
    }

    [Fact]
    public void A_screen_that_cannot_be_drawn_says_so_and_leads_back()
    {
        using (new ScriptOnEveryPage(_page.Driver,
            "const f = window.fetch; window.fetch = (u, ...r) => String(u).endsWith('/fleet') ? Promise.resolve(new Response('{\"aircraft\":7}')) : f(u, ...r);"))
        {
            _page.Go("/");
            _page.UntilTrue(() => _page.Text("[role=alert]").Contains("This screen cannot be shown", StringComparison.Ordinal), "the word");
        }

        _page.Driver.FindElement(By.LinkText("To the logbook")).Click();
        _page.UntilTrue(() => _page.Text("h1") == "Logbook", "the way back");
    }

    /// <summary>Two runs ticked in the logbook, or one chosen in the debrief: what the difference comes to, phase by phase, and both starts in one plot.</summary>
    [Fact]
    public async Task Two_runs_are_held_against_one_another()
    {
        var header = Cockpit.Calm with { Pilot = "Sienna", Loading = null, Leg = null };
        var book = await _page.Server.ImportAsync(Flown(header));
        var early = await _page.Server.ImportAsync(Flown(header with { School = new Dictionary<string, string> { ["fuelOn"] = "early" } }, new PilotTraits(ReactionS: 3)));
        await _page.Server.ImportAsync(Flown(header with { Aircraft = "sedge" }));
        _page.Go("/logbook");
        _page.Pick("pilot", "Sienna");
        var ticks = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[aria-label^='Compare Sienna']")) is { Count: 3 } three ? three : null, "three rows");
        var junipers = Rows().Select((r, i) => (r.Text, i)).Where(r => r.Text.Contains("Juniper", StringComparison.Ordinal)).Select(r => r.i).ToList();
        ticks[junipers[0]].Click();
        Assert.False(ticks[Enumerable.Range(0, 3).Except(junipers).Single()].Enabled);
        ticks[junipers[1]].Click();
        _page.Until(() => _page.Driver.FindElements(By.PartialLinkText("Hold the two against")).FirstOrDefault(), "the way to the comparison").Click();
        _page.UntilTrue(() => _page.Text("[data-testid=compared]").StartsWith("This one was ready", StringComparison.Ordinal), "the sentence");
        Assert.Equal(2, _page.Driver.FindElements(By.CssSelector("[aria-label='Beside another run'] [data-testid=signature]")).Count);
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=beside-start]")).Count == 2, "the other's starts");
        var phases = _page.Driver.FindElements(By.CssSelector("[data-testid=phases] tbody tr")).Count;
        _page.Driver.FindElements(By.CssSelector("[data-testid=phases] button"))[1].Click();
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=phases] tbody tr")).Count > phases, "the steps of a phase");
        _page.Pick("beside", "");
        _page.UntilTrue(() => !_page.Has("[data-testid=compared]") && !_page.Has("[data-testid=beside-start]"), "nothing beside it");
        _page.Go($"/debrief/{book}");
        _page.Pick("beside", early);
        _page.UntilTrue(() => _page.Text("[data-testid=compared]").Contains("sooner", StringComparison.Ordinal), "the one chosen in the debrief");
        // What one of them never did has a dash for its time.
        var broken = await _page.Server.ImportAsync(new RunLog(header, [new RunCommand(100, CommandKind.Set, "battery", "on"), new RunCommand(500, CommandKind.End)]));
        _page.Go($"/debrief/{broken}?with={book}");
        _page.UntilTrue(() => _page.Text("[data-testid=phases]").Contains('–', StringComparison.Ordinal), "the phases of one that was broken off");
        Assert.DoesNotContain("NaN", _page.Text("main"), StringComparison.Ordinal);
        _page.Go($"/debrief/{book}?with=none");
        _page.UntilTrue(() => _page.Text("[role=alert]").Contains("there is no run \"none\"", StringComparison.Ordinal), "the word on a run that is not there");
        Assert.NotNull(_page.Find("[data-testid=verdict]"));
    }

    /// <summary>Both call their one engine by the same name.</summary>
    [Fact]
    public async Task A_run_of_another_type_is_not_drawn_beside()
    {
        var sedge = await _page.Server.ImportAsync(Flown(Cockpit.Calm with { Aircraft = "sedge", Loading = null, Leg = null }));
        var burdock = await _page.Server.ImportAsync(Flown(Cockpit.Calm with { Aircraft = "burdock", Loading = null, Leg = null }));
        _page.Go($"/debrief/{sedge}?with={burdock}");
        _page.UntilTrue(() => _page.Text("[aria-label='Beside another run'] [role=alert]").Length > 0, "the word on another type");
        _page.UntilTrue(() => _page.Script<bool>("return performance.getEntriesByType('resource').some((r) => r.name.includes(arguments[0]) && r.responseEnd > 0)",
            $"/api/runs/{burdock}/debrief"), "the other's debrief read");
        _page.Find("[data-testid=debrief-start] svg");
        Assert.False(_page.Has("[data-testid=beside-start]"));
    }

    [Fact]
    public async Task The_logbook_filters_pages_and_names_what_it_lists()
    {
        var dark = new RunLog(Cockpit.Calm with { Pilot = "Ember", Aircraft = "tansy", Beginning = "turnaround" },
            [new RunCommand(50, CommandKind.Set, "radio", "on"), new RunCommand(100, CommandKind.End)]);
        for (var i = 0; i < 55; i++)
        {
            await _page.Server.ImportAsync(dark);
        }

        await _page.Server.ImportAsync(Flown(Cockpit.Calm with { Pilot = "Spark", School = new Dictionary<string, string> { ["fuelOn"] = "early" } }));
        _page.Go("/logbook");
        _page.Pick("pilot", "Ember");
        _page.UntilTrue(() => _page.Text("[data-testid=shown]").StartsWith("50 read of 55", StringComparison.Ordinal), "the first page");
        var row = Rows()[0].Text;
        foreach (var word in new[] { "Tansy", "turnaround", "Skerrow Main", "–", "Not ready" })
        {
            Assert.Contains(word, row, StringComparison.Ordinal);
        }

        Assert.DoesNotContain("°C", row, StringComparison.Ordinal); // its engine was never lit
        Assert.InRange(Rows().Count, 5, 49); // only what is in sight is drawn
        _page.Driver.ExecuteScript("const list = document.querySelector('[aria-label=Runs]'); list.scrollTop = list.scrollHeight");
        _page.UntilTrue(() => _page.Text("[data-testid=shown]").StartsWith("55 read of 55", StringComparison.Ordinal), "the second page");
        _page.Pick("pilot", "");
        _page.Pick("beginning", "first");
        _page.Pick("aircraft", "juniper");
        _page.Pick("verdict", "launch-ready");
        _page.UntilTrue(() => Rows() is [var first, ..] && first.Text.Contains("As soon as the core takes it", StringComparison.Ordinal), "the school");
        _page.Pick("aircraft", "sedge");
        _page.Pick("pilot", "Spark");
        _page.UntilTrue(() => _page.Text("main").Contains("No run is like that", StringComparison.Ordinal), "nothing like that");
        Assert.Empty(_page.Console());
    }

    private IReadOnlyList<IWebElement> Rows() => _page.Driver.FindElements(By.CssSelector("[data-testid=run-row]"));
}
