using System.Globalization;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace HardyEmber.Bench;

/// <summary>What a page costs: bytes of script until the first screen stands, time to the first paint, Tab stops to Begin, and what 20 frames a second with two traces take
/// of a core.</summary>
internal static class PageBench
{
    private const int WatchedS = 20;
    private const int MostStops = 200;

    public static async Task RunAsync()
    {
        await using var server = await ServerProcess.StartAsync(demo: true).ConfigureAwait(false);
        using var browser = Chrome.Start();
        browser.Navigate().GoToUrl(new Uri(server.Address, "/"));
        Until(browser, "[data-testid=begin]");
        var scripts = Number(browser, "return performance.getEntriesByType('resource').filter(e => e.name.endsWith('.js')).reduce((sum, e) => sum + e.encodedBodySize, 0)");
        Console.WriteLine($"scripts of the first screen, as sent: {scripts / 1024:0.0} kB");
        for (var i = 0; i < 5; i++)
        {
            browser.Navigate().Refresh();
            Until(browser, "[data-testid=begin]");
            Console.WriteLine($"first contentful paint: {Number(browser, "return performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? -1"):0} ms, "
                + $"Begin there after {Number(browser, "return performance.now()"):0} ms");
        }

        Console.WriteLine($"Tab stops to Begin: {Stops(browser)}");
        await FramesAsync(server, browser).ConfigureAwait(false);
    }

    private static int Stops(ChromeDriver browser)
    {
        browser.Navigate().Refresh();
        Until(browser, "[data-testid=begin]");
        for (var stops = 1; stops < MostStops; stops++)
        {
            new OpenQA.Selenium.Interactions.Actions(browser).SendKeys(Keys.Tab).Perform();
            if (browser.SwitchTo().ActiveElement().GetDomAttribute("data-testid") == "to-begin")
            {
                Console.WriteLine($"Tab stops to the way past the fields: {stops}");
            }

            if (browser.SwitchTo().ActiveElement().GetDomAttribute("data-testid") == "begin")
            {
                return stops;
            }
        }

        return -1;
    }

    // An engine that spools, so that everything on the page moves.
    private static async Task FramesAsync(ServerProcess server, ChromeDriver browser)
    {
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, Headers.Cold())).Fly();
        var at = log.Commands.First(c => c.Target == "starter-air" && c.Position == "right").Time;
        var id = await server.ForkAsync(await server.ImportAsync(log).ConfigureAwait(false), at + 2).ConfigureAwait(false);
        browser.Navigate().GoToUrl(new Uri(server.Address, $"/run/{id}"));
        Until(browser, "[data-testid=watch]");
        browser.ExecuteCdpCommand("Performance.enable", []);
        new OpenQA.Selenium.Interactions.Actions(browser).SendKeys("p").Perform();
        await Task.Delay(1000).ConfigureAwait(false);
        var (before, frames) = (Busy(browser), Frame(browser));
        await Task.Delay(TimeSpan.FromSeconds(WatchedS)).ConfigureAwait(false);
        Console.WriteLine($"{(Frame(browser) - frames) / WatchedS:0.0} frames a second, of a core: {100 * (Busy(browser) - before) / WatchedS:0} % of the page's main thread");
    }

    private static double Frame(ChromeDriver browser) => Number(browser, "return Number(document.querySelector('[data-testid=frame]').dataset.frame)");

    private static double Busy(ChromeDriver browser)
    {
        var answer = (IReadOnlyDictionary<string, object>)browser.ExecuteCdpCommand("Performance.getMetrics", [])!;
        return ((IEnumerable<object>)answer["metrics"]).Cast<IReadOnlyDictionary<string, object>>().Where(m => (string)m["name"] == "TaskDuration")
            .Select(m => Convert.ToDouble(m["value"], CultureInfo.InvariantCulture)).Single();
    }

    private static double Number(ChromeDriver browser, string script) => Convert.ToDouble(browser.ExecuteScript(script), CultureInfo.InvariantCulture);

    private static void Until(ChromeDriver browser, string selector)
    {
        for (var i = 0; i < 400 && browser.FindElements(By.CssSelector(selector)).Count == 0; i++)
        {
            Thread.Sleep(25);
        }
    }
}
