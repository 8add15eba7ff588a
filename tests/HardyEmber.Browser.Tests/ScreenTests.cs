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
        _page.Pick("spot", "A4");
        _page.UntilTrue(() => _page.Text("[aria-label=Outlook]") is var t && t.Contains("Wind into the exhaust", StringComparison.Ordinal) && t != cold, "the tailwind of spot A4");
        _page.Retype("oatC", "warm");
        _page.UntilTrue(() => _page.Text("[data-wrong=oatC]").Contains("A number from −60 to 60", StringComparison.Ordinal), "the word at the field");
        Assert.NotNull(_page.Find("[data-testid=begin]").GetDomAttribute("disabled"));
        _page.Retype("oatC", "99");
        _page.UntilTrue(() => _page.Text("[data-wrong=oatC]").Contains("From −60 to 60", StringComparison.Ordinal), "the range at the field");
        _page.Retype("oatC", "−12,5");
        _page.UntilTrue(() => !_page.Has("[data-wrong=oatC]") && _page.Find("[data-testid=begin]").Enabled, "a comma taken for a point");
    }

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

    /// <summary>WCAG 2.2 AA and best practice, on every view in both themes, and on what opens over them.</summary>
    [Theory]
    [InlineData("/", "[data-price]", null)]
    [InlineData("/", "[data-price]", "[data-testid=returning] button")]
    [InlineData("/logbook", "[data-testid=run-row]", null)]
    [InlineData("/style", "[data-group=Signatures]", null)]
    [InlineData("/style", "[data-group=Signatures]", "[data-choice=choice-soot]")]
    [InlineData("/style", "[data-group=Signatures]", "[data-testid=open-dialog-ash]")]
    [InlineData("start", "[data-testid=next]", null)]
    [InlineData("start", "[data-testid=next]", "[aria-label='Help and keys']")]
    [InlineData("prompted", "[aria-label=Checklist]", null)]
    [InlineData("alone", "[data-panel]", null)]
    [InlineData("relight", "[data-method]", null)]
    [InlineData("debrief", "[data-spell]", null)]
    public async Task No_accessibility_rule_is_broken_in_either_theme(string view, string wait, string? press)
    {
        switch (view)
        {
            case "start" or "prompted" or "alone":
                await _page.OpenRunAsync(Cockpit.Calm with { Mode = view == "start" ? "guided" : view });
                break;
            case "relight":
                await _page.OpenRunAsync(Situations.Aloft("juniper", 25_000) with { Pilot = "Kindle" });
                break;
            case "debrief":
                _page.Go($"/debrief/{await FlownAsync()}");
                break;
            case "/logbook":
                _ = await FlownAsync();
                _page.Go(view);
                break;
            default:
                _page.Go(view);
                break;
        }

        _page.Find(wait);
        if (press is not null)
        {
            _page.Driver.FindElements(By.CssSelector(press)).Last().Click();
            _ = _page.Find("[role=dialog], " + Cockpit.OpenList);
        }

        var axe = await File.ReadAllTextAsync(Path.Combine(Repository.Root, "web", "node_modules", "axe-core", "axe.min.js"));
        foreach (var theme in new[] { "soot", "ash" })
        {
            _page.Driver.ExecuteScript($"document.documentElement.dataset.theme='{theme}'");
            _page.Driver.ExecuteScript(axe);
            var found = (string?)_page.Driver.ExecuteAsyncScript("""
                const done = arguments[arguments.length - 1];
                // While a list is open everything else is out of reach, for fingers and for who listens.
                axe.run(document.querySelector(arguments[0]) ?? document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] })
                    .then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3)
                        .map(n => n.target + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? '')).join('; ')).join('\n')),
                        e => done(String(e)));
                """, Cockpit.OpenList);
            Assert.True(string.IsNullOrEmpty(found), $"{theme}: {found}");
        }
    }

    private async Task<string> FlownAsync() =>
        await _page.Server.ImportAsync(new ScriptedPilot(new Rehearsal(Repository.Fleet,
            Cockpit.Calm with { Pilot = "Axel", Aircraft = "sedge", Loading = null, Leg = null })).Fly());

    [Fact]
    public void What_is_not_there_says_so_and_leads_back()
    {
        _page.Go("/run/none");
        _page.UntilTrue(() => _page.Driver.PageSource.Contains("This run cannot be opened", StringComparison.Ordinal), "the message");
        _page.Go("/debrief/none");
        _page.UntilTrue(() => _page.Driver.PageSource.Contains("there is no run", StringComparison.Ordinal), "the message");
    }
}
