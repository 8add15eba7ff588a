using OpenQA.Selenium.Chrome;

namespace HardyEmber.Browser.Tests;

/// <summary>A script that runs before those of every page, until it is disposed: to lose a message or an answer on its way.</summary>
internal sealed class ScriptOnEveryPage : IDisposable
{
    private readonly ChromeDriver _driver;
    private readonly object _id;

    public ScriptOnEveryPage(ChromeDriver driver, string script)
    {
        _driver = driver;
        var added = (IReadOnlyDictionary<string, object>)driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?> { ["source"] = script })!;
        _id = added["identifier"];
    }

    public void Dispose() => _driver.ExecuteCdpCommand("Page.removeScriptToEvaluateOnNewDocument", new Dictionary<string, object?> { ["identifier"] = _id });
}
