using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;

// Most of the time a test waits for a machine that starts as slowly as a real one: two browsers share the cores well.
[assembly: CollectionBehavior(MaxParallelThreads = 2)]

namespace HardyEmber.Browser.Tests;

/// <summary>One real server and one Chromium for all tests of a class; two classes are at work at a time.</summary>
public sealed class BrowserFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;
    public ChromeDriver Driver { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Server = await ServerProcess.StartAsync();
        Driver = Chrome.Start();
    }

    public async ValueTask DisposeAsync()
    {
        Driver.Quit();
        await Server.DisposeAsync();
    }
}

/// <summary>What a pilot does on the page.</summary>
internal sealed class Cockpit(BrowserFixture fixture)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    public ChromeDriver Driver => fixture.Driver;

    public ServerProcess Server => fixture.Server;

    public static RunHeader Calm { get; } = Situations.Calm with { Pilot = "Kindle" };

    public async Task<string> OpenRunAsync(RunHeader header)
    {
        using var response = await Server.Client.PostAsJsonAsync(new Uri("/api/runs", UriKind.Relative), header, FleetJson.Line);
        return await OpenAsync(response);
    }

    /// <summary>Opens a run that has been flown so far already; it stands paused.</summary>
    public async Task<string> OpenLogAsync(RunLog log)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        RunFile.Write(text, log);
        using var content = new StringContent(text.ToString(), System.Text.Encoding.UTF8, "application/x-ndjson");
        using var response = await Server.Client.PostAsync(new Uri("/api/runs/import", UriKind.Relative), content);
        return await OpenAsync(response);
    }

    private async Task<string> OpenAsync(HttpResponseMessage response)
    {
        response.EnsureSuccessStatusCode();
        var id = (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
        Go($"/run/{id}");
        Find("[data-testid=clock]");
        return id;
    }

    /// <summary>Drops what the browser remembers of earlier visits: the type and the pilot flown last, theme and sound.</summary>
    public void Forget() => ((IJavaScriptExecutor)Driver).ExecuteScript("localStorage.clear()");

    public void Go(string path)
    {
        Driver.Manage().Logs.GetLog(LogType.Browser); // what was said before belongs to another page
        Driver.Navigate().GoToUrl(new Uri(Server.Address, path));
    }

    public IWebElement Find(string selector) => Until(() => Driver.FindElements(By.CssSelector(selector)).FirstOrDefault(), selector);

    public T Until<T>(Func<T?> condition, string what, TimeSpan? within = null)
        where T : class
    {
        var end = DateTime.UtcNow + (within ?? Patience);
        while (DateTime.UtcNow < end)
        {
            try
            {
                if (condition() is { } value)
                {
                    return value;
                }
            }
            catch (StaleElementReferenceException)
            {
                // The page rendered again while we looked.
            }

            Thread.Sleep(25);
        }

        throw new TimeoutException($"{what} did not come; cue {CueId}, at {Text("[data-testid=clock]")}, console: {string.Join(" | ", Console())}");
    }

    public void UntilTrue(Func<bool> condition, string what, TimeSpan? within = null) => Until(() => condition() ? "" : null, what, within);

    /// <summary>The text as it is seen; nothing where there is no such element.</summary>
    public string Text(string selector) => Ask("return document.querySelector(arguments[0])?.innerText ?? ''", selector);

    public string CueId => Cue.Id;

    public string CueKind => Cue.Kind;

    /// <summary>What the cue is and what it asks for, read in one go: it may change between two questions.</summary>
    public (string Id, string Kind) Cue =>
        Ask("const c = document.querySelector('[data-testid=cue]'); return c ? c.dataset.cue + ' ' + c.dataset.kind : ' '").Split(' ') is [var id, var kind] ? (id, kind) : ("", "");

    public string Attribute(string selector, string name) => Ask("return document.querySelector(arguments[0])?.getAttribute(arguments[1]) ?? ''", selector, name);

    private string Ask(string script, params object[] arguments) => (string?)Driver.ExecuteScript(script, arguments) ?? "";

    /// <summary>A meter's value by its label, as a screen reader would hear it.</summary>
    public double Reading(string label) =>
        double.Parse(Attribute($"[role=meter][aria-label='{label}']", "aria-valuenow") is { Length: > 0 } text ? text : "NaN", CultureInfo.InvariantCulture);

    public bool Lit(string lamp) => Attribute($"[data-lamp='{lamp}']", "data-lit") == "true";

    public void Press(string key) => new Actions(Driver).SendKeys(key).Perform();

    public void KeyDown(string key) => Key("keyDown", key);

    public void KeyUp(string key) => Key("keyUp", key);

    private void Key(string type, string key) =>
        Driver.ExecuteCdpCommand("Input.dispatchKeyEvent", new Dictionary<string, object?>
        {
            ["type"] = type,
            ["key"] = key,
            ["code"] = key == " " ? "Space" : "Key" + key.ToUpperInvariant(),
            ["windowsVirtualKeyCode"] = (int)char.ToUpperInvariant(key[0]),
            ["text"] = type == "keyDown" ? key : "",
        });

    /// <summary>Errors and warnings of the page, but for the refused connection of a server that a test has killed.</summary>
    public IReadOnlyList<string> Console() =>
        [.. Driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level >= LogLevel.Warning).Select(l => l.Message)];
}
