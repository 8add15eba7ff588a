using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>A beacon is dialled figure by figure: by the buttons of its wheels, by touch, by arrow keys and by figures typed.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class WheelsTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private string Shown(string beacon) => string.Concat(Enumerable.Range(1, 3).Select(i => _page.Attribute(Wheel(beacon, i), "aria-valuenow")));

    private static string Wheel(string beacon, int figure) => $"[data-control=beacon-{beacon}] [role=spinbutton]:nth-of-type({figure})";

    [Fact]
    public async Task A_beacon_is_dialled_in_hundreds_tens_and_units()
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = "tansy" });
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Tracker.Next() is { Step.Id: "beacon-outer" }));
        await _page.OpenLogAsync(new RunLog(rehearsal.Machine.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.OpenLink("boxes");
        _page.UntilTrue(() => Shown("outer") == "190", "as a cold jet has it");
        var due = $"{rehearsal.Machine["numbers.beacon-outer"]:0}";
        Assert.Equal("388", due);

        var hands = new Hands(_page);
        hands.Give("mouse", new RunCommand(0, CommandKind.Set, "beacon-outer", Number: 388));
        Assert.Equal(due, Shown("outer"));

        // One wheel turns round without the next, and passes over figures that lead out of the band.
        _page.Driver.ExecuteScript("arguments[0].focus()", _page.Find(Wheel("inner", 1)));
        _page.Press(Keys.ArrowDown);
        _page.UntilTrue(() => Shown("inner") == "990", "nine hundred after one hundred");
        _page.Press(Keys.ArrowRight);
        _page.Press(Keys.ArrowUp);
        _page.UntilTrue(() => Shown("inner") == "900", "nought after nine, and nine hundred still");
        _page.Press(Keys.ArrowLeft);
        foreach (var figure in "0742") // a nought in front is no beacon’s, and the wheel stays in hand
        {
            _page.Press(figure.ToString());
            _page.Settle();
        }

        Assert.Equal("742", Shown("inner"));
        var finger = new Finger(_page);
        finger.Tap(_page.Find($"{Wheel("inner", 3)} button[aria-label$=up]"));
        _page.UntilTrue(() => Shown("inner") == "743", "one more by a finger");
        finger.Tap(_page.Find($"{Wheel("inner", 3)} button[aria-label$=down]"));
        _page.UntilTrue(() => Shown("inner") == "742", "and back");
        _page.Step(1);
        _page.UntilTrue(() => _page.Cue.Id == "beacon-outer-heard", "what is dialled is to be heard");
        Assert.Equal("", _page.Misfits(1280));
        Assert.Empty(_page.Console());
    }
}
