using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>Tests of time itself have the machine to themselves.</summary>
[CollectionDefinition(nameof(RealTime), DisableParallelization = true)]
public sealed class RealTime : ICollectionFixture<RealTimeFixture>;

/// <summary>What is about time itself: a lost connection, the pause, the rates. Here the clock is the real one.</summary>
[Collection(nameof(RealTime))]
public sealed class RealTimeTests(RealTimeFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    [Fact]
    public async Task A_lost_connection_comes_back_by_itself_and_a_restart_loses_nothing()
    {
        await _page.OpenRunAsync(Cockpit.Calm);
        _page.Choose("battery", "on");
        _page.UntilTrue(() => _page.Lit("generator-right"), "the battery");
        await _page.Server.KillAsync();
        _page.Find("[data-testid=link-lost]");
        await _page.Server.RestartAsync();
        _page.UntilTrue(() => Driver().FindElements(By.CssSelector("[data-testid=link-lost]")).Count == 0, "the connection", TimeSpan.FromSeconds(30));
        Assert.True(_page.Lit("generator-right"));
        var stood = _page.Text("[data-testid=clock]");
        _page.UntilTrue(() => string.CompareOrdinal(_page.Text("[data-testid=clock]"), stood) > 0, "time going on");
        _page.OpenLink("boxes");
        _page.Choose("radio", "on");
        _page.UntilTrue(() => _page.Text("[data-testid=tape-text]").Contains("Radio 1 → on", StringComparison.Ordinal), "the next act");
    }

    [Fact]
    public async Task Pausing_rating_and_going_back_ten_seconds()
    {
        var id = await _page.OpenRunAsync(Cockpit.Calm);
        _page.Press("3");
        _page.UntilTrue(() => string.CompareOrdinal(_page.Text("[data-testid=clock]"), "00:15") >= 0, "fifteen seconds");
        _page.Press("p");
        _page.UntilTrue(() => _page.Text("[data-testid=pause]").Contains("Go on", StringComparison.Ordinal), "the pause");
        _page.Press("[");
        _page.ShowsAnotherThan(id);
        _page.UntilTrue(() => _page.Text("[data-testid=pause]").Contains("Go on", StringComparison.Ordinal), "the fork, paused");
        Assert.InRange(Seconds(), 1, 12);
    }

    /// <summary>A server that other machines reach: its token leads to pages of ours only, and each login is listed and can be ended.</summary>
    [Fact]
    public async Task A_token_leads_to_a_page_of_ours_and_out_again()
    {
        await using var server = await Testing.ServerProcess.StartAsync(settings: ["--EMBER_TOKEN", "correct horse battery"]);
        foreach (var (to, leads) in new[] { ("/logbook", "/logbook"), ("/\\evil.example", "/"), ("//evil.example/logbook", "/"), ("/\t/evil.example", "/") })
        {
            Driver().Navigate().GoToUrl(new Uri(server.Address, $"/login?to={Uri.EscapeDataString(to)}"));
            _page.Find("[aria-label=Token]").SendKeys("correct horse battery" + Keys.Enter);
            _page.UntilTrue(() => new Uri(Driver().Url) is { AbsolutePath: var path, Authority: var host } && path == leads && host == server.Address.Authority,
                $"{leads} on our server for {to}");
            _page.Find("a[href='/logins']").Click();
            Assert.Contains("this browser", _page.Find("[data-testid=login]").Text, StringComparison.Ordinal);
            _page.Find("[data-testid=log-out]").Click();
            _page.Find("[aria-label=Token]");
        }

        Driver().Navigate().GoToUrl(new Uri(server.Address, "/logbook"));
        _page.Find("[aria-label=Token]");
        _page.Go("/");
    }

    private int Seconds() => int.Parse(_page.Text("[data-testid=clock]")[3..], System.Globalization.CultureInfo.InvariantCulture);

    private IWebDriver Driver() => _page.Driver;
}
