using System.Diagnostics;
using System.Text.RegularExpressions;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace HardyEmber.Testing;

/// <summary>Debian's Chromium, headless, with a page of exactly the size asked for.</summary>
public static partial class Chrome
{
    private const string Whole = "/usr/bin/chromium", Shell = "/usr/bin/chromium-headless-shell", DriverFolder = "/usr/bin", Driver = DriverFolder + "/chromedriver";

    /// <summary>The same engine without the windows of a desktop, for a fifth less work; only where it is as new as the driver, which refuses another one.</summary>
    private static readonly Lazy<bool> HasShell = new(() => File.Exists(Shell) && VersionOf(Shell) == VersionOf(Driver));

    /// <summary>What the driver has to be told to know the shell for one.</summary>
    private sealed class ShellOptions : ChromeOptions
    {
        public ShellOptions() => (BrowserName, BinaryLocation) = ("chrome-headless-shell", Shell);
    }

    /// <summary>Pixels a CSS pixel where nobody looks at the picture: a quarter of the drawing. The layout is the same.</summary>
    public const double Coarse = 0.5;

    public static ChromeDriver Start(int width = 1280, int height = 800, double scale = 1)
    {
        if (!File.Exists(Driver) || !HasShell.Value && !File.Exists(Whole))
        {
            throw new InvalidOperationException("Chromium and ChromeDriver are needed: apt-get install chromium chromium-driver");
        }

        var options = HasShell.Value ? new ShellOptions() : new ChromeOptions { BinaryLocation = Whole };
        options.AddArguments("--headless=new", "--force-prefers-reduced-motion", "--no-sandbox", "--disable-gpu", "--disable-gpu-rasterization", "--disable-gpu-compositing",
            "--disable-quic", "--no-first-run", "--disable-background-networking",
            "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage", $"--user-data-dir={Repository.TemporaryFolder()}",
                $"--window-size={Math.Max(500, (int)(width * scale))},{(int)(height * scale) + 140}");
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        var service = ChromeDriverService.CreateDefaultService(DriverFolder);
        service.SuppressInitialDiagnosticInformation = true;
        var driver = new ChromeDriver(service, options, TimeSpan.FromSeconds(90));
        driver.Resize(width, height, scale);
        return driver;
    }

    // The first of its numbers: the driver asks for no more.
    private static string VersionOf(string program)
    {
        using var asked = Process.Start(new ProcessStartInfo(program, "--version") { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var said = asked.StandardOutput.ReadToEnd();
        asked.WaitForExit();
        return FirstNumber().Match(said).Value;
    }

    [GeneratedRegex(@"\d+")]
    private static partial Regex FirstNumber();

    /// <summary>Sets the page's own size: the window's would leave room for a frame that nobody sees.</summary>
    public static void Resize(this ChromeDriver driver, int width, int height, double scale = 1) =>
        driver.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?> { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = scale, ["mobile"] = false });

    public static void Picture(this ChromeDriver driver, string path) => driver.GetScreenshot().SaveAsFile(path);
}
