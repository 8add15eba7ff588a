using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>Fingers on the glass, by the DevTools protocol: WebDriver's own touches are not heard of after a long hold.</summary>
internal sealed class Finger(Cockpit page)
{
    private const int Moves = 12;

    /// <summary>A finger comes down in the middle of each.</summary>
    public void Down(params IWebElement[] on) => Send("touchStart", [.. on.Select(Middle)]);

    /// <summary>All are lifted.</summary>
    public void Up() => Send("touchEnd");

    public void Tap(IWebElement on)
    {
        Down(on);
        Up();
    }

    /// <summary>Comes down in the middle of something, is drawn up or down the glass, and lifted.</summary>
    /// <param name="px">So far down the glass; upwards below zero.</param>
    public void Swipe(IWebElement on, double px)
    {
        var from = Middle(on);
        Send("touchStart", [from]);
        for (var i = 1; i <= Moves; i++)
        {
            Send("touchMove", [(from.X, from.Y + px * i / Moves)]);
        }

        Up();
    }

    private (double X, double Y) Middle(IWebElement on)
    {
        var at = (IReadOnlyDictionary<string, object>)page.Driver.ExecuteScript("""
            arguments[0].scrollIntoView({ block: 'nearest' });
            const at = arguments[0].getBoundingClientRect();
            return { x: at.x + at.width / 2, y: at.y + at.height / 2 };
            """, on)!;
        return (Convert.ToDouble(at["x"], System.Globalization.CultureInfo.InvariantCulture), Convert.ToDouble(at["y"], System.Globalization.CultureInfo.InvariantCulture));
    }

    private void Send(string type, params (double X, double Y)[] at)
    {
        var points = at.Select((p, i) => new Dictionary<string, object> { ["x"] = p.X, ["y"] = p.Y, ["id"] = i }).ToArray();
        page.Driver.ExecuteCdpCommand("Input.dispatchTouchEvent", new Dictionary<string, object?> { ["type"] = type, ["touchPoints"] = points });
        page.Settle();
    }
}
