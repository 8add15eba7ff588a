using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>The other screens, and what holds for all of them.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class ScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    [Fact]
    public void The_sortie_shows_what_today_changes_and_refuses_a_number_that_is_none()
    {
        _page.Go("/");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]").Contains("to the start limit", StringComparison.Ordinal), "the outlook");
        var cold = _page.Text("[aria-label=Outlook]");
        Spot("A4");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]") is var t && t.Contains("Wind into the exhaust", StringComparison.Ordinal) && t != cold, "the tailwind of spot A4");
        var oat = _page.Driver.FindElements(By.CssSelector("[aria-label=Situation] label")).First(l => l.Text.StartsWith("Outside air", StringComparison.Ordinal)).FindElement(By.TagName("input"));
        oat.SendKeys(Keys.Control + "a");
        oat.SendKeys("warm");
        _page.UntilTrue(() => _page.Find("[data-testid=begin]").GetDomAttribute("disabled") is not null, "Begin refusing");
        oat.SendKeys(Keys.Control + "a");
        oat.SendKeys("99");
        _page.UntilTrue(() => _page.Driver.PageSource.Contains("conditions.oatC", StringComparison.Ordinal), "the field named");
    }

    private void Spot(string id) =>
        _page.Driver.FindElements(By.CssSelector("[aria-label=Situation] option")).First(o => o.Text.StartsWith(id, StringComparison.Ordinal)).Click();

    [Fact]
    public async Task A_run_file_is_imported_debriefed_and_listed()
    {
        var file = Path.Combine(Repository.TemporaryFolder(), "flown.ndjson");
        await using (var text = new StreamWriter(file))
        {
            var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Pilot = "Clinker" });
            RunFile.Write(text, new ScriptedPilot(rehearsal, new PilotTraits(Forgets: new HashSet<string> { "trim", "approach-light" })).Fly());
        }

        _page.Go("/logbook");
        _page.Find("[aria-label='Run file']").SendKeys(file);
        Assert.Equal("not-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        var omitted = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-testid=finding][data-code=omitted]")) is { Count: 2 } f ? f : null, "two steps left out");
        Assert.Contains(omitted, f => f.Text.Contains("Set pitch trim", StringComparison.Ordinal));
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[aria-label=Traces] canvas")).Count == 3, "three traces");
        _page.Go("/logbook");
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=run-row]")).Any(r => r.Text.Contains("Clinker", StringComparison.Ordinal)), "the row");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task A_file_that_is_no_run_is_refused_by_line()
    {
        var file = Path.Combine(Repository.TemporaryFolder(), "notes.txt");
        await File.WriteAllTextAsync(file, "remember the brake\n");
        _page.Go("/logbook");
        _page.Find("[aria-label='Run file']").SendKeys(file);
        Assert.Contains("line 1", _page.Find("[role=alert]").Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("/", "[data-testid=begin]")]
    [InlineData("/logbook", "h1")]
    [InlineData("run", "[data-testid=cue]")]
    public async Task No_accessibility_rule_is_broken_in_either_theme(string path, string wait)
    {
        if (path == "run")
        {
            await _page.OpenRunAsync(Cockpit.Calm);
        }
        else
        {
            _page.Go(path);
        }

        _page.Find(wait);
        var axe = await File.ReadAllTextAsync(Path.Combine(Repository.Root, "web", "node_modules", "axe-core", "axe.min.js"));
        foreach (var theme in new[] { "soot", "ash" })
        {
            _page.Driver.ExecuteScript($"document.documentElement.dataset.theme='{theme}'");
            _page.Driver.ExecuteScript(axe);
            var found = (string?)_page.Driver.ExecuteAsyncScript("""
                const done = arguments[arguments.length - 1];
                axe.run(document, { runOnly: ['wcag2a', 'wcag2aa'] }).then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.target + ' ' + (n.any[0]?.message ?? '')).join('; ')).join('\n')), e => done(String(e)));
                """);
            Assert.True(string.IsNullOrEmpty(found), $"{theme}: {found}");
        }
    }

    [Fact]
    public void What_is_not_there_says_so_and_leads_back()
    {
        _page.Go("/run/none");
        _page.UntilTrue(() => _page.Driver.PageSource.Contains("This run cannot be opened", StringComparison.Ordinal), "the message");
        _page.Go("/debrief/none");
        _page.UntilTrue(() => _page.Driver.PageSource.Contains("there is no run", StringComparison.Ordinal), "the message");
    }
}
