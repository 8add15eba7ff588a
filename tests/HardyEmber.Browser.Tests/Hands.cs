using System.Globalization;
using HardyEmber.Core.Simulation;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>One act that the cue asks for, as the page says it.</summary>
/// <param name="With">What the other hand holds meanwhile; empty where one is enough.</param>
internal sealed record CueAct(string Cue, string Kind, string Target, string To, string With);

/// <summary>Four ways to do what a cue asks: by pointer or by finger on the controls themselves, by keys, by the command line.</summary>
internal sealed class Hands(Cockpit page)
{
    private readonly Finger _finger = new(page);

    /// <summary>The longest held act of the fleet takes half of it.</summary>
    private const double LongestHoldS = 60;

    /// <summary>How long the machine may take to show that an act was done.</summary>
    private const double TakenWithinS = 2;

    /// <summary>Follows the cues in one of the ways until a cue comes that ends it; fails after so many seconds of the run.</summary>
    public void Follow(string way, Func<bool> enough, double withinS)
    {
        if (way == "command line")
        {
            page.Press("/");
            page.Find("[aria-label=Command]");
        }

        for (var left = withinS; !enough();)
        {
            if (left < 0)
            {
                throw new TimeoutException($"the end of it by {way} did not come within {withinS} s; cue {page.Cue}, at {page.Text("[data-testid=clock]")}");
            }

            var (kind, act) = Asked();
            if (act is not null)
            {
                Do(way, act);
                left -= TakenWithinS;
            }
            else
            {
                var rest = kind switch { "wait" => 4, "watch" => 0.6, "ready" => 1, _ => 0.2 };
                page.Step(rest);
                left -= rest;
            }
        }

        if (way == "command line")
        {
            page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
        }
    }

    /// <summary>The cue's kind, and what is asked for, once it may be done: a cue that has only just come takes no press, one before its time waits for the clock.</summary>
    private (string Kind, CueAct? Act) Asked()
    {
        var parts = page.Until(
            () => page.Script<string[]>("""
                const read = (done) => {
                  const cue = document.querySelector('[data-testid=cue]'), act = document.querySelector('[data-testid=cue-act]');
                  if (act?.ariaDisabled === 'true' && cue?.dataset.kind !== 'ready') setTimeout(read, 10, done);
                  else done(cue?.dataset.kind === 'act' && act?.dataset.target
                    ? ['act', cue.dataset.cue, act.dataset.act, act.dataset.target, act.dataset.to ?? '', act.dataset.with ?? '']
                    : [cue?.dataset.kind ?? '']);
                };
                return new Promise(read);
                """),
            "the cue read");
        return parts is [var kind, var cue, var does, var target, var to, var with] ? (kind, new CueAct(cue, does, target, to, with)) : (parts[0], null);
    }

    private void Do(string way, CueAct act)
    {
        switch (way)
        {
            case "mouse" or "touch":
                ByPointer(act, way == "touch");
                break;
            case "keyboard":
                ByKey(act);
                break;
            default:
                ByLine(act);
                break;
        }

        // The machine decides five times a second whether it was done. What was refused, or is still due, is asked again.
        for (var left = TakenWithinS; left > 0 && page.Cue == (act.Cue, "act"); left -= 0.2)
        {
            page.Step(0.2);
        }
    }

    /// <summary>
    /// Keeps the hand there until the cue lets it go. A hold that was cut short by the machine is over as well: what is due then
    /// is asked anew.
    /// </summary>
    private void Hold(CueAct act)
    {
        page.StepUntil(() => page.Cue != (act.Cue, "act"), $"the hold of {act.Cue} taken", TakenWithinS);
        page.StepUntil(() => page.Cue is not (var id, "watch") || id != act.Cue, $"the end of {act.Cue}", LongestHoldS, stepS: 1);
    }

    /// <summary>Gives one command of a run that was flown before, for those who fly without cues: by mouse on the controls themselves, or by the command line.</summary>
    public void Give(string way, RunCommand command)
    {
        var act = new CueAct("", "set", command.Target, command.Position ?? command.Number?.ToString(CultureInfo.InvariantCulture) ?? "", "");
        switch (command.Kind, way)
        {
            case (CommandKind.Set, "mouse"):
                ByPointer(act, touch: false);
                break;
            case (CommandKind.Hold, "mouse"):
                new Actions(page.Driver).ClickAndHold(page.Find($"[data-control='{act.Target}'] button[data-holds]")).Perform();
                page.Settle();
                break;
            case (CommandKind.Release, "mouse"):
                new Actions(page.Driver).Release().Perform();
                page.Settle();
                break;
            case (CommandKind.Set or CommandKind.Hold, _):
                Type($"{Spoken(act.Target)} {act.To}");
                break;
            case (CommandKind.Release, _):
                Type($"release {Spoken(act.Target)}");
                break;
            default:
                throw new InvalidOperationException($"{command.Kind} is given by no hand here");
        }
    }

    private static string Spoken(string target) => target.Replace('-', ' ').Replace('.', ' ');

    private void ByKey(CueAct act)
    {
        page.KeyDown(" ");
        if (act.Kind == "hold")
        {
            Hold(act);
        }

        page.KeyUp(" ");
    }

    private void Press(IWebElement on, bool touch)
    {
        if (touch)
        {
            _finger.Tap(on);
        }
        else
        {
            page.Click(on);
        }
    }

    private void ByPointer(CueAct act, bool touch)
    {
        if (act.Kind == "look")
        {
            // A reading has no card to look at: the guide's own button confirms it.
            Press(page.Driver.FindElements(By.CssSelector($"[data-control='{act.Target}'] button[aria-label^='Look at']"))
                .FirstOrDefault() ?? page.Find("[data-testid=cue-act]"), touch);
            return;
        }

        // The card of a start stays in front for a while, or until its pilot goes on.
        if (!page.Has($"[data-control='{act.Target}']") && page.Driver.FindElements(By.CssSelector("[data-testid=leave-watch]")) is [var goOn])
        {
            Press(goOn, touch);
        }

        _ = page.Find($"[data-control='{act.Target}']");
        IReadOnlyList<IWebElement> Positions() => page.Driver.FindElements(By.CssSelector($"[data-control='{act.Target}'] :is([role=radio], button)"));
        static bool Named(IWebElement b, string end) => b.GetDomAttribute("aria-label")?.EndsWith(end, StringComparison.Ordinal) == true;
        if (act.Kind == "hold")
        {
            var held = Positions().First(b => Named(b, $": hold {act.To}"));
            var other = act.With.Length > 0 ? page.Find($"[data-control='{act.With}'] button[data-holds]") : null;
            if (touch)
            {
                _finger.Down(other is null ? [held] : [other, held]);
                Hold(act);
                _finger.Up();
                return;
            }

            // One mouse does for two hands: with Shift the other one stays where it was put.
            Shifted(other);
            new Actions(page.Driver).ClickAndHold(held).Perform();
            Hold(act);
            new Actions(page.Driver).Release().Perform();
            Shifted(other);
            page.Settle();
            return;
        }

        if (Positions().FirstOrDefault(b => Named(b, "lift the guard")) is { } guard)
        {
            Press(guard, touch);
        }

        if (page.Has($"[data-control='{act.Target}'] [role=spinbutton]"))
        {
            ByWheels(act, touch);
            return;
        }

        if (page.Driver.FindElements(By.CssSelector($"[data-control='{act.Target}'] input")).FirstOrDefault() is { } dial)
        {
            Press(dial, touch);
            dial.SendKeys(Keys.Control + "a");
            dial.SendKeys(act.To + Keys.Enter);
            page.Settle();
            return;
        }

        Press(Positions().FirstOrDefault(b => b.Text == act.To || Named(b, $": {act.To}") || b.GetDomAttribute("data-ask") is not null)
            ?? throw new InvalidOperationException($"{act.Target} offers no {act.To} to the pointer ({act.Cue})"), touch);
    }

    // Figure by figure, each wheel the shorter way round. With the last turn the page may go on to what is due next.
    private void ByWheels(CueAct act, bool touch)
    {
        for (var i = 0; i < act.To.Length; i++)
        {
            var wheel = $"[data-control='{act.Target}'] [role=spinbutton]:nth-of-type({i + 1})";
            var due = act.To[i] - '0';
            for (var turns = 0; page.Has(wheel) && int.Parse(page.Attribute(wheel, "aria-valuenow"), CultureInfo.InvariantCulture) is var now && now != due; turns++)
            {
                Assert.True(turns < 10, $"{act.Target} does not come to {act.To}: wheel {i + 1} shows {now}");
                Press(page.Find($"{wheel} button[aria-label$='{((due - now + 10) % 10 <= 5 ? "up" : "down")}']"), touch);
                page.Settle();
            }
        }
    }

    private void Shifted(IWebElement? press)
    {
        if (press is not null)
        {
            new Actions(page.Driver).KeyDown(Keys.Shift).Click(press).KeyUp(Keys.Shift).Perform();
        }
    }

    private void ByLine(CueAct act)
    {
        var other = Spoken(act.With);
        if (other.Length > 0)
        {
            Type($"hold {other}");
        }

        var name = Spoken(act.Target);
        Type(act.Kind == "look" ? $"look {name}" : $"{name} {act.To}");
        if (act.Kind == "hold")
        {
            Hold(act);
            Type($"release {name}");
            if (other.Length > 0)
            {
                Type($"release {other}");
            }
        }
    }

    /// <summary>Types a line into the open command line and waits for what it does.</summary>
    public void Type(string line)
    {
        page.Find("[aria-label=Command]").SendKeys(line + Keys.Enter);
        page.UntilTrue(() => page.Find("[aria-label=Command]").GetDomProperty("value") == "", $"the line taken: {line}");
        page.Settle();
    }
}
