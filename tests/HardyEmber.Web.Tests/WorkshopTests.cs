using System.Net.WebSockets;
using System.Text;
using HardyEmber.Testing;
using HardyEmber.Web.Work;

namespace HardyEmber.Web.Tests;

/// <summary>Nobody stalls others: heavy work waits its turn apart, and a page that does not read is left behind.</summary>
public sealed class WorkshopTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task One_client_has_so_many_places_and_another_is_served_all_the_same()
    {
        using var workshop = new Workshop();
        using var open = new ManualResetEventSlim();
        var mine = Enumerable.Range(0, 64).Select(i => workshop.DoAsync("mine", _ => { open.Wait(CancellationToken.None); return i; }, TestContext.Current.CancellationToken))
            .ToList();
        var e = await Assert.ThrowsAsync<WorkshopFullException>(() => workshop.DoAsync("mine", _ => 0, TestContext.Current.CancellationToken));
        Assert.Contains("64 questions of yours", e.Message, StringComparison.Ordinal);
        var other = workshop.DoAsync("other", _ => 7, TestContext.Current.CancellationToken);
        Assert.True(workshop.Waiting > 0);
        open.Set();
        Assert.Equal(Enumerable.Range(0, 64), await Task.WhenAll(mine));
        Assert.Equal(7, await other);
        Assert.Equal(1, await workshop.DoAsync("mine", _ => 1, TestContext.Current.CancellationToken));
    }

    [Fact]
    public async Task What_nobody_waits_for_any_more_is_not_begun()
    {
        using var workshop = new Workshop();
        using var open = new ManualResetEventSlim();
        using var gone = new CancellationTokenSource();
        var first = Enumerable.Range(0, Environment.ProcessorCount).Select(_ => workshop.DoAsync("a", _ => { open.Wait(CancellationToken.None); return 0; },
            TestContext.Current.CancellationToken)).ToList();
        var begun = false;
        var second = workshop.DoAsync("a", _ => begun = true, gone.Token);
        await gone.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => second);
        open.Set();
        await Task.WhenAll(first);
        _ = await workshop.DoAsync("a", _ => 0, TestContext.Current.CancellationToken);
        Assert.False(begun);
    }

    [Fact]
    public async Task What_fails_in_it_is_told_to_who_asked()
    {
        using var workshop = new Workshop();
        await Assert.ThrowsAsync<FormatException>(() => workshop.DoAsync<int>("a", _ => throw new FormatException("no"), TestContext.Current.CancellationToken));
    }

    /// <summary>A connection that takes nothing once stopped the clock of all runs.</summary>
    [Fact]
    public async Task A_page_that_does_not_read_holds_up_nobody_and_is_dropped()
    {
        var id = await fixture.Server.CreateAsync();
        await using var pilot = await HubPage.OpenAsync(fixture.Server, id);
        using var deaf = new ClientWebSocket();
        await deaf.ConnectAsync(new Uri($"ws://127.0.0.1:{fixture.Server.Port}/hub/run"), TestContext.Current.CancellationToken);
        async Task SayAsync(string message) => await deaf.SendAsync(Encoding.UTF8.GetBytes(message + "\u001e"), WebSocketMessageType.Text, true,
            TestContext.Current.CancellationToken);
        await SayAsync("{\"protocol\":\"json\",\"version\":1}");
        await SayAsync($"{{\"type\":1,\"invocationId\":\"1\",\"target\":\"Join\",\"arguments\":[\"{id}\",\"fly\",false]}}");
        await pilot.SendAsync("Hold", "fire-test", "outer");
        await SayAsync($"{{\"type\":1,\"invocationId\":\"2\",\"target\":\"Hold\",\"arguments\":[\"{id}\",\"fire-test\",\"outer\"]}}");
        // Both hands are on the switch before the clock moves: what goes by on a command's way to the disk is nobody's time.
        await pilot.UntilAsync(p => p.Actions.Count == 2, "the second hand on the switch");
        // It asks for the whole state again and again and takes no answer, until nothing more can be sent to it.
        for (var i = 3; i < 400; i++)
        {
            await SayAsync($"{{\"type\":1,\"invocationId\":\"{i}\",\"target\":\"State\",\"arguments\":[\"{id}\"]}}");
        }

        for (var i = 0; i < 60; i++)
        {
            await pilot.StepAsync(0.5);
        }

        await pilot.UntilAsync(p => p.Time >= 29.9, "the last of the thirty seconds"); // its frame may come after the answer
        Assert.True(pilot.Time < 30.3);
        await pilot.SendAsync("Release", "fire-test");
        await pilot.UntilAsync(p => p.Value("fire-test") < 1.5, "the switch, which only the pilot holds now");
    }
}
