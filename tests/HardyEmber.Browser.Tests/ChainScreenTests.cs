using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>The chain on the start screen, the hints on it, and the tour of the first run.</summary>
[Collection(nameof(BrowserOne))]
public sealed class ChainScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private double Share(string link) => double.Parse(_page.Attribute($"[data-handed={link}]", "data-share") is { Length: > 0 } share ? share : "NaN",
        System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public async Task The_chain_is_cut_while_it_is_dark_carries_what_is_handed_and_is_stepped_along_by_keys()
    {
        await _page.OpenRunAsync(Cockpit.Calm with { Mode = "alone" });
        foreach (var link in new[] { "buses", "auxiliary", "air", "core", "generator", "pressure", "alignment", "boxes" })
        {
            Assert.Equal(0, Share(link));
        }

        Assert.Contains("Nothing is handed on", _page.Text("[data-handed=buses]"), StringComparison.Ordinal);
        _page.Choose("battery", "on");
        _page.StepUntil(() => Share("buses") > 0.05, "what the buses take");
        Assert.Equal(0, Share("auxiliary"));
        Assert.Equal("battery", _page.Attribute("[data-link][aria-current=true]", "data-link"));
        _page.Press(".");
        _page.Press(".");
        _page.Find("[data-panel=auxiliary]");
        _page.Press(",");
        _page.Find("[data-panel=buses]");
        _page.Press(",");
        _page.Press(",");
        _page.Find("[data-panel=ready]"); // round the end
        Assert.Empty(_page.Console());
    }

    /// <summary>The link that everything waits for is marked, and what follows when it comes is said: by the guide, not to one who flies alone.</summary>
    [Theory]
    [InlineData("guided")]
    [InlineData("alone")]
    public async Task What_everything_waits_for_is_told_with_what_follows(string mode)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Mode = mode });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Tracker.Now() is { Kind: Core.Procedures.CueKind.Ready, Waiting.Count: > 0 }
            && rehearsal.Machine["right.starter-valve"] > 0.5));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        if (mode == "alone")
        {
            _page.StepUntil(() => _page.Text("[data-link=core]").Contains("waits", StringComparison.Ordinal), "the mark on the link");
            Assert.Equal("", _page.Text("[data-testid=follows]"));
            return;
        }

        _page.StepUntil(() => _page.Text("[data-testid=follows]").Contains("Everything waits for Core", StringComparison.Ordinal), "the link");
        Assert.Contains("then “", _page.Text("[data-testid=follows]"), StringComparison.Ordinal);
        Assert.Contains("waits", _page.Text("[data-link=core]"), StringComparison.Ordinal);
    }

    /// <summary>Fuel at 6 % ruins the start that the guide asked for. So its key waits for the speed, and says how far that is.</summary>
    [Fact]
    public async Task Space_before_its_time_moves_nothing_in_guided()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm);
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Machine["right.n2"] > 4));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.StepUntil(() => _page.Cue == ("fuel-first", "ready"), "the fuel as the next cue");
        _page.UntilTrue(() => _page.Has("[data-testid=not-yet]"), "how far it is");
        _page.UntilTrue(() =>
        {
            _page.Press(" ");
            return _page.Text("[data-testid=toasts]").Contains("Not yet: ", StringComparison.Ordinal);
        }, "what it waits for");
        Assert.Contains("≥ 21 %; now ", _page.Text("[data-testid=toasts]"), StringComparison.Ordinal);
        Assert.Equal(("fuel-first", "ready"), _page.Cue);
        _page.StepUntil(() => _page.CueKind == "act", "its time");
        _page.UntilTrue(() => _page.Attribute("[data-testid=cue-act]", "aria-disabled") == "false", "the key, ready");
        _page.Press(" ");
        _page.StepUntil(() => _page.CueId != "fuel-first", "the fuel given");
        Assert.Empty(_page.Console());
    }

    /// <summary>What it is and what it rests on, for a control, a reading and a lamp.</summary>
    [Fact]
    public async Task Everything_says_what_it_rests_on()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        foreach (var (selector, words) in new[] { ("[data-control=battery] span", "Essential DC bus: live"), ("[role=meter][aria-label=Battery]", "relays drop at 18"),
            ("[data-lamp=fuel-valve]", "Auxiliary fuel valve: shut by the fire test") })
        {
            new OpenQA.Selenium.Interactions.Actions(_page.Driver).MoveToElement(_page.Find(selector)).MoveByOffset(1, 1).MoveByOffset(1, 0).Perform();
            _page.UntilTrue(() => _page.Text("[data-testid=hint]").Contains(words, StringComparison.Ordinal), words);
        }

        Assert.Empty(_page.Console());
    }

    /// <summary>A finger taps a reading to be told what it is, and a lamp both that and why; what asks why says what it is to keys as well.</summary>
    [Fact]
    public async Task A_finger_is_told_what_a_reading_is()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        var finger = new Finger(_page);
        finger.Tap(_page.Find("[data-control=battery] span"));
        _page.UntilTrue(() => _page.Text("[data-testid=hint]").Contains("Essential DC bus: live", StringComparison.Ordinal), "what the battery's switch works on");
        finger.Tap(_page.Find("[data-testid=clock]"));
        _page.UntilTrue(() => !_page.Has("[data-testid=hint]"), "it goes when something else is touched");
        finger.Tap(_page.Find("[data-control=battery] button[aria-label^='Look at']"));
        Assert.False(_page.Has("[data-testid=hint]"));
        finger.Tap(_page.Find("[data-lamp=fuel-valve]"));
        _page.UntilTrue(() => _page.Has("[data-testid=why][data-target='lamp.fuel-valve']"), "why");
        Assert.Contains(Repository.Fleet.FindAircraft("juniper").Lamps.First(l => l.Id == "fuel-valve").Meaning, _page.Text("[data-testid=why]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>On a tablet what does not fit is drawn up with a finger, also with one that came down on a switch, which is not thrown.</summary>
    [Theory]
    [InlineData("juniper", 820, 1180)]
    [InlineData("alder", 600, 960)]
    public async Task A_finger_scrolls_what_does_not_fit(string aircraft, int width, int height)
    {
        try
        {
            _page.Driver.Resize(width, height, Chrome.Coarse);
            await _page.OpenRunAsync(Cockpit.Calm with { Aircraft = aircraft, Loading = null, Leg = null });
            _page.OpenLink("battery");
            var box = "[...document.querySelectorAll('main, main *, html')].filter((e) => e.scrollHeight > e.clientHeight + 100"
                + " && /auto|scroll/.test(getComputedStyle(e).overflowY + (e === document.documentElement ? 'auto' : ''))).map((e) => e.scrollTop)";
            void Still() => _page.Script<bool>($$"""
                return new Promise((done) => {
                  let last = '', calm = 0;
                  const look = () => {
                    const now = String({{box}});
                    calm = now === last ? calm + 1 : 0;
                    last = now;
                    if (calm > 5) { done(true); } else { requestAnimationFrame(look); }
                  };
                  look();
                });
                """);
            double Scrolled() => Convert.ToDouble(_page.Driver.ExecuteScript($"return Math.max(0, ...{box})")!, System.Globalization.CultureInfo.InvariantCulture);
            Assert.Equal(0, Scrolled());
            new Finger(_page).Swipe(_page.Find("[data-control=battery] button:not([aria-label^='Look at'])"), -400);
            _page.UntilTrue(() => Scrolled() > 150, "what was further down");
            // How far it goes hangs on how quick the browser takes the finger to have been; one that comes while the page still runs on only stops it. So again, as anybody would.
            Still();
            for (var swipes = 0; swipes < 5 && Scrolled() >= 1; swipes++)
            {
                new Finger(_page).Swipe(_page.Find("[aria-label=Cautions]"), 600);
                Still();
            }

            Assert.True(Scrolled() < 1, "the way back up");
            _page.Step(0.5);
            Assert.Equal("off", _page.Text("[data-control=battery] [role=radio][aria-checked=true]"));
            Assert.Empty(_page.Console());
        }
        finally
        {
            _page.Driver.Resize(1280, 800, Chrome.Coarse);
        }
    }

    /// <summary>Four stops in the first run, and never again.</summary>
    [Fact]
    public async Task The_tour_has_four_stops_and_is_shown_once()
    {
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        _page.Driver.ExecuteScript("localStorage.removeItem('tour')");
        _page.Go($"/run/{id}?tour");
        foreach (var stop in new[] { "The chain", "The cue", "The open link", "The tape" })
        {
            _page.UntilTrue(() => _page.Text("[data-testid=tour]").StartsWith(stop, StringComparison.Ordinal), stop);
            _page.Driver.FindElement(By.CssSelector("[data-testid=tour] button")).Click();
        }

        _page.UntilTrue(() => !_page.Has("[data-testid=tour]"), "the end of it");
        _page.Go($"/run/{id}?tour");
        _page.Find("[data-testid=cue]");
        _page.Settle();
        Assert.False(_page.Has("[data-testid=tour]"));
        Assert.Empty(_page.Console());
    }
}
