using System.Globalization;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Browser.Tests;

/// <summary>The helmet sight worked by mouse, by touch and by keys, and saved.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class HelmetSightTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    private double Dial(string control) => double.Parse((string?)_page.Driver.ExecuteScript($"return document.querySelector('[data-control={control}] input').value") ?? "",
        CultureInfo.InvariantCulture);

    /// <summary>Drags the field by so many milliradians.</summary>
    private void Drag(PointerKind kind, double sidewaysMrad, double upMrad)
    {
        var field = _page.Find("[data-testid=sight-field]");
        var perMrad = field.Size.Width / 48.0;
        var device = new PointerInputDevice(kind);
        var hand = new ActionSequence(device);
        hand.AddAction(device.CreatePointerMove(field, 0, 0, TimeSpan.Zero));
        hand.AddAction(device.CreatePointerDown(MouseButton.Left));
        hand.AddAction(device.CreatePointerMove(field, (int)Math.Round(sidewaysMrad * perMrad / 2), (int)Math.Round(-upMrad * perMrad / 2), TimeSpan.Zero));
        hand.AddAction(device.CreatePointerMove(field, (int)Math.Round(sidewaysMrad * perMrad), (int)Math.Round(-upMrad * perMrad), TimeSpan.Zero));
        hand.AddAction(device.CreatePointerUp(MouseButton.Left));
        _page.Driver.PerformActions([hand]);
        _page.Settle();
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    public async Task It_is_put_on_its_mark_turned_and_saved(string type)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Cockpit.Calm with { Aircraft = type });
        var pilot = new ScriptedPilot(rehearsal);
        var m = rehearsal.Machine;
        Assert.False(pilot.FlyUntil(() => m["helmet-sight"] > 1.5));
        await _page.OpenLogAsync(new RunLog(m.Header, [.. pilot.Log]));
        _page.Press("p");
        _page.OpenLink("ready");
        Assert.Contains("warms up", _page.Text("[data-testid=sight]"), StringComparison.Ordinal);
        _page.Step(10); // whatever the cue asks for meanwhile, what is adjusted by eye stays in front
        _page.UntilTrue(() => _page.Text("[data-testid=sight-field] + p").Contains("mrad", StringComparison.Ordinal), "the mark");

        var (azimuth, elevation) = (Dial("sight-azimuth"), Dial("sight-elevation"));
        Drag(PointerKind.Mouse, 4, -3);
        Assert.Equal((azimuth + 4, elevation - 3), (Dial("sight-azimuth"), Dial("sight-elevation")));
        Drag(PointerKind.Touch, -6, 2);
        Assert.Equal((azimuth - 2, elevation - 1), (Dial("sight-azimuth"), Dial("sight-elevation")));

        // By keys alone: as far as it must go, three milliradians at a time, then half of one.
        _page.Driver.ExecuteScript("document.querySelector('[data-testid=sight-field]').focus()");
        ByKeys("sight-azimuth", m["sight.azimuth-due"], Keys.ArrowRight, Keys.ArrowLeft);
        ByKeys("sight-elevation", m["sight.elevation-due"], Keys.ArrowUp, Keys.ArrowDown);
        _page.Choose("helmet-sight", "turn");
        _page.Driver.ExecuteScript("document.querySelector('[data-testid=sight-field]').focus()");
        ByKeys("sight-roll", m["sight.roll-due"], Keys.ArrowRight, Keys.ArrowLeft);
        Assert.Contains("turned", _page.Text("[data-testid=sight-field] + p"), StringComparison.Ordinal);

        // Held too short, nothing; long enough, what is left over.
        Hold(1.8);
        Assert.Contains("Nothing saved", _page.Text("[data-testid=sight-left]"), StringComparison.Ordinal);
        Hold(2.6);
        Assert.Matches(@"[✓▲] Saved: \d\.\d mrad left over\.", _page.Text("[data-testid=sight-left]"));
        Assert.Equal("true", _page.Driver.ExecuteScript("const p = document.querySelector('[data-panel]'); return String(p.scrollWidth <= p.clientWidth)"));
        _page.Choose("helmet-sight", "on");
        Assert.Empty(_page.Driver.FindElements(By.CssSelector("[data-testid=sight]")));
        Assert.Empty(_page.Console());
    }

    private void ByKeys(string dial, double due, string more, string less)
    {
        for (var left = due - Dial(dial); Math.Abs(left) > 0.25; left = due - Dial(dial))
        {
            var key = left > 0 ? more : less;
            var keys = new Actions(_page.Driver);
            (Math.Abs(left) >= 3 ? keys.KeyDown(Keys.Shift).SendKeys(key).KeyUp(Keys.Shift) : keys.SendKeys(key)).Perform();
            _page.Settle();
        }
    }

    private void Hold(double seconds)
    {
        new Actions(_page.Driver).ClickAndHold(_page.Find("[data-control=sight-save] button[data-holds]")).Perform();
        _page.Settle();
        _page.Step(seconds);
        new Actions(_page.Driver).Release().Perform();
        _page.Settle();
    }
}
