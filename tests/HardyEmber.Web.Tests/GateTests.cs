using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Who is answered: names, origins, tokens; and the headers that stand on every answer.</summary>
public sealed class GateTests(ServerFixture fixture) : IClassFixture<ServerFixture>
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
}
