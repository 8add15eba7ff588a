using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace HardyEmber.Testing;

/// <summary>Debian's Chromium, headless, with a page of exactly the size asked for.</summary>
public static class Chrome
{
    private const string Browser = "/usr/bin/chromium";
    private const string DriverFolder = "/usr/bin";

    /// <summary>Pixels a CSS pixel where nobody looks at the picture: a quarter of the drawing. The layout is the same.</summary>
    public const double Coarse = 0.5;

    public static ChromeDriver Start(int width = 1280, int height = 800, double scale = 1)
    {
        if (!File.Exists(Browser) || !File.Exists(Path.Combine(DriverFolder, "chromedriver")))
        {
            throw new InvalidOperationException("Chromium and ChromeDriver are needed: apt-get install chromium chromium-driver");
        }

        var options = new ChromeOptions { BinaryLocation = Browser };
        options.AddArguments("--headless=new", "--force-prefers-reduced-motion", "--no-sandbox", "--disable-gpu", "--disable-gpu-rasterization", "--disable-gpu-compositing", "--disable-quic", "--no-first-run", "--disable-background-networking",
            "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage", $"--user-data-dir={Repository.TemporaryFolder()}", $"--window-size={Math.Max(500, (int)(width * scale))},{(int)(height * scale) + 140}");
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        var service = ChromeDriverService.CreateDefaultService(DriverFolder);
        service.SuppressInitialDiagnosticInformation = true;
        var driver = new ChromeDriver(service, options, TimeSpan.FromSeconds(90));
        driver.Resize(width, height, scale);
        return driver;
    }

    /// <summary>Sets the page's own size: the window's would leave room for a frame that nobody sees.</summary>
    public static void Resize(this ChromeDriver driver, int width, int height, double scale = 1) =>
        driver.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride", new Dictionary<string, object?> { ["width"] = width, ["height"] = height, ["deviceScaleFactor"] = scale, ["mobile"] = false });

    public static void Picture(this ChromeDriver driver, string path) => driver.GetScreenshot().SaveAsFile(path);
}
