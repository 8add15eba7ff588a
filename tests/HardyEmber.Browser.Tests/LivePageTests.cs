using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using HardyEmber.Web.Live;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>A page and its live run: who looks on, what was lost on the way, leaving, holding by key, the command line's room.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class LivePageTests(BrowserFixture fixture)
{
    // Loses the next frame on its way to the page, where the test says so; and notes whether the page ever said that it catches up.
    private const string LoseFrames = """
        const handler = Object.getOwnPropertyDescriptor(WebSocket.prototype, 'onmessage');
        Object.defineProperty(WebSocket.prototype, 'onmessage', {
          get() { return handler.get.call(this); },
          set(take) { handler.set.call(this, e => { if (window.loseFrames > 0 && String(e.data).includes('"target":"frame"')) { window.loseFrames--; return; } take(e); }); },
        });
        new MutationObserver(() => { window.caughtUp ||= !!document.querySelector('[data-testid=catching-up]'); }).observe(document, { subtree: true, childList: true });
        """;

    private readonly Cockpit _page = new(fixture);

    [Fact]
    public async Task A_lost_frame_is_noticed_and_the_page_catches_up()
    {
        using var _ = new ScriptOnEveryPage(_page.Driver, LoseFrames);
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        _page.Choose("battery", "on");
        _page.Driver.ExecuteScript("window.loseFrames = 1");
        await using var other = await HubPage.OpenAsync(_page.Server, id);
        await other.SendAsync("Set", "radio", "on"); // the page never hears of it
        await other.StepAsync(0.5);
        await other.StepAsync(0.5);
        _page.Step(0.5);
        _page.UntilTrue(() => _page.Text("[data-testid=tape-text]").Contains("Radio 1 → on", StringComparison.Ordinal), "the lost action");
        Assert.Equal(0L, _page.Driver.ExecuteScript("return window.loseFrames"));
        Assert.Equal(true, _page.Driver.ExecuteScript("return window.caughtUp === true"));
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-testid=catching-up]")).Count == 0, "the end of catching up");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task Who_looks_on_sees_the_run_and_has_nothing_to_press()
    {
        var id = await _page.Server.CreateAsync(Cockpit.Calm);
        await using var pilot = await HubPage.OpenAsync(_page.Server, id);
        _page.Go($"/look/{id}");
        _page.Find("[data-testid=looks-on]");
        await pilot.SendAsync("Set", "battery", "on");
        _page.UntilTrue(() => _page.Lit("generator-right"), "the pilot's battery");
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-testid=cue-act]")));
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-control] [role=radio]:not([disabled])")));
        Assert.NotNull(_page.Find("[data-testid=end-run]").GetDomAttribute("disabled"));
        foreach (var key in new[] { " ", "c", "p", "4" })
        {
            _page.Press(key);
        }

        Assert.Single(pilot.Actions);
        Assert.False(pilot.Paused);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task Leaving_for_another_screen_leaves_the_run()
    {
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        await using var observer = await HubPage.OpenAsync(_page.Server, id, Role.Look);
        Assert.False(observer.Paused);
        _page.Driver.FindElement(By.LinkText("Hardy Ember")).Click();
        await observer.UntilAsync(p => p.Paused, "the run standing still");
    }

    [Fact]
    public async Task The_cues_own_button_holds_by_Tab_and_Space()
    {
        const string cue = "lamp-test";
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm);
        var pilot = new ScriptedPilot(rehearsal);
        pilot.FlyUntil(() => rehearsal.Machine.StepIndex % Steps.PerTick == 2 && rehearsal.Tracker.Now() is { Kind: CueKind.Act, Step.Id: cue });
        await _page.OpenLogAsync(new RunLog(Cockpit.Calm, [.. pilot.Log]));
        _page.Press("p");
        // The log ends with the last act; the cue comes with the machine's next looks.
        _page.StepUntil(() => _page.Cue == (cue, "act"), "the cue to hold", 10);
        _page.UntilTrue(() => _page.Attribute("[data-testid=cue-act]", "aria-disabled") != "true", "the cue read");
        for (var i = 0; i < 60 && Focused() != "cue-act"; i++)
        {
            _page.Press(Keys.Tab);
        }

        Assert.Equal("cue-act", Focused());
        _page.KeyDown(" ");
        _page.StepUntil(() => _page.Cue == (cue, "watch"), "the hold", 2);
        _page.StepUntil(() => _page.CueId != cue || _page.CueKind != "watch", "the end of the hold");
        _page.KeyUp(" ");
        _page.Step(0.4);
        Assert.DoesNotContain(cue, _page.CueId, StringComparison.Ordinal);
        Assert.Contains("let go", _page.Text("[data-testid=tape-text]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    private string Focused() => _page.Driver.SwitchTo().ActiveElement().GetDomAttribute("data-testid") ?? "";

    [Fact]
    public async Task The_command_line_hides_nothing_and_its_suggestions_wrap()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.Press("/");
        _page.Find("[aria-label=Command]").SendKeys("generator");
        var (line, tape, list) = ("[data-testid=command-line]", "[aria-label=Tape]", "[aria-label='What it would do']");
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector($"{list} [role=option]")).Count >= 4, "suggestions");
        var hidden = (string)_page.Driver.ExecuteScript("""
            const at = s => document.querySelector(s).getBoundingClientRect(), list = document.querySelector(arguments[2]);
            const under = [...document.querySelectorAll('main section')].filter(e => e.getBoundingClientRect().bottom > at(arguments[1]).top + 1).map(e => e.ariaLabel);
            if (at(arguments[1]).bottom > at(arguments[0]).top + 1) under.push('the tape');
            if (list.scrollWidth > list.clientWidth + 1) under.push('suggestions');
            if (at(arguments[0]).bottom > innerHeight + 1) under.push('the line itself');
            return under.join();
            """, line, tape, list)!;
        Assert.True(hidden.Length == 0, $"hidden: {hidden}");
    }

    [Fact]
    public async Task A_dark_jet_says_nothing_well_and_counts_what_is_left()
    {
        await _page.OpenRunAsync(Cockpit.Calm with { Aircraft = "alder" });
        Assert.DoesNotContain("fed", _page.Text("[aria-label='Chain of energy']"), StringComparison.Ordinal);
        Assert.Contains("steps left", _page.Text("[data-link=ready]"), StringComparison.Ordinal);
        _page.OpenLink("battery");
        Assert.Equal("nothing to tell", _page.Attribute("[role=meter][aria-label='Battery lasts']", "aria-valuetext"));
    }

    /// <summary>A page that is gone back to comes out of the browser's cache as it was left, its line closed.</summary>
    [Fact]
    public async Task A_page_that_comes_back_joins_again_and_until_then_says_so_in_its_own_words()
    {
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        await using var observer = await HubPage.OpenAsync(_page.Server, id, Role.Look);
        _page.Driver.ExecuteScript("window.dispatchEvent(new PageTransitionEvent('pagehide', { persisted: true }))");
        await observer.UntilAsync(p => p.Paused, "the run standing still");
        _page.OpenLink("battery");
        _page.Driver.FindElement(By.CssSelector("[data-control=battery] [role=radio]:last-of-type, [data-control=battery] button[aria-pressed=false]")).Click();
        _page.UntilTrue(() => Toasts().Contains("The connection to the server is lost: nothing was moved", StringComparison.Ordinal), "the word");
        Assert.DoesNotContain("State", Toasts(), StringComparison.Ordinal); // a library’s sentence
        Assert.Empty(observer.Actions);
        _page.Driver.ExecuteScript("window.dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }))");
        _page.UntilTrue(() => _page.Text("[data-testid=pause]").Contains("Go on", StringComparison.Ordinal), "the run as it stands");
        _page.Choose("battery", "on");
        await observer.UntilAsync(p => p.Actions.Count == 1, "the act");
    }

    private string Toasts() => _page.Script<string>("return document.body.innerText") ?? "";

    [Fact]
    public async Task A_join_that_is_refused_for_now_is_tried_again_until_it_is_taken()
    {
        var id = await _page.Server.CreateAsync(Cockpit.Calm);
        var (file, aside) = (Path.Combine(_page.Server.Data, "ember.db"), Path.Combine(_page.Server.Data, "aside.db"));
        File.Move(file, aside);
        try
        {
            _page.Go($"/run/{id}");
            _page.UntilTrue(() => Toasts().Contains("the database has gone", StringComparison.Ordinal) && Toasts().Contains("Trying again", StringComparison.Ordinal), "the word");
        }
        finally
        {
            File.Move(aside, file);
        }

        _page.Shows(id);
        _page.Choose("battery", "on");
        _page.UntilTrue(() => _page.Lit("generator-right"), "the battery");
    }

    /// <summary>On a telephone everything is there, and says that it cannot be flown by.</summary>
    [Fact]
    public async Task On_a_telephone_nothing_is_squeezed_away_and_a_run_says_that_it_is_to_be_looked_at()
    {
        const int phone = 390;
        var runs = new[] { await _page.Server.CreateAsync(Cockpit.Calm), await _page.Server.CreateAsync(Situations.Aloft("juniper", 25_000)) };
        var flown = await _page.Server.ImportAsync(new RunLog(Cockpit.Calm, [new(100, CommandKind.End)]));
        _page.Driver.Resize(phone, 844, Chrome.Coarse);
        try
        {
            foreach (var (path, wait) in new[] { ($"/run/{runs[0]}", "[data-testid=too-narrow]"), ($"/run/{runs[1]}", "[data-testid=too-narrow]"),
                ("/logbook", "[data-testid=run-row]"), ($"/debrief/{flown}", "[data-testid=verdict]"), ("/", "[data-testid=begin]") })
            {
                _page.Go(path);
                _page.Find(wait);
                var cut = _page.Script<string>("""
                    const rolls = (e) => e.parentElement && (['auto', 'scroll'].includes(getComputedStyle(e.parentElement).overflowX) || rolls(e.parentElement));
                    return [...document.querySelectorAll('button, a, h1, h2, [role=radio], input:not([aria-hidden=true])')].filter(e => {
                      const r = e.getBoundingClientRect();
                      return r.width > 0 && r.height > 0 && !e.closest('.sr-only') && (r.right > arguments[0] + 1 || r.left < -1) && (!rolls(e) || e.closest('[aria-label=Runs]'));
                    }).map(e => e.outerHTML.slice(0, 120)).join(' ; ');
                    """, phone)!;
                Assert.True(cut.Length == 0, $"{path}: {cut}");
            }

            _page.Go($"/run/{runs[0]}");
            _page.Find("[data-testid=too-narrow] a[href^='/debrief/']").Click();
            _page.Find("[data-testid=verdict]");
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }

        _page.Go($"/run/{runs[0]}");
        Assert.Equal("none", _page.Script<string>("return getComputedStyle(document.querySelector('[data-testid=too-narrow]') ?? document.head).display"));
    }
}
