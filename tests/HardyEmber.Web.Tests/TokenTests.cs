using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Testing;
using HardyEmber.Web.Entrance;
using Microsoft.AspNetCore.SignalR.Client;

namespace HardyEmber.Web.Tests;

/// <summary>A server that other machines reach: the token, how often it may be guessed, and the logins that it gives.</summary>
public sealed class TokenTests
{
    private const string Token = "correct horse battery";

    private static Task<ServerProcess> StartAsync(string? data = null, params string[] more) =>
        ServerProcess.StartAsync(data: data, settings: ["--EMBER_TOKEN", Token, "--EMBER_HOSTS", "ember.example, other.example", .. more]);

    private static HttpClient Browser(ServerProcess server, CookieContainer? cookies = null)
    {
        var client = new HttpClient(new SocketsHttpHandler { UseCookies = true, CookieContainer = cookies ?? new CookieContainer() }) { BaseAddress = server.Address };
        client.DefaultRequestHeaders.Add("X-Hardy-Ember", "test");
        client.DefaultRequestHeaders.UserAgent.ParseAdd("a-test/1.0");
        return client;
    }

    private static Task<HttpResponseMessage> LogInAsync(HttpClient browser, string token = Token) => browser.PostAsJsonAsync(Pages.Path("/api/login"), new { token });

    private static async Task<HttpStatusCode> AsksAsync(HttpClient browser) => (await browser.GetAsync(Pages.Path("/api/runs"))).StatusCode;

    [Theory]
    [InlineData("EMBER_TOKEN", "--urls", "http://0.0.0.0:PORT")]
    [InlineData("EMBER_TOKEN", "--urls", "http://127.0.0.1:PORT;http://*:PORT")]
    [InlineData("EMBER_TOKEN", "--Kestrel:Endpoints:Other:Url", "http://0.0.0.0:PORT")]
    [InlineData("EMBER_TOKEN", "--EMBER_TOKEN", "fifteen letters")]
    [InlineData("urls", "--urls", "nonsense")]
    [InlineData("urls", "--urls", "http://127.0.0.1:notaport")]
    [InlineData("urls", "--urls", "http://")]
    public async Task It_does_not_start_open_to_others_with_a_short_token_or_at_no_address(string named, params string[] settings)
    {
        var port = ServerProcess.FreePort().ToString(System.Globalization.CultureInfo.InvariantCulture);
        var (code, error) = await Programs.RunAsync("HardyEmber.Web",
            [.. settings.Select(s => s.Replace("PORT", port, StringComparison.Ordinal)), "--data", Repository.TemporaryFolder()]);
        Assert.Equal(2, code);
        Assert.Single(error.Trim().Split('\n'));
        Assert.Contains(named, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task With_a_token_pages_open_and_everything_else_asks_for_it()
    {
        await using var server = await StartAsync();
        using var browser = Browser(server);
        Assert.Equal(HttpStatusCode.OK, (await browser.GetAsync(Pages.Path("/"))).StatusCode);
        foreach (var path in new[] { "/api/runs", "/API/runs", "/api/fleet", "/api/logins", "/openapi/v1.json" })
        {
            Assert.Equal(HttpStatusCode.Unauthorized, (await browser.GetAsync(Pages.Path(path))).StatusCode);
        }

        Assert.Equal(HttpStatusCode.Unauthorized, (await browser.PostAsync(Pages.Path("/hub/run/negotiate?negotiateVersion=1"), null)).StatusCode);
        using var wrong = await LogInAsync(browser, "battery staple");
        Assert.Equal("token", (await wrong.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
        using var login = await LogInAsync(browser);
        var cookie = login.Headers.GetValues("Set-Cookie").Single();
        Assert.Contains("httponly", cookie, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("samesite=strict", cookie, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("correct", cookie, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, await AsksAsync(browser));
        using var named = new HttpRequestMessage(HttpMethod.Get, Pages.Path("/api/health"));
        named.Headers.Host = "ember.example";
        Assert.Equal(HttpStatusCode.OK, (await browser.SendAsync(named)).StatusCode);
    }

    [Fact]
    public async Task Each_browser_has_a_login_of_its_own_that_outlives_a_restart_and_can_be_ended_alone()
    {
        await using var server = await StartAsync();
        var (mine, others) = (new CookieContainer(), new CookieContainer());
        using (var one = Browser(server, mine))
        using (var other = Browser(server, others))
        {
            _ = await LogInAsync(one);
            _ = await LogInAsync(other);
            Assert.NotEqual(mine.GetCookieHeader(server.Address), others.GetCookieHeader(server.Address));
        }

        await server.KillAsync();
        await server.RestartAsync();
        using var me = Browser(server, mine);
        using var they = Browser(server, others);
        Assert.Equal(HttpStatusCode.OK, await AsksAsync(they));
        var list = await me.GetFromJsonAsync<JsonElement[]>(Pages.Path("/api/logins"));
        Assert.Equal(2, list!.Length);
        Assert.All(list, l => Assert.Equal("a-test/1.0", l.GetProperty("browser").GetString()));
        Assert.All(list, l => Assert.Equal(30, (l.GetProperty("ends").GetDateTimeOffset() - l.GetProperty("created").GetDateTimeOffset()).TotalDays, 3));
        var theirs = Assert.Single(list, l => !l.GetProperty("own").GetBoolean()).GetProperty("id").GetString();

        // A line of a run that is open ends with its login.
        await using var hub = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/hub/run"), o =>
        {
            o.Headers["X-Hardy-Ember"] = "test";
            o.Cookies = others;
        }).Build();
        var closed = new TaskCompletionSource();
        hub.Closed += _ =>
        {
            closed.TrySetResult();
            return Task.CompletedTask;
        };
        await hub.StartAsync();
        Assert.Equal(HttpStatusCode.NoContent, (await me.DeleteAsync(Pages.Path($"/api/logins/{theirs}"))).StatusCode);
        await closed.Task.WaitAsync(TimeSpan.FromSeconds(60));
        Assert.Equal(HttpStatusCode.Unauthorized, await AsksAsync(they));
        Assert.Equal(HttpStatusCode.OK, await AsksAsync(me));
        Assert.Equal(HttpStatusCode.NotFound, (await me.DeleteAsync(Pages.Path($"/api/logins/{theirs}"))).StatusCode);

        var kept = mine.GetCookieHeader(server.Address);
        Assert.Equal(HttpStatusCode.NoContent, (await me.PostAsync(Pages.Path("/api/logout"), null)).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, await AsksAsync(me));
        using var stolen = new HttpRequestMessage(HttpMethod.Get, Pages.Path("/api/runs"));
        stolen.Headers.Add("Cookie", kept);
        using var plain = new HttpClient(new SocketsHttpHandler { UseCookies = false }) { BaseAddress = server.Address };
        Assert.Equal(HttpStatusCode.Unauthorized, (await plain.SendAsync(stolen)).StatusCode); // the cookie itself is worth nothing any more
    }

    [Fact]
    public async Task Another_token_ends_every_login()
    {
        var data = Repository.TemporaryFolder();
        var cookies = new CookieContainer();
        var server = await StartAsync(data);
        using (var browser = Browser(server, cookies))
        {
            _ = await LogInAsync(browser);
        }

        await server.KillAsync();
        await using var next = await ServerProcess.StartAsync(data: data, settings: ["--EMBER_TOKEN", "another sixteen letters"]);
        using var again = new HttpRequestMessage(HttpMethod.Get, Pages.Path("/api/runs"));
        again.Headers.Add("Cookie", cookies.GetCookieHeader(server.Address));
        using var plain = new HttpClient(new SocketsHttpHandler { UseCookies = false }) { BaseAddress = next.Address };
        Assert.Equal(HttpStatusCode.Unauthorized, (await plain.SendAsync(again)).StatusCode);
    }

    [Fact]
    public async Task Four_hundred_connections_guess_no_more_often_than_one_and_the_log_says_so()
    {
        await using var server = await StartAsync();
        using var browser = Browser(server);
        var answers = await Task.WhenAll(Enumerable.Range(0, 400).Select(async i =>
        {
            using var answer = await LogInAsync(browser, $"guess {i}");
            return (answer.StatusCode, answer.Headers.RetryAfter?.Delta);
        }));
        Assert.InRange(answers.Count(a => a.StatusCode == HttpStatusCode.BadRequest), 3, 12); // those that were looked at: the wait doubles
        Assert.All(answers.Where(a => a.StatusCode != HttpStatusCode.BadRequest), a =>
        {
            Assert.Equal(HttpStatusCode.TooManyRequests, a.StatusCode);
            Assert.True(a.Delta >= TimeSpan.FromSeconds(1));
        });
        Assert.Contains("A wrong token from 127.0.0.1", server.Output, StringComparison.Ordinal);
        Assert.DoesNotContain("guess", server.Output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_guess_is_looked_at_only_when_its_time_has_come()
    {
        var clock = new HandClock();
        var guesses = new Guesses(clock);
        var looked = 0;
        (bool, TimeSpan) Try(bool right = false) => guesses.Try(() =>
        {
            looked++;
            return right;
        });
        for (var i = 0; i < 3; i++)
        {
            Assert.Equal((false, TimeSpan.Zero), Try());
        }

        Assert.Equal((false, TimeSpan.FromSeconds(1)), Try(right: true)); // too soon: not even looked at
        Assert.Equal(3, looked);
        clock.Now += TimeSpan.FromSeconds(1);
        Assert.Equal((false, TimeSpan.Zero), Try());
        Assert.Equal((false, TimeSpan.FromSeconds(2)), Try());
        clock.Now += TimeSpan.FromSeconds(2);
        Assert.Equal((true, TimeSpan.Zero), Try(right: true));
        Assert.Equal((false, TimeSpan.Zero), Try());
        Assert.Equal(1, guesses.Wrong);
        Assert.Equal(TimeSpan.FromSeconds(60), Guesses.WaitAfter(1_000_000));
    }

    private sealed class HandClock : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = new(2026, 1, 14, 6, 0, 0, TimeSpan.Zero);

        public override DateTimeOffset GetUtcNow() => Now;
    }
}
