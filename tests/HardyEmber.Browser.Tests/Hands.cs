using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>One act that the cue asks for, as the page says it.</summary>
internal sealed record CueAct(string Cue, string Kind, string Target, string To);

/// <summary>Three ways to do what a cue asks: by pointer on the controls themselves, by keys, by the command line.</summary>
internal sealed class Hands(Cockpit page)
{
    private static readonly TimeSpan LongestHold = TimeSpan.FromSeconds(40);
    private static readonly TimeSpan Taken = TimeSpan.FromSeconds(3);

    /// <summary>Follows the cues in one of the ways until a cue comes that ends it.</summary>
    public void Follow(string way, Func<bool> enough, TimeSpan within)
    {
        if (way == "command line")
        {
            page.Press("/");
            page.Find("[aria-label=Command]");
        }

        page.UntilTrue(
            () =>
            {
                // First what is asked, then whether it is enough: a cue that comes with the end between the two would be answered.
                // A key does what is asked when it comes down, so it must still be asked then.
                var act = Asked();
                if (enough())
                {
                    return true;
                }

                if (act is not null && act == Asked())
                {
                    Do(way, act);
                }

                return false;
            },
            $"the end of it by {way}",
            within);
        if (way == "command line")
        {
            page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        }
    }

    // Read in one go: the cue may change between two questions.
    private CueAct? Asked()
    {
        var parts = (IReadOnlyCollection<object>?)page.Driver.ExecuteScript("""
            const cue = document.querySelector('[data-testid=cue][data-kind=act]'), act = document.querySelector('[data-testid=cue-act]');
            return cue && act?.dataset.target && act.ariaDisabled !== 'true' ? [cue.dataset.cue, act.dataset.act, act.dataset.target, act.dataset.to ?? ''] : null;
            """);
        return parts?.Cast<string>().ToList() is [var cue, var kind, var target, var to] ? new CueAct(cue, kind, target, to) : null;
    }

    private void Do(string way, CueAct act)
    {
        switch (way)
        {
            case "mouse":
                ByMouse(act);
                break;
            case "keyboard":
                ByKey(act);
                break;
            default:
                ByLine(act);
                break;
        }

        // The act is on its way; the next cue may ask for the same control again, so wait for this one to be taken.
        try
        {
            page.UntilTrue(() => page.Cue != (act.Cue, "act"), $"the cue after {act.Cue}", TimeSpan.FromSeconds(2));
        }
        catch (TimeoutException)
        {
            // Refused, or still due: it is asked again.
        }
    }

    /// <summary>The hand is where it was asked to be and must stay there.</summary>
    private bool Holding(CueAct act) => page.Cue is (var id, "watch") && id == act.Cue;

    /// <summary>
    /// Keeps the hand there until the cue lets it go. A hold that was not taken, or was cut short by the machine, is over as
    /// well: what is due then is asked anew.
    /// </summary>
    private void Hold(CueAct act)
    {
        try
        {
            page.UntilTrue(() => page.Cue != (act.Cue, "act"), $"the hold of {act.Cue} taken", Taken);
        }
        catch (TimeoutException)
        {
            return;
        }

        page.UntilTrue(() => !Holding(act), $"the end of {act.Cue}", LongestHold);
    }

    private void ByKey(CueAct act)
    {
        page.KeyDown(" ");
        try
        {
            if (act.Kind == "hold")
            {
                Hold(act);
            }
        }
        finally
        {
            page.KeyUp(" ");
        }
    }

    private void ByMouse(CueAct act)
    {
        if (act.Kind == "look")
        {
            // A reading has no card to look at: the guide's own button confirms it.
            var eye = page.Driver.FindElements(By.CssSelector($"[data-control='{act.Target}'] button[aria-label^='Look at']")).FirstOrDefault() ?? page.Find("[data-testid=cue-act]");
            Click(eye);
            return;
        }

        var card = $"[data-control='{act.Target}']";
        try
        {
            page.UntilTrue(() => page.Driver.FindElements(By.CssSelector(card)).Count > 0 || page.CueId != act.Cue, card, TimeSpan.FromSeconds(3));
        }
        catch (TimeoutException)
        {
            return; // another cue came and went in between: what is due now is asked anew
        }

        var positions = page.Driver.FindElements(By.CssSelector($"[data-control='{act.Target}'] :is([role=radio], button)"));
        if (act.Kind == "hold")
        {
            if (positions.FirstOrDefault(b => b.GetDomAttribute("aria-label")?.EndsWith($": hold {act.To}", StringComparison.Ordinal) == true) is not { } button)
            {
                return;
            }

            new Actions(page.Driver).ClickAndHold(button).Perform();
            Hold(act);
            new Actions(page.Driver).Release().Perform();
            return;
        }

        var guard = positions.FirstOrDefault(b => b.GetDomAttribute("aria-label")?.EndsWith("lift the guard", StringComparison.Ordinal) == true);
        if (guard is not null)
        {
            Click(guard);
        }

        if (positions.FirstOrDefault(b => b.Text == act.To || b.GetDomAttribute("aria-label")?.EndsWith($": {act.To}", StringComparison.Ordinal) == true) is { } position)
        {
            Click(position);
        }
    }

    private static void Click(IWebElement element)
    {
        try
        {
            element.Click();
        }
        catch (StaleElementReferenceException)
        {
            // The screen moved on under the pointer: the next look finds it anew.
        }
    }

    private void ByLine(CueAct act)
    {
        var name = act.Target.Replace('-', ' ').Replace('.', ' ');
        Type(act.Kind == "look" ? $"look {name}" : $"{name} {act.To}");
        if (act.Kind == "hold")
        {
            Hold(act);
            Type($"release {name}");
        }
    }

    /// <summary>Types a line into the open command line and waits for its echo.</summary>
    public void Type(string line)
    {
        page.Find("[aria-label=Command]").SendKeys(line + Keys.Enter);
        page.UntilTrue(() => page.Find("[aria-label=Command]").GetDomProperty("value") == "", $"the line taken: {line}");
    }
}
