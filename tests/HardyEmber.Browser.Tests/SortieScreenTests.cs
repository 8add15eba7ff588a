using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>The sortie: what was kept and flown before, what each choice costs, and numbers that are none.</summary>
[Collection(nameof(BrowserOne))]
public sealed class SortieScreenTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private void Anew(string path = "/")
    {
        _page.Go("/logbook");
        _page.Forget();
        _page.Go(path);
        _page.Find("[data-testid=begin]");
    }

    private string Value(string field) => _page.Find($"input[name='{field}']").GetDomProperty("value") ?? "";

    private void Kept() => _page.Driver.FindElements(By.CssSelector("[data-testid=returning] button")).Last().Click();

    [Fact]
    public void A_sortie_is_kept_under_a_name_handed_on_by_its_address_and_forgotten()
    {
        Anew();
        _page.Retype("pilot", "Russet");
        _page.Find("[aria-label=Aircraft] [data-card=tansy]").Click();
        _page.Retype("oatC", "31");
        _page.Unfold("Faults");
        _page.AddFault("igniter-dead", "no light ign");
        _page.Retype("faults.0.at", "2,5");
        Kept();
        _page.Find("input[name=sortie-name]").SendKeys("Hot & tired" + Keys.Enter);
        var code = _page.Until(() => _page.Driver.FindElements(By.CssSelector("[data-sortie='Hot & tired'] [data-code]")).FirstOrDefault()?.GetDomAttribute("data-code"),
            "the kept one");
        _page.Find("[data-sortie='Hot & tired'] [data-code]").Click();
        _page.UntilTrue(() => (_page.Find("[aria-label='Address of Hot & tired']").GetDomProperty("value") ?? "").EndsWith($"/?sortie={code}", StringComparison.Ordinal),
            "the address to be copied by hand");

        Anew($"/?sortie={code}");
        _page.UntilTrue(() => _page.Text("h1") == "Hot & tired", "its name");
        Assert.Equal(("Russet", "31", "2.5"), (Value("pilot"), Value("oatC"), Value("faults.0.at")));
        Assert.Equal("true", _page.Attribute("[data-card=tansy]", "aria-checked"));

        Kept();
        _page.Find("[aria-label='Forget Hot & tired']").Click();
        _page.Until(() => _page.Driver.FindElements(By.CssSelector("[role=dialog] button")).FirstOrDefault(b => b.Text == "Forget it for good"), "the second press").Click();
        _page.UntilTrue(() => _page.Text("[role=dialog]").Contains("Nothing is kept yet", StringComparison.Ordinal), "an empty list that says so");
        Assert.Empty(_page.Console());
    }

    [Fact]
    public void An_address_that_is_cut_is_told_and_the_usual_sortie_stands_there()
    {
        Anew("/?sortie=eyJmb3JtYXQiOi");
        Assert.Contains("cut or changed", _page.Text("[role=alert]"), StringComparison.Ordinal);
        _page.UntilTrue(() => _page.Find("[data-testid=begin]").Enabled, "Begin all the same");
    }

    [Fact]
    public async Task Who_comes_back_goes_on_with_what_was_left_or_sets_the_last_one_up_again()
    {
        var flown = Cockpit.Calm with { Pilot = "Sepia", Aircraft = "sedge", Loading = null, Leg = null, Seed = 4711, Conditions = new RunConditions(7, 200, 9) };
        await _page.Server.ImportAsync(new ScriptedPilot(new Rehearsal(Repository.Fleet, flown)).Fly());
        var open = await _page.Server.ImportAsync(new RunLog(Cockpit.Calm with { Pilot = "Sepia" },
            [new Core.Simulation.RunCommand(500, Core.Simulation.CommandKind.Set, "battery", "on")]));
        Anew();
        _page.Retype("pilot", "Sepia");
        _page.UntilTrue(() => _page.Text("[data-testid=returning]").Contains("Sedge", StringComparison.Ordinal), "the last one");
        _page.Driver.FindElements(By.CssSelector("[data-testid=returning] button")).First(b => b.Text == "Set up again").Click();
        _page.UntilTrue(() => Value("oatC") == "7" && Value("windKt") == "9", "its weather");
        Assert.Equal("true", _page.Attribute("[data-card=sedge]", "aria-checked"));
        _page.UntilTrue(() => _page.Driver.FindElements(By.CssSelector("[aria-label=Outlook] [data-testid=signature]")).Count == 2, "today over the last one");
        _page.Driver.FindElement(By.PartialLinkText("Go on at")).Click();
        _page.Shows(open);
    }

    /// <summary>Beside each answer of the school stands what another would cost, and what it would leave out.</summary>
    [Fact]
    public void Each_choice_has_its_price_beside_it()
    {
        Anew();
        string Price() => _page.Text("[data-price='selfTests/short']");
        _page.UntilTrue(() => Price().Contains('−') && Price().Contains(" s", StringComparison.Ordinal), $"the price of the short list: {Price()}");
        _page.UntilTrue(() => _page.Text("[data-price='selfTests/short'] [data-testid=gives-up]").Contains("gives up", StringComparison.Ordinal), "the checks it gives up");
        _page.Unfold("gives up");
        Assert.Contains("It shows:", _page.Text("[aria-label=School]"), StringComparison.Ordinal);
    }

    /// <summary>Arrows go from card to card, letters to what begins with them; Tab passes a group by.</summary>
    [Fact]
    public void Cards_and_lists_are_worked_by_keys_as_everyone_expects()
    {
        Anew();
        var card = _page.Find("[aria-label=Aircraft] [aria-checked=true]");
        ((IJavaScriptExecutor)_page.Driver).ExecuteScript("arguments[0].focus()", card);
        // A key stays down for some time: the choice follows the focus while it does.
        _page.KeyDown("ArrowRight");
        _page.UntilTrue(() => _page.Attribute("[data-card=sedge]", "aria-checked") == "true", "the next type");
        _page.KeyUp("ArrowRight");
        _page.Press(Keys.Tab);
        Assert.Equal("What to rehearse", (string?)_page.Driver.ExecuteScript("return document.activeElement.closest('[role=radiogroup]').ariaLabel"));
        ((IJavaScriptExecutor)_page.Driver).ExecuteScript("arguments[0].focus()", _page.Find("[data-choice=place]"));
        _page.Press(Keys.Enter);
        _page.Find(Cockpit.OpenList);
        _page.Press("d");
        _page.UntilTrue(() => _page.Attribute("[role=option][data-highlighted]", "data-option") == "dry-lantern", "what begins with the letter");
        _page.Press(Keys.Enter);
        _page.UntilTrue(() => _page.Attribute("[data-choice=place]", "data-value") == "dry-lantern" && Value("oatC") != "-24", "the place with its weather");
    }

    /// <summary>Before the first field stands a button that leads to Begin.</summary>
    [Fact]
    public void There_is_a_way_past_the_fields()
    {
        Anew();
        ((IJavaScriptExecutor)_page.Driver).ExecuteScript("document.querySelector('[data-testid=to-begin]').focus()");
        _page.Press(Keys.Enter);
        Assert.Equal("begin", _page.Driver.SwitchTo().ActiveElement().GetDomAttribute("data-testid"));
    }

    [Theory]
    [InlineData("windKt", "12,500", "12.500 or 12")]
    [InlineData("windKt", "101", "From 0 to 100")]
    [InlineData("qnhHpa", "987 hPa", "A number from 900 to 1")]
    [InlineData("fuelLb", "Dear all, the fuel for today is as it always was, and the stores as well.", "A number from 0 to 100")]
    [InlineData("windFromDeg", "", "A number from 0 to 360")]
    public void A_number_that_is_none_is_told_at_its_field(string field, string typed, string told)
    {
        Anew();
        _page.Retype(field, typed.Length == 0 ? Keys.Backspace : typed);
        _page.UntilTrue(() => _page.Text($"[data-wrong='{field}']").Contains(told, StringComparison.Ordinal), told);
        Assert.NotNull(_page.Find("[data-testid=begin]").GetDomAttribute("disabled"));
        Assert.Single(_page.Driver.FindElements(By.CssSelector("[data-wrong]")));
    }

    /// <summary>What an older version stored, and a browser that forbids storing: the page works.</summary>
    [Theory]
    [InlineData("localStorage.setItem('theme', 'sepia'); localStorage.setItem('dim', 'half'); localStorage.setItem('aircraft', 'thistle'); "
        + "localStorage.setItem('volume', 'loud');")]
    [InlineData("Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('denied', 'SecurityError'); } });")]
    public void What_this_device_remembers_may_be_anything(string script)
    {
        using (new ScriptOnEveryPage(_page.Driver, script))
        {
            _page.Go("/");
            _page.UntilTrue(() => _page.Find("[data-testid=begin]").Enabled, "Begin");
            Assert.Equal("soot", _page.Attribute("html", "data-theme"));
            Assert.Empty(_page.Console());
        }

        _page.Go("/logbook");
        _page.Forget();
    }
}
