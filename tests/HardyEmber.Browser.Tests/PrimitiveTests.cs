using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>The primitives of the style guide: keys, focus, what opens and shuts; and the help of every screen.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class PrimitiveTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private void Style()
    {
        _page.Go("/style");
        _page.Find("[data-group=Signatures]");
    }

    // A page that scrolls under a hint shuts it: what gets the focus is brought into sight before.
    private void Focus(string selector)
    {
        _page.Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", _page.Find(selector));
        _page.Driver.ExecuteAsyncScript("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))");
        _page.Driver.ExecuteScript("arguments[0].focus()", _page.Find(selector));
    }

    [Fact]
    public void Lists_sliders_tabs_and_switches_take_the_keys_that_everyone_expects()
    {
        Style();
        Focus("[data-choice=choice-soot]");
        _page.Press(" ");
        _page.Find(Cockpit.OpenList);
        _page.Press("b");
        _page.Press(Keys.Enter);
        _page.UntilTrue(() => _page.Attribute("[data-choice=choice-soot]", "data-value") == "b", "Bramble");
        Focus("[data-choice=choice-soot]");
        _page.Press(Keys.Enter);
        _page.Find(Cockpit.OpenList);
        _page.Press(Keys.Escape);
        _page.UntilTrue(() => !_page.Has(Cockpit.OpenList) && _page.Attribute("[data-choice=choice-soot]", "data-value") == "b", "shut, and as it was");
        Focus("[aria-label='Slider, soot']");
        _page.Press(Keys.End);
        _page.UntilTrue(() => _page.Attribute("[aria-label='Slider, soot']", "aria-valuenow") == "1", "the end");
        Focus("[data-theme=soot] [data-tab=a]");
        _page.Press(Keys.ArrowRight);
        _page.UntilTrue(() => _page.Text("[data-theme=soot] [role=tabpanel][data-state=active]").Contains("What is normal", StringComparison.Ordinal), "the other tab");
        Focus("[data-theme=soot] [role=switch]");
        _page.Press(" ");
        _page.UntilTrue(() => _page.Attribute("[data-theme=soot] [role=switch]", "aria-checked") == "false", "off");
        Assert.Empty(_page.Console());
    }

    /// <summary>A dialog keeps the focus, Escape shuts it, and the focus goes back to what opened it; nothing breaks the page's policy.</summary>
    [Fact]
    public void A_dialog_is_modal_and_gives_the_focus_back()
    {
        Style();
        Focus("[data-testid=open-dialog-soot]");
        _page.Press(Keys.Enter);
        _page.Find("[role=dialog]");
        for (var i = 0; i < 5; i++)
        {
            _page.Press(Keys.Tab);
            Assert.True((bool)_page.Driver.ExecuteScript("return document.activeElement.closest('[role=dialog]') !== null")!);
        }

        _page.Press(Keys.Escape);
        _page.UntilTrue(() => !_page.Has("[role=dialog]"), "shut");
        Assert.Equal("open-dialog-soot", (string?)_page.Driver.ExecuteScript("return document.activeElement.dataset.testid"));
        Assert.Empty(_page.Console());
    }

    [Fact]
    public void A_hint_comes_by_focus_and_a_fold_opens_by_key()
    {
        Style();
        Focus("[data-theme=ash] [data-group='What opens'] button:nth-of-type(2)");
        _page.UntilTrue(() => _page.Text("[data-testid=hint]").Contains("A few words about it", StringComparison.Ordinal), "the hint");
        _page.Press(Keys.Escape);
        _page.UntilTrue(() => !_page.Has("[data-testid=hint]"), "the hint gone");
        Focus("[data-theme=ash] [aria-expanded=false]:not([role=combobox])");
        _page.Press(Keys.Enter);
        _page.UntilTrue(() => _page.Text("[data-theme=ash]").Contains("What is rarely wanted.", StringComparison.Ordinal), "what was folded");
    }

    /// <summary>Five sentences and the keys, on every screen, by the question mark.</summary>
    [Fact]
    public async Task The_question_mark_tells_how_to_read_every_screen()
    {
        var flown = await _page.Server.ImportAsync(new Core.Runs.RunLog(Cockpit.Calm with { Pilot = "Buff" }, [new(100, Core.Simulation.CommandKind.End)]));
        foreach (var (path, wait) in new[] { ("/", "[data-testid=begin]"), ("/logbook", "h1"), ($"/debrief/{flown}", "[data-testid=verdict]"), ("/style", "[data-group]") })
        {
            _page.Go(path);
            _page.Find(wait);
            new Actions(_page.Driver).SendKeys("?").Perform();
            _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=help] li")).Count == 5, $"five sentences on {path}");
        }

        foreach (var run in new[] { Cockpit.Calm, Situations.Aloft("juniper", 25_000) with { Pilot = "Buff" } })
        {
            await _page.OpenRunAsync(run);
            _page.Press("?");
            _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=help] li")).Count == 5
                && _page.Text("[role=dialog]").Contains("Command line", StringComparison.Ordinal), "sentences and keys");
        }

        Assert.Empty(_page.Console());
    }

    /// <summary>As wide as a telephone, and at twice the size: nothing is cut off sideways.</summary>
    [Theory]
    [InlineData(320, 640)]
    [InlineData(640, 400)]
    public async Task Nothing_scrolls_sideways_on_a_narrow_page(int width, int height)
    {
        await _page.Server.ImportAsync(new Core.Runs.RunLog(Cockpit.Calm with { Pilot = "Buff" }, [new(100, Core.Simulation.CommandKind.End)]));
        _page.Driver.Resize(width, height, Chrome.Coarse);
        try
        {
            foreach (var (path, wait) in new[] { ("/", "[data-price]"), ("/logbook", "[data-testid=run-row]"), ("/style", "[data-group]") })
            {
                _page.Go(path);
                _page.Find(wait);
                var wide = (string)_page.Driver.ExecuteScript("""
                    const room = document.documentElement.clientWidth;
                    return document.scrollingElement.scrollWidth <= room + 1 ? '' : [...document.querySelectorAll('body *')]
                        .filter(e => !e.closest('[aria-label=Runs]') && e.getBoundingClientRect().right > room + 1).slice(-3).map(e => e.outerHTML.slice(0, 120)).join(' ; ');
                    """)!;
                Assert.True(wide.Length == 0, $"{path}: {wide}");
            }
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }
    }
}
