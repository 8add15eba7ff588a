using System.Globalization;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace HardyEmber.Bench;

/// <summary>
/// Time from a switch pressed in the browser to its lamp on the screen, through hub, disk and back: with one session and
/// with 300 live ones; and what a live run costs the server in memory.
/// </summary>
internal static class LatencyBench
{
    private const int Presses = 300;

    /// <summary>Presses before any is counted: the server compiles its paths on first use.</summary>
    private const int WarmUp = 40;
    private const int Pilots = 300;
    private const double OneSessionMs = 60, ManySessionsMs = 120, RunKb = 200, IdleMb = 120;

    // Presses the battery switch and takes the time when the lamp's mark changes in the page.
    private const string Press = """
        const done = arguments[arguments.length - 1];
        const lamp = document.querySelector('[data-lamp=generator-right]');
        const want = lamp.dataset.lit === 'true' ? 'off' : 'on';
        const button = [...document.querySelectorAll('[data-control=battery] [role=radio]')].find(b => b.textContent === want);
        const t0 = performance.now();
        const seen = new MutationObserver(() => { seen.disconnect(); done(performance.now() - t0); });
        seen.observe(lamp, { attributes: true, attributeFilter: ['data-lit'] });
        button.click();
        """;

    public static async Task RunAsync()
    {
        await using var server = await ServerProcess.StartAsync().ConfigureAwait(false);
        server.Process.Refresh();
        var idle = server.Process.WorkingSet64;
        Console.WriteLine($"server idle: {idle / 1048576.0:0} MB, {IdleMb / (idle / 1048576.0):0.00} of the room allowed ({IdleMb} MB)");
        using var browser = Chrome.Start();
        await OpenAsync(server, browser).ConfigureAwait(false);
        Print("switch to lamp, 1 session", Measure(browser), OneSessionMs);

        server.Process.Refresh();
        var before = server.Process.WorkingSet64;
        var pilots = new List<HubPage>();
        for (var i = 0; i < Pilots; i++)
        {
            pilots.Add(await FlyAsync(server, i).ConfigureAwait(false));
        }

        await Task.Delay(3000).ConfigureAwait(false);
        Print($"switch to lamp, {Pilots} live sessions", Measure(browser), ManySessionsMs);
        server.Process.Refresh();
        var each = (server.Process.WorkingSet64 - before) / 1024.0 / Pilots;
        Console.WriteLine($"server memory per live run and its connection: {each:0} kB, {RunKb / each:0.00} of the room allowed ({RunKb} kB)");
        foreach (var pilot in pilots)
        {
            await pilot.DisposeAsync().ConfigureAwait(false);
        }
    }

    private static async Task OpenAsync(ServerProcess server, ChromeDriver browser)
    {
        var id = await server.CreateAsync(Headers.Cold()).ConfigureAwait(false);
        browser.Navigate().GoToUrl(new Uri(server.Address, $"/run/{id}"));
        for (var i = 0; i < 200 && browser.FindElements(By.CssSelector("[data-control=battery]")).Count == 0; i++)
        {
            if (browser.FindElements(By.CssSelector("[data-link=battery]")) is [var link, ..])
            {
                link.Click();
            }

            await Task.Delay(50).ConfigureAwait(false);
        }
    }

    private static async Task<HubPage> FlyAsync(ServerProcess server, int seed)
    {
        var page = await HubPage.OpenAsync(server, await server.CreateAsync(Headers.Cold() with { Seed = seed }).ConfigureAwait(false)).ConfigureAwait(false);
        await page.SendAsync("Set", "battery", "on").ConfigureAwait(false);
        await page.SendAsync("Set", "aux-unit", "on").ConfigureAwait(false);
        return page;
    }

    private static List<double> Measure(ChromeDriver browser)
    {
        browser.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(10);
        var times = new List<double>();
        browser.FindElement(By.CssSelector("[data-link=battery]")).Click();
        for (var i = -WarmUp; i < Presses; i++)
        {
            var ms = Convert.ToDouble(browser.ExecuteAsyncScript(Press), CultureInfo.InvariantCulture);
            if (i >= 0)
            {
                times.Add(ms);
            }
        }

        times.Sort();
        return times;
    }

    private static void Print(string what, List<double> times, double budget)
    {
        var p99 = times[(int)(times.Count * 0.99) - 1];
        Console.WriteLine($"{what}: median {times[times.Count / 2]:0} ms, p99 {p99:0} ms, worst {times[^1]:0} ms, {budget / p99:0.00} of the speed asked for ({budget} ms)");
    }
}
