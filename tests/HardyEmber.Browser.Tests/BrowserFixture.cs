using System.Globalization;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using Xunit.Sdk;
using Xunit.v3;

// Two browsers draw as much as two cores can; no test hangs on how long it takes.
[assembly: CollectionBehavior(MaxParallelThreads = 2)]
[assembly: TestCollectionOrderer(typeof(HardyEmber.Browser.Tests.HalvesFirst))]

namespace HardyEmber.Browser.Tests;

/// <summary>
/// One real server and one Chromium for the tests of some classes. The server's clock stands until a test moves it, so that nothing
/// depends on how fast this machine is.
/// </summary>
public class BrowserFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;
    public ChromeDriver Driver { get; private set; } = null!;

    protected virtual bool Stepped => true;

    /// <summary>Settings of the server besides the usual ones.</summary>
    protected virtual IReadOnlyList<string> Settings => [];

    // No tour, the same seeds on every sortie, and a tenth of the short waits that let people read what has only just come: a whole start has a hundred of them.
    private const string Quick = """
        if (!location.search.includes('tour')) { localStorage.setItem('tour', 'done'); }
        let drawn = 20260114;
        Math.random = () => (drawn = drawn * 16807 % 2147483647) / 2147483647;
        const later = setTimeout;
        window.setTimeout = (what, ms, ...rest) => later(what, ms <= 200 ? ms / 10 : ms, ...rest);
        """;

    public async ValueTask InitializeAsync()
    {
        Server = await ServerProcess.StartAsync(stepped: Stepped, settings: Settings);
        Driver = Chrome.Start(scale: Chrome.Coarse);
        _ = new ScriptOnEveryPage(Driver, Quick);
    }

    public async ValueTask DisposeAsync()
    {
        Driver.Quit();
        await Server.DisposeAsync();
        GC.SuppressFinalize(this);
    }
}

/// <summary>The same with the real clock: for what is about time itself, a lost connection and the pause.</summary>
public sealed class RealTimeFixture : BrowserFixture
{
    protected override bool Stepped => false;
}

/// <summary>Half of the classes share a server and a browser: both are quicker once they are warm. Balanced by how long the classes take.</summary>
[CollectionDefinition(nameof(BrowserOne))]
public sealed class BrowserOne : ICollectionFixture<BrowserFixture>;

/// <summary>The other half.</summary>
[CollectionDefinition(nameof(BrowserTwo))]
public sealed class BrowserTwo : ICollectionFixture<BrowserFixture>;

/// <summary>The two halves first, so that neither browser stands idle at the end.</summary>
public sealed class HalvesFirst : ITestCollectionOrderer
{
    public IReadOnlyCollection<TTestCollection> OrderTestCollections<TTestCollection>(IReadOnlyCollection<TTestCollection> testCollections)
        where TTestCollection : ITestCollection =>
        [.. testCollections.OrderByDescending(c => c.TestCollectionDisplayName.StartsWith("Browser", StringComparison.Ordinal))];
}

/// <summary>What a pilot does on the page.</summary>
internal sealed class Cockpit(BrowserFixture fixture)
{
    /// <summary>
    /// For what the browser and the server do by themselves, while the clock stands. Heavy work is nice to all others: on a busy machine a second of it
    /// takes half a minute. A test that passes never waits so long.
    /// </summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(int.TryParse(Environment.GetEnvironmentVariable("EMBER_PATIENCE_S"), out var s) ? s : 120);

    // Resolves when the page shows a state of its run, and the effect of all that was sent.
    private const string Shown = """
        const [n, patience] = arguments;
        const shown = () => {
          const mark = document.querySelector('[data-testid=frame]');
          return !mark || (mark.dataset.pending === '0' && (n[mark.dataset.run] ?? 0) <= Number(mark.dataset.frame));
        };
        return shown() || new Promise((done) => {
          const seen = new MutationObserver(() => { if (shown()) { end(true); } });
          const late = setTimeout(() => end(false), patience);
          const end = (came) => { seen.disconnect(); clearTimeout(late); done(came); };
          seen.observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-frame', 'data-pending', 'data-run'] });
        });
        """;

    // Resolves when there is such an element, or after a while.
    private const string Present = """
        const [selector, patience] = arguments;
        return document.querySelector(selector) !== null || new Promise((done) => {
          const seen = new MutationObserver(() => { if (document.querySelector(selector)) { end(); } });
          const late = setTimeout(() => end(), patience);
          const end = () => { seen.disconnect(); clearTimeout(late); done(false); };
          seen.observe(document, { subtree: true, childList: true, attributes: true });
        });
        """;

    public ChromeDriver Driver => fixture.Driver;

    public ServerProcess Server => fixture.Server;

    public static RunHeader Calm { get; } = Situations.Calm with { Pilot = "Kindle" };

    public async Task<string> OpenRunAsync(RunHeader header) => Open(await Server.CreateAsync(header));

    /// <summary>Opens a run that has been flown so far already; it stands paused.</summary>
    public async Task<string> OpenLogAsync(RunLog log) => Open(await Server.ImportAsync(log));

    public string Open(string id)
    {
        // From within the application, as its own links do, where it is open: to load it anew takes more than many a test. The same run is loaded anew.
        if (!Script<bool>("""
            const here = location.origin + '/' === arguments[0] && !location.pathname.endsWith(arguments[1]) && document.querySelector('#root > *') !== null;
            if (here) { history.pushState({}, '', '/run/' + arguments[1]); dispatchEvent(new PopStateEvent('popstate', { state: {} })); }
            return here;
            """, Server.Address, id))
        {
            Go($"/run/{id}");
        }

        Shows(id);
        return id;
    }

    /// <summary>Waits until a run's own page stands there: the address changes before it does, and what was there before may be a run's page as well.</summary>
    public void Shows(string run)
    {
        Find($"[data-testid=frame][data-run='{run}']");
        Find("[data-testid=clock]");
        Settle();
    }

    /// <summary>Waits until the page of another run than this one stands there.</summary>
    public void ShowsAnotherThan(string run)
    {
        Find($"[data-testid=frame]:not([data-run='{run}'])");
        Settle();
    }

    /// <summary>Drops what the browser remembers of earlier visits: the type and the pilot flown last, theme and sound.</summary>
    public void Forget() => ((IJavaScriptExecutor)Driver).ExecuteScript("localStorage.clear()");

    public void Go(string path)
    {
        Driver.Manage().Logs.GetLog(LogType.Browser); // what was said before belongs to another page
        Driver.Navigate().GoToUrl(new Uri(Server.Address, path));
    }

    public IWebElement Find(string selector) => Until(
        () =>
        {
            // Awaited in the page: to ask it again and again is most of what a test does. Not for long: a page that is left forgets what it was asked.
            _ = Script<bool>(Present, selector, 2000);
            return Driver.FindElements(By.CssSelector(selector)).FirstOrDefault();
        },
        selector);

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
            catch (Exception e) when (e is StaleElementReferenceException || e.Message.Contains("navigated", StringComparison.Ordinal))
            {
                // The page rendered again while we looked, or another one came in its place.
            }

            Thread.Sleep(25);
        }

        throw new TimeoutException($"{what} did not come; cue {CueId}, at {Text("[data-testid=clock]")}, console: {string.Join(" | ", Console())}");
    }

    public void UntilTrue(Func<bool> condition, string what, TimeSpan? within = null) => Until(() => condition() ? "" : null, what, within);

    /// <summary>What does not fit on the page: text that is cut, sections that scroll on a wide one, controls that overlap; empty where all is well.</summary>
    public string Misfits(int width) => Ask("""
        const wide = arguments[0] >= 1024;
        const cut = [...document.querySelectorAll('.truncate')]
            .filter(e => !e.closest('[data-testid=tape-text], [data-testid=caption]') && e.dataset.testid !== 'tape-text' && e.scrollWidth > e.clientWidth + 1 && e.offsetParent);
        const scroll = wide ? [document.scrollingElement, ...document.querySelectorAll('main section')].filter(e => e.scrollHeight > e.clientHeight + 1) : [];
        const sideways = [document.scrollingElement].filter(e => e.scrollWidth > e.clientWidth + 1);
        const cards = [...document.querySelectorAll('[data-control], [role=meter]')].map(e => [e, e.getBoundingClientRect()]);
        const over = cards.filter(([e, a], i) => cards.some(([f, b], k) => k > i && !e.contains(f)
            && a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1));
        return [...cut.map(e => 'cut: ' + e.textContent), ...scroll.map(e => 'scrolls: ' + (e.getAttribute('aria-label') ?? e.tagName)),
            ...sideways.map(() => 'page scrolls sideways'), ...over.map(([e]) => 'overlaps: ' + (e.dataset.control ?? e.ariaLabel))].join('; ');
        """, width);

    /// <summary>The text as it is seen; nothing where there is no such element.</summary>
    public bool Has(string selector) => Script<bool>("return document.querySelector(arguments[0]) !== null", selector);

    public string Text(string selector) => Ask("return document.querySelector(arguments[0])?.innerText ?? ''", selector);

    public string CueId => Cue.Id;

    public string CueKind => Cue.Kind;

    /// <summary>What the cue is and what it asks for, read in one go: it may change between two questions.</summary>
    public (string Id, string Kind) Cue =>
        Ask("const c = document.querySelector('[data-testid=cue]'); return c ? c.dataset.cue + ' ' + c.dataset.kind : ' '").Split(' ') is [var id, var kind] ? (id, kind)
            : ("", "");

    public string Attribute(string selector, string name) => Ask("return document.querySelector(arguments[0])?.getAttribute(arguments[1]) ?? ''", selector, name);

    private string Ask(string script, params object[] arguments) => Script<string>(script, arguments) ?? "";

    /// <summary>
    /// What a script returns, awaited where it promises something. Straight to the page: the driver's own way puts a wrapper around each script that
    /// costs more than what is asked here some ten thousand times.
    /// </summary>
    public T? Script<T>(string body, params object[] arguments)
    {
        var answer = (Dictionary<string, object?>)Driver.ExecuteCdpCommand("Runtime.evaluate", new Dictionary<string, object?>
        {
            ["expression"] = $"(function () {{ {body} }}).apply(null, {JsonSerializer.Serialize(arguments)})",
            ["returnByValue"] = true,
            ["awaitPromise"] = true,
        })!;
        if (answer.GetValueOrDefault("exceptionDetails") is Dictionary<string, object?> wrong)
        {
            throw new JavaScriptException($"{wrong["text"]} {JsonSerializer.Serialize(wrong.GetValueOrDefault("exception"))}");
        }

        return JsonSerializer.SerializeToElement(((Dictionary<string, object?>)answer["result"]!).GetValueOrDefault("value")).Deserialize<T>();
    }

    /// <summary>A meter's value by its label, as a screen reader would hear it.</summary>
    public double Reading(string label) =>
        double.Parse(Attribute($"[role=meter][aria-label='{label}']", "aria-valuenow") is { Length: > 0 } text ? text : "NaN", CultureInfo.InvariantCulture);

    public bool Lit(string lamp) => Attribute($"[data-lamp='{lamp}']", "data-lit") == "true";

    /// <summary>Waits until what was sent has been stored and is on the screen.</summary>
    public void Settle() => UntilShown(new Dictionary<string, int>());

    private void UntilShown(IReadOnlyDictionary<string, int> frames)
    {
        if (!Script<bool>(Shown, frames, (long)Patience.TotalMilliseconds))
        {
            throw new TimeoutException($"the page does not show what was sent; cue {CueId}, at {Text("[data-testid=clock]")}, console: {string.Join(" | ", Console())}");
        }
    }

    /// <summary>Moves the clock on and waits until the page shows it.</summary>
    public void Step(double seconds)
    {
        UntilShown(Server.StepAsync(seconds).GetAwaiter().GetResult());
    }

    /// <summary>Moves the clock on until a condition holds; fails after so many seconds of it.</summary>
    public void StepUntil(Func<bool> condition, string what, double withinS = 60, double stepS = 0.2)
    {
        Settle();
        for (var left = withinS; !condition(); left -= stepS)
        {
            if (left < 0)
            {
                throw new TimeoutException($"{what} did not come within {withinS} s; cue {CueId}, at {Text("[data-testid=clock]")}, console: {string.Join(" | ", Console())}");
            }

            Step(stepS);
        }
    }

    /// <summary>Presses a key and waits until what it sent is on the screen.</summary>
    public void Press(string key)
    {
        new Actions(Driver).SendKeys(key).Perform();
        Settle();
    }

    /// <summary>Opens a link of the chain.</summary>
    public void OpenLink(string link)
    {
        Click($"[data-link={link}]");
        _ = Find($"[data-panel={link}]");
    }

    /// <summary>Presses a control's position on its card.</summary>
    public void Choose(string control, string position) =>
        Click(Until(() => Driver.FindElements(By.CssSelector($"[data-control={control}] [role=radio]")).FirstOrDefault(e => e.Text == position), $"{control} {position}"));

    public void Click(string selector) => Click(Find(selector));

    /// <summary>A list that was opened.</summary>
    public const string OpenList = "[role=listbox][data-state=open]";

    /// <summary>Opens a list and takes one of it, both by a press.</summary>
    public void Pick(string choice, string value)
    {
        Find($"[data-choice='{choice}']").Click();
        Find($"{OpenList} [data-option='{value}']").Click();
        UntilTrue(() => !Has(OpenList), $"{choice}: {value}");
    }

    /// <summary>A sortie set up anew that begins in the air.</summary>
    public void InTheAir()
    {
        Go("/");
        Forget();
        Go("/");
        Until(() => Driver.FindElements(By.CssSelector("[role=radio]")).FirstOrDefault(b => b.Text.StartsWith("In the air", StringComparison.Ordinal)), "the air").Click();
    }

    /// <summary>Finds a fault on the sortie by some words, and takes it.</summary>
    public void AddFault(string code, string words)
    {
        Find("input[aria-label='Add a fault']").SendKeys(words);
        Find($"[data-fault-offered='{code}']").Click();
        Find($"[data-fault='{code}']");
    }

    /// <summary>What a list offers.</summary>
    public string Offered(string choice)
    {
        Find($"[data-choice='{choice}']").Click();
        var offered = Find(OpenList).Text;
        new Actions(Driver).SendKeys(Keys.Escape).Perform();
        UntilTrue(() => !Has(OpenList), "the list shut");
        return offered;
    }

    /// <summary>Opens what is folded away under a title.</summary>
    public void Unfold(string title) => Until(() => Driver.FindElements(By.CssSelector("button[aria-expanded=false]"))
        .FirstOrDefault(b => b.Text.StartsWith(title, StringComparison.Ordinal)), title).Click();

    /// <summary>Puts another text into a field.</summary>
    public void Retype(string field, string text) => Find($"input[name='{field}']").SendKeys(Keys.Control + "a" + Keys.Null + text);

    /// <summary>Presses an element and waits until what it sent is on the screen.</summary>
    public void Click(IWebElement element)
    {
        element.Click();
        Settle();
    }

    private static readonly string[] Arrows = ["ArrowLeft", "ArrowUp", "ArrowRight", "ArrowDown"];

    public void KeyDown(string key) => Key("keyDown", key);

    public void KeyUp(string key) => Key("keyUp", key);

    private void Key(string type, string key)
    {
        var arrow = Array.IndexOf(Arrows, key);
        Driver.ExecuteCdpCommand("Input.dispatchKeyEvent", new Dictionary<string, object?>
        {
            ["type"] = type,
            ["key"] = key,
            ["code"] = arrow >= 0 ? key : key == " " ? "Space" : "Key" + key.ToUpperInvariant(),
            ["windowsVirtualKeyCode"] = arrow >= 0 ? 37 + arrow : (int)char.ToUpperInvariant(key[0]),
            ["text"] = type == "keyDown" && arrow < 0 ? key : "",
        });
        Settle();
    }

    /// <summary>Errors and warnings of the page, but for the refused connection of a server that a test has killed.</summary>
    public IReadOnlyList<string> Console() =>
        [.. Driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level >= LogLevel.Warning).Select(l => l.Message)];
}
