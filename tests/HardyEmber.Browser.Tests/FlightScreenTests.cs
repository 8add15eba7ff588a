using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>Flights that begin with everything running, their ends, and what the page says before and after them.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class FlightScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private static RunHeader Failing(string aircraft, string code, string engine, double heightFt = 14_500, double oatC = 15) =>
        Situations.AllRun(aircraft, heightFt) with { Faults = [new RunFault(code, engine, 8)], Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0) };

    /// <summary>Nobody is told beforehand which one it will be; then its name is in the cue, and it comes back.</summary>
    [Theory]
    [InlineData("juniper", "flame-out-fuel", "left", 15, "keyboard")]
    [InlineData("alder", "flame-out-fuel", "right", 15, "mouse")]
    [InlineData("teasel", "flame-out-ice", "left", 25, "keyboard")]
    public async Task An_engine_that_flames_out_is_read_from_both_sides_and_brought_back(string aircraft, string code, string engine, double oatC, string way)
    {
        await _page.OpenRunAsync(Failing(aircraft, code, engine, oatC: oatC));
        Assert.True(_page.Has("[data-control=throttle-left]") && _page.Has("[data-control=throttle-right]") && _page.Has("[data-control=leave]"));
        Assert.Equal("on-watch", _page.CueId);
        Assert.Equal("", _page.Misfits(1280));
        _page.StepUntil(() => _page.CueId.EndsWith("-" + engine, StringComparison.Ordinal), "the drill");
        new Hands(_page).Follow(way, () => _page.CueKind == "finished", 300);
        _page.Find("[data-testid=end-run]").Click();
        Assert.Equal("launch-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        Assert.Contains("the engine runs", _page.Text("[data-testid=flown]"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>Who leaves a flight and looks at its debrief finds nothing there that he is still to find out.</summary>
    [Fact]
    public async Task The_debrief_of_a_flight_that_goes_on_waits_for_its_end()
    {
        var id = await _page.OpenRunAsync(Failing("burdock", "flame-out-fuel", "right"));
        _page.Step(4);
        _page.Go($"/debrief/{id}");
        Assert.Equal("Not ended", _page.Find("[data-testid=verdict]").Text.Split('\n')[^1].Trim());
        Assert.Equal("The flight still goes on.", _page.Text("h1"));
        Assert.DoesNotContain("right", _page.Text("[aria-label=Findings]"), StringComparison.OrdinalIgnoreCase);
        Assert.False(_page.Has("[aria-label='Beside another run']") || _page.Has("[aria-label='Steps in the order done']") || _page.Has("[data-testid=flown]"));
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task The_aircraft_is_left_by_its_guarded_handle_and_the_debrief_says_so()
    {
        await _page.OpenRunAsync(Situations.Aloft("sedge", 7000));
        new Hands(_page).Follow("mouse", () => _page.CueId == "flight-over", 120);
        _page.Find("[data-testid=end-run]").Click();
        _ = _page.Find("[data-testid=verdict]");
        Assert.Contains("Left at", _page.Text("h1"), StringComparison.Ordinal);
        Assert.Equal("not-ready", _page.Find("[data-testid=verdict]").GetDomAttribute("data-verdict"));
        _page.UntilTrue(() => _page.Text("[data-testid=flown]").Contains("the aircraft was left", StringComparison.Ordinal), "its end");
        Assert.Contains("Left at", _page.Text("h1"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    /// <summary>Debriefs were once looked at for one type only: every type draws its flight and fills its table.</summary>
    [Theory]
    [InlineData("alder")]
    [InlineData("bramble")]
    [InlineData("burdock")]
    [InlineData("juniper")]
    [InlineData("sedge")]
    [InlineData("tansy")]
    [InlineData("teasel")]
    public async Task Every_type_is_debriefed_over_its_envelope(string aircraft)
    {
        var header = Situations.Aloft(aircraft, 25_000);
        _page.Go($"/debrief/{await _page.Server.ImportAsync(new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly())}");
        _page.UntilTrue(() => _page.Has("[aria-label='The flight'] [data-testid=envelope]") && _page.Has("[aria-label='The flight'] [data-method]"), "the plot and the table");
        _page.UntilTrue(() => _page.Has("[data-chance=windmill] polyline"), "its last chance");
        var trail = _page.Find("[aria-label='The flight'] svg > polyline:last-of-type").GetDomAttribute("points")!;
        Assert.True(trail.Split(' ').Distinct().Count() > 30, trail);
        Assert.DoesNotContain("NaN", trail, StringComparison.Ordinal);
        var told = _page.Text("[data-testid=flown]");
        Assert.Contains("the engine runs", told, StringComparison.Ordinal);
        Assert.DoesNotContain("–", told, StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Fact]
    public async Task Another_method_is_flown_from_a_moment_of_the_debrief_and_the_two_are_compared()
    {
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, Situations.Aloft("alder", 14_000))).Fly();
        _page.Go($"/debrief/{await _page.Server.ImportAsync(log)}");
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-method=starter] button")).FirstOrDefault(), "another method").Click();
        _page.UntilTrue(() => _page.CueId.Length > 0, "the run");
        new Hands(_page).Follow("keyboard", () => _page.CueKind == "finished", 300);
        _page.Find("[data-testid=end-run]").Click();
        _page.UntilTrue(() => _page.Text("[data-testid=flown]").Contains("forked from, at 00:00", StringComparison.Ordinal), "both side by side");
        var used = _page.Driver.FindElements(By.XPath("//table[@data-testid='flown']//tr[th[contains(., 'Height used')]]/td"))
            .Select(c => double.Parse(c.Text.Replace("ft", "", StringComparison.Ordinal).Replace("\u202f", "", StringComparison.Ordinal).Trim(),
            System.Globalization.CultureInfo.InvariantCulture)).ToList();
        Assert.Equal(2, used.Count);
        Assert.True(used[0] < used[1] / 2, "gliding on the unit costs less than half of a dive");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public void Three_drills_are_offered_before_the_launch_and_one_that_was_flown_is_counted()
    {
        _page.Go("/");
        _page.Forget();
        _page.Go("/");
        _page.Retype("pilot", "Wicket");
        _page.Unfold("Seed");
        _page.Retype("seed", "7"); // where several are needed alike it draws
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[data-drill]")).Count == 3 && _page.Text("[data-testid=drills-done]") == "0 of 3 flown", "the set");
        _page.UntilTrue(() => _page.Text("[data-drill]").Contains("not flown yet", StringComparison.Ordinal), "why");
        _page.UntilTrue(() => _page.Find("[data-drill] button").Enabled, "the set for this callsign");
        var drill = _page.Find("[data-drill]").GetDomAttribute("data-drill")!;
        _page.Find($"[data-drill={drill}] button").Click();
        _page.UntilTrue(() => _page.CueId.Length > 0, "the flight");
        new Hands(_page).Follow("keyboard", () => _page.CueKind == "finished" || _page.CueId == "flight-over", 400);
        _page.Find("[data-testid=end-run]").Click();
        _ = _page.Find("[data-testid=verdict]");
        _page.Go("/");
        Assert.Equal("Wicket", _page.Find("input[name=pilot]").GetDomProperty("value"));
        _page.UntilTrue(() => _page.Text("[data-testid=drills-done]") == "1 of 3 flown", "the count");
        Assert.Empty(_page.Console());
    }
}
