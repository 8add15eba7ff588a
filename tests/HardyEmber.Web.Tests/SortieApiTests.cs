using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Sorties over HTTP: kept by callsign, handed on, flown again; signatures of ended runs.</summary>
public sealed class SortieApiTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private ServerProcess Server => fixture.Server;

    private static RunHeader Of(string pilot) => Situations.Calm with { Pilot = pilot };

    private async Task<(HttpStatusCode Status, JsonElement Body)> KeepAsync(string name, RunHeader header)
    {
        using var response = await Server.Client.PostAsJsonAsync(ServerCalls.Path("/api/sorties"), new { name, header }, FleetJson.Line);
        return (response.StatusCode, await response.Content.ReadFromJsonAsync<JsonElement>());
    }

    private async Task<List<JsonElement>> KeptAsync(string pilot) => [.. (await Server.JsonAsync($"/api/sorties?pilot={pilot}")).EnumerateArray()];

    [Fact]
    public async Task A_sortie_is_kept_replaced_by_its_name_handed_on_and_forgotten()
    {
        var (status, first) = await KeepAsync(" Cold one ", Of("Umber"));
        Assert.Equal((HttpStatusCode.OK, "Cold one"), (status, first.GetProperty("name").GetString()));
        await KeepAsync("Hot one", Of("Umber") with { Conditions = new RunConditions(40, 0, 0) });
        var (_, again) = await KeepAsync("Cold one", Of("Umber") with { Seed = 77 });
        Assert.Equal(first.GetProperty("id").GetString(), again.GetProperty("id").GetString());
        var kept = await KeptAsync("Umber");
        Assert.Equal(["Cold one", "Hot one"], kept.Select(k => k.GetProperty("name").GetString()));
        Assert.Equal(77, kept[0].GetProperty("header").GetProperty("seed").GetInt64());
        Assert.Empty(await KeptAsync("Sienna"));
        var id = kept[0].GetProperty("id").GetString();
        var read = await Server.JsonAsync($"/api/sorties/read?sortie={kept[0].GetProperty("code").GetString()}");
        Assert.Equal(kept[0].GetProperty("header").ToString(), read.GetProperty("header").ToString());
        using var file = await Server.Client.GetAsync(ServerCalls.Path($"/api/sorties/{id}/file"));
        Assert.Contains("sortie-", file.Content.Headers.ContentDisposition!.FileName, StringComparison.Ordinal);
        using var sent = new StringContent(await file.Content.ReadAsStringAsync(), Encoding.UTF8, "application/json");
        using var back = await Server.Client.PostAsync(ServerCalls.Path("/api/sorties/read"), sent);
        Assert.Equal("Cold one", (await back.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("name").GetString());
        for (var i = 0; i < 2; i++)
        {
            using var forgotten = await Server.Client.DeleteAsync(ServerCalls.Path($"/api/sorties/{id}"));
            Assert.Equal(HttpStatusCode.NoContent, forgotten.StatusCode);
        }

        Assert.Single(await KeptAsync("Umber"));
        using var gone = await Server.Client.GetAsync(ServerCalls.Path($"/api/sorties/{id}/file"));
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
    }

    [Theory]
    [InlineData("", "juniper", "name")]
    [InlineData("x", "thistle", "aircraft")]
    public async Task A_sortie_that_cannot_be_flown_is_not_kept(string name, string aircraft, string field)
    {
        var (status, problem) = await KeepAsync(name, Of("Ochre") with { Aircraft = aircraft });
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.GetProperty("field").GetString()));
        Assert.Empty(await KeptAsync("Ochre"));
    }

    [Fact]
    public async Task A_callsign_keeps_so_many_and_no_more()
    {
        var last = HttpStatusCode.OK;
        for (var i = 0; i <= SortieStore.Most; i++)
        {
            (last, _) = await KeepAsync($"Number {i}", Of("Madder"));
        }

        Assert.Equal((HttpStatusCode.BadRequest, SortieStore.Most), (last, (await KeptAsync("Madder")).Count));
        Assert.Equal(HttpStatusCode.OK, (await KeepAsync("Number 3", Of("Madder"))).Status);
    }

    [Theory]
    [InlineData("x!")]
    [InlineData("eyJmb3JtYXQiOi")]
    public async Task A_broken_address_is_told_with_its_field(string code)
    {
        using var response = await Server.Client.GetAsync(ServerCalls.Path($"/api/sorties/read?sortie={Uri.EscapeDataString(code)}"));
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Equal("sortie", (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
    }

    [Fact]
    public async Task A_huge_file_is_refused_before_it_is_read()
    {
        using var huge = new StringContent(new string(' ', 7 << 20), Encoding.UTF8, "application/json");
        using var response = await Server.Client.PostAsync(ServerCalls.Path("/api/sorties/read"), huge);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
    }

    [Fact]
    public async Task A_run_is_set_up_again_and_its_signature_is_listed()
    {
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, Of("Bistre") with { Aircraft = "sedge", Loading = null, Leg = null })).Fly();
        var id = await Server.ImportAsync(log);
        var sortie = await Server.JsonAsync($"/api/runs/{id}/sortie");
        Assert.Equal("sedge", sortie.GetProperty("header").GetProperty("aircraft").GetString());
        Assert.False(sortie.GetProperty("header").TryGetProperty("data", out _));
        var held = await Server.JsonAsync($"/api/runs/held?id={id}&id=none");
        var links = held.GetProperty(id).EnumerateArray().ToList();
        Assert.Equal(Repository.Fleet.FindAircraft("sedge").Chain.Select(c => c.Id), links.Select(l => l.GetProperty("id").GetString()));
        var debrief = await Server.JsonAsync($"/api/runs/{id}/debrief");
        Assert.Equal(links.Sum(l => l.GetProperty("seconds").GetDouble()),
            debrief.GetProperty("held").GetProperty("spells").EnumerateArray().Last().GetProperty("toS").GetDouble(), 1.0);
        Assert.False(held.TryGetProperty("none", out _));
        using var missing = await Server.Client.GetAsync(ServerCalls.Path("/api/runs/none/sortie"));
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
    }

    /// <summary>A run that has ended is compared as it was judged, one that was broken off or goes on as it stands.</summary>
    [Fact]
    public async Task Two_runs_are_compared_and_what_cannot_be_is_told()
    {
        var header = Of("Bistre") with { Aircraft = "sedge", Loading = null, Leg = null };
        var book = new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();
        var ended = await Server.ImportAsync(book);
        var unended = await Server.ImportAsync(new RunLog(book.Header, [.. book.Commands.Take(book.Commands.Count / 2)]));
        var other = await Server.ImportAsync(new ScriptedPilot(new Rehearsal(Repository.Fleet, header with { Aircraft = "teasel" })).Fly());
        var compared = await Server.JsonAsync($"/api/runs/{ended}/comparison?with={unended}");
        Assert.StartsWith("The other was not ready: it came as far as ", compared.GetProperty("sentence").GetString(), StringComparison.Ordinal);
        Assert.StartsWith("Both were ready", (await Server.JsonAsync($"/api/runs/{ended}/comparison?with={ended}")).GetProperty("sentence").GetString(), StringComparison.Ordinal);
        foreach (var (path, status, field) in new[]
        {
            ($"/api/runs/{ended}/comparison?with={other}", HttpStatusCode.BadRequest, "with"), ($"/api/runs/{ended}/comparison?with=none", HttpStatusCode.BadRequest, "with"),
            ($"/api/runs/none/comparison?with={ended}", HttpStatusCode.NotFound, "id"),
            ($"/api/runs/held?{string.Join('&', Enumerable.Range(0, 101).Select(i => $"id={i}"))}", HttpStatusCode.BadRequest, "id"),
        })
        {
            using var response = await Server.Client.GetAsync(ServerCalls.Path(path));
            Assert.Equal(status, response.StatusCode);
            Assert.Equal(field, (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("field").GetString());
        }
    }

    /// <summary>Each type by the book, with words on how it starts.</summary>
    [Fact]
    public async Task Every_type_says_how_it_starts_and_what_its_start_comes_to()
    {
        var books = (await Server.JsonAsync("/api/fleet/starts")).EnumerateArray().ToList();
        var fleet = (await Server.JsonAsync("/api/fleet")).GetProperty("aircraft").EnumerateArray().ToList();
        Assert.Equal(fleet.Select(a => a.GetProperty("id").GetString()), books.Select(b => b.GetProperty("aircraft").GetString()));
        Assert.All(fleet, a => Assert.InRange(a.GetProperty("startsBy").GetString()!.Split(' ').Length, 2, 4));
        Assert.All(books, b => Assert.InRange(b.GetProperty("readyS").GetDouble(), 120, 900));
    }

    /// <summary>Each page carries a nonce of its own, which its policy names, and is never answered as "not modified".</summary>
    [Fact]
    public async Task Every_page_has_a_nonce_of_its_own()
    {
        var seen = new HashSet<string>();
        foreach (var path in new[] { "/", "/logbook", "/index.html", "/" })
        {
            using var response = await Server.Client.GetAsync(ServerCalls.Path(path));
            var policy = response.Headers.GetValues("Content-Security-Policy").Single();
            var nonce = policy.Split("'nonce-")[1].Split('\'')[0];
            Assert.True(seen.Add(nonce), "a nonce that was used before");
            var page = await response.Content.ReadAsStringAsync();
            Assert.Contains($"nonce=\"{nonce}\"", page, StringComparison.Ordinal);
            Assert.Contains("it needs JavaScript", page.Split("<noscript>")[1].Split("</noscript>")[0], StringComparison.Ordinal);
            Assert.Null(response.Headers.ETag);
            Assert.DoesNotContain("unsafe", policy, StringComparison.Ordinal);
        }

        using var api = await Server.Client.GetAsync(ServerCalls.Path("/api/fleet"));
        Assert.DoesNotContain("nonce", api.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
    }
}
