using System.Globalization;
using System.Text;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace HardyEmber.Bench;

/// <summary>
/// The watch of every type in each kind of start, in the browser, on one sheet a kind: what a pilot reads at the moment of the word.
/// </summary>
internal static class WatchSheet
{
    private const double LooksAfterS = 0.4;

    private sealed record Kind(string Name, Func<ScatteredStart, ScatteredStart> Start, Func<WatchedStart, double> Moment);

    private static readonly Kind[] All =
    [
        new("book", s => s, s => s.LightAt + 3),
        new("hot", s => With(s, "rich-control", 1.5), CutOff),
        new("covered", s => With(s, "inlet-cover", 0.4), CutOff),
        new("hung", s => With(s, "lean-control", 0.5), CutOff),
        new("wet", s => With(s, "igniter-dead", null), CutOff),
        new("again", s => s with { CutAfterS = 6, MotoredS = 12 }, s => s.LightAt + 1.5),
        new("deep-cold", s => s with { Header = s.Header with { Conditions = s.Header.Conditions with { OatC = -31 } } }, s => s.LightAt + 6),
    ];

    public static async Task TakeAsync(string folder, int width, int height, string[] kinds)
    {
        Directory.CreateDirectory(folder);
        await using var server = await ServerProcess.StartAsync(demo: false).ConfigureAwait(false);
        using var browser = Chrome.Start(width, height);
        foreach (var kind in All.Where(k => kinds.Length == 0 || kinds.Contains(k.Name)))
        {
            var page = new StringBuilder("<body style='margin:0;display:flex;flex-wrap:wrap;background:#000;color:#fff;font:12px sans-serif'>");
            foreach (var aircraft in Repository.Fleet.Aircraft)
            {
                var said = WatchedStart.Fly(kind.Start(Plain(aircraft)));
                var at = said is null ? -1 : kind.Moment(said);
                var told = said is null ? "never came to fuel" : string.Join(" ",
                    said.Words.Select(w => string.Create(CultureInfo.InvariantCulture, $"{w.At - said.FuelAt:0.0} {StartAdvisor.All[w.Word].Word};")));
                _ = page.Append(CultureInfo.InvariantCulture, $"<div style='width:350px'>{aircraft.Id} {kind.Name}: {told}<br>");
                if (at > 0)
                {
                    var run = await server.ForkAsync(await server.ImportAsync(said!.Log!).ConfigureAwait(false), at + LooksAfterS).ConfigureAwait(false);
                    browser.Navigate().GoToUrl(new Uri(server.Address, $"/run/{run}"));
                    for (var i = 0; i < 200 && browser.FindElements(By.CssSelector("[data-testid=watch]")).Count == 0; i++)
                    {
                        await Task.Delay(50).ConfigureAwait(false);
                    }

                    new Actions(browser).SendKeys("p").Perform();
                    await Task.Delay(500).ConfigureAwait(false);
                    var picture = ((ITakesScreenshot)browser.FindElement(By.CssSelector("[data-testid=watch]"))).GetScreenshot().AsBase64EncodedString;
                    _ = page.Append(CultureInfo.InvariantCulture, $"<img style='width:340px' src='data:image/png;base64,{picture}'>");
                }

                _ = page.Append("</div>");
            }

            var html = Path.Combine(folder, "sheet.html");
            await File.WriteAllTextAsync(html, page.ToString()).ConfigureAwait(false);
            browser.Resize(1420, 1000);
            browser.Navigate().GoToUrl(new Uri(Path.GetFullPath(html)));
            browser.Picture(Path.Combine(folder, $"{kind.Name}.png"));
            browser.Resize(width, height);
            File.Delete(html);
        }
    }

    private static double CutOff(WatchedStart s) => s.CutAt >= 0 ? s.CutAt : s.EndAt;

    private static ScatteredStart With(ScatteredStart s, string fault, double? level) => s with { Header = s.Header with { Faults = [new RunFault(fault, s.Side.Id, 0, level)] } };

    private static ScatteredStart Plain(AircraftDefinition aircraft) => new(0,
        Situations.Calm with { Aircraft = aircraft.Id, Place = "dry-lantern", Spot = "L1", Seed = 7, Conditions = new RunConditions(25, 0, 0) }, aircraft.Engines[0], null,
            null, 0, null);
}
