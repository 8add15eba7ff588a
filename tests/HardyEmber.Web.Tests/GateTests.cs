using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Who is answered: names, origins, tokens; and the headers that stand on every answer.</summary>
public sealed partial class GateTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private async Task<HttpResponseMessage> SendAsync(HttpMethod method, string path, string? origin = null, string? host = null, HttpContent? content = null, bool plain = false)
    {
        // A client without the header that the other tests send with every write.
        using var client = new HttpClient { BaseAddress = Server.Address };
        var request = new HttpRequestMessage(method, Pages.Path(path)) { Content = content };
        if (origin is not null)
        {
            request.Headers.Add("Origin", origin);
        }

        request.Headers.Host = host;
        if (!plain)
        {
            request.Headers.Add("X-Hardy-Ember", "test");
        }

        return await client.SendAsync(request);
    }

    private static HttpContent Header() => JsonContent.Create(Pages.Header, options: FleetJson.Line);

    [Theory]
    [InlineData("evil.example", HttpStatusCode.MisdirectedRequest)]
    [InlineData("127.0.0.1.evil.example", HttpStatusCode.MisdirectedRequest)]
    [InlineData("localhost", HttpStatusCode.OK)]
    [InlineData("LOCALHOST:80", HttpStatusCode.OK)]
    [InlineData("[::1]", HttpStatusCode.OK)]
    public async Task It_answers_to_its_own_names_only(string host, HttpStatusCode expected)
    {
        using var response = await SendAsync(HttpMethod.Get, "/api/health", host: host);
        Assert.Equal(expected, response.StatusCode);
    }

    [Theory]
    [InlineData("/api/runs")]
    [InlineData("/API/RUNS")]
    [InlineData("/hub/run/negotiate?negotiateVersion=1")]
    [InlineData("/HUB/run/negotiate?negotiateVersion=1")]
    [InlineData("/Hub/Run/negotiate?negotiateVersion=1")]
    public async Task A_foreign_page_is_refused_however_the_path_is_written(string path)
    {
        using var write = await SendAsync(HttpMethod.Post, path, "http://evil.example", content: Header());
        Assert.Equal(HttpStatusCode.Forbidden, write.StatusCode);
        using var read = await SendAsync(HttpMethod.Get, path, "http://evil.example");
        Assert.Equal(HttpStatusCode.Forbidden, read.StatusCode);
    }

    [Fact]
    public async Task A_write_without_an_origin_needs_the_header_that_no_form_can_send()
    {
        using var bare = await SendAsync(HttpMethod.Post, "/api/runs", content: Header(), plain: true);
        Assert.Equal(HttpStatusCode.Forbidden, bare.StatusCode);
        using var own = await SendAsync(HttpMethod.Post, "/api/runs", Server.Address.GetLeftPart(UriPartial.Authority), content: Header(), plain: true);
        Assert.Equal(HttpStatusCode.Created, own.StatusCode);
    }

    [Theory]
    [InlineData("/", HttpStatusCode.OK)]
    [InlineData("/logbook", HttpStatusCode.OK)]
    [InlineData("/run/none", HttpStatusCode.OK)]
    [InlineData("/api/nothing", HttpStatusCode.NotFound)]
    [InlineData("/api/runs/none/debrief", HttpStatusCode.NotFound)]
    [InlineData("/api/runs/none/why?target=a&at=NaN", HttpStatusCode.BadRequest)]
    [InlineData("/api/runs?limit=many", HttpStatusCode.BadRequest)]
    public async Task Every_answer_carries_the_headers_and_no_page_is_kept(string path, HttpStatusCode status)
    {
        using var response = await SendAsync(HttpMethod.Get, path);
        Assert.Equal(status, response.StatusCode);
        Assert.Contains("default-src 'none'", response.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        Assert.Equal("nosniff", response.Headers.GetValues("X-Content-Type-Options").Single());
        if (response.Content.Headers.ContentType?.MediaType == "text/html")
        {
            Assert.True(response.Headers.CacheControl!.NoCache);
        }
    }

    [Theory]
    [InlineData("/api/runs/import", "multipart/form-data")]
    [InlineData("/api/runs/import", "application/x-www-form-urlencoded")]
    [InlineData("/api/runs", "text/plain")]
    public async Task A_wrong_content_type_is_a_415(string path, string type)
    {
        using var content = new StringContent("{}", Encoding.UTF8, new MediaTypeHeaderValue(type));
        using var response = await SendAsync(HttpMethod.Post, path, content: content);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, response.StatusCode);
    }

    [Fact]
    public async Task Refused_commands_leave_no_error_in_the_log()
    {
        await using var page = await HubPage.OpenAsync(Server, await Server.CreateAsync());
        var before = Server.Output.Length;
        for (var i = 0; i < 3; i++)
        {
            await Assert.ThrowsAsync<Microsoft.AspNetCore.SignalR.HubException>(() => page.SendAsync("Set", "warp", "on"));
        }

        _ = await Server.JsonAsync("/api/health");
        // What an earlier test made the server say may only arrive now; of these calls it says nothing.
        Assert.DoesNotContain("hub method", Server.Output[before..], StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("warp", Server.Output[before..], StringComparison.Ordinal);
    }

    /// <summary>What is no sound request the web server answers by itself; the headers stand on that too.</summary>
    [Theory]
    [InlineData("GET / HTTP/1.1\r\nHost: localhost\r\nno header\r\n\r\n", "HTTP/1.1 400")]
    [InlineData("GET / HTTP/1.1\r\n\r\n", "HTTP/1.1 400")]
    [InlineData("GET /{9000} HTTP/1.1\r\nHost: localhost\r\n\r\n", "HTTP/1.1 414")]
    [InlineData("GET / HTTP/1.1\r\nHost: localhost\r\nX: {40000}\r\n\r\n", "HTTP/1.1 431")]
    public async Task Answers_before_the_gate_carry_the_headers_too(string request, string begins)
    {
        using var wire = new TcpClient();
        await wire.ConnectAsync(Server.Address.Host, Server.Port, TestContext.Current.CancellationToken);
        await using var stream = wire.GetStream();
        var sent = Long().Replace(request, m => new string('a', int.Parse(m.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture)));
        await stream.WriteAsync(Encoding.ASCII.GetBytes(sent), TestContext.Current.CancellationToken);
        using var reader = new StreamReader(stream, Encoding.ASCII);
        var answer = new StringBuilder();
        try
        {
            while (await reader.ReadLineAsync(TestContext.Current.CancellationToken) is { Length: > 0 } line)
            {
                answer.AppendLine(line);
            }
        }
        catch (IOException)
        {
            // The server closes while more is on the way to it; what it said before that has been read.
        }

        Assert.StartsWith(begins, answer.ToString(), StringComparison.Ordinal);
        Assert.Contains("Content-Security-Policy: default-src 'none'", answer.ToString(), StringComparison.Ordinal);
        Assert.Contains("X-Content-Type-Options: nosniff", answer.ToString(), StringComparison.Ordinal);
    }

    [GeneratedRegex("{([0-9]+)}")]
    private static partial Regex Long();

    [Theory]
    [InlineData("/api/runs?limit=1e9", "limit")]
    [InlineData("/api/runs?before=yesterday", "before")]
    [InlineData("/api/runs/x/why?at=1", "target")]
    [InlineData("/api/runs/x/why?target=battery&at=zz", "at")]
    public async Task A_query_that_does_not_bind_is_named_and_leaves_nothing_in_the_log(string path, string field)
    {
        var before = Server.Output.Length;
        using var response = await SendAsync(HttpMethod.Get, path);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Equal(field, (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
        Assert.DoesNotContain("Exception", Server.Output[before..], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("/api/runs")]
    [InlineData("/api/before-launch")]
    [InlineData("/api/sorties/read")]
    public async Task An_unknown_encoding_is_a_415_that_names_it(string path)
    {
        using var content = new ByteArrayContent("{}"u8.ToArray());
        content.Headers.TryAddWithoutValidation("Content-Type", "application/json; charset=nope");
        using var response = await SendAsync(HttpMethod.Post, path, content: content);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, response.StatusCode);
        Assert.Equal("content-type", (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
    }

    [Theory]
    [InlineData("1e308")]
    [InlineData("1e999")]
    [InlineData("100000")]
    public async Task A_load_that_no_jet_carries_is_named(string fuel)
    {
        var header = JsonSerializer.Serialize(Pages.Header with { Loading = new LoadingHeader(12345, 0) }, FleetJson.Line);
        foreach (var path in new[] { "/api/before-launch", "/api/start-outlook", "/api/runs" })
        {
            using var response = await SendAsync(HttpMethod.Post, path, content: new StringContent(header.Replace("12345", fuel, StringComparison.Ordinal), Encoding.UTF8,
                "application/json"));
            Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
            Assert.Equal("loading.fuelLb", (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
        }
    }
}
