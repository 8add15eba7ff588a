using System.Collections.Concurrent;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.SignalR;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Web.Live;

/// <summary>
/// The wire between a page and its run. Every call names the run; errors come back as "field: what is wrong" and have
/// changed nothing. Where the same would be taken a moment later they begin with "later: ".
/// </summary>
public sealed class RunHub(LiveRuns runs, Silence silence, IHubContext<RunHub> hub) : Hub
{
    private const string JoinedKey = "runs", Later = "later";

    // The runs this connection is in; it belongs to the connection and goes with it.
    private ConcurrentDictionary<string, byte> Joined =>
        (ConcurrentDictionary<string, byte>)(Context.Items.TryGetValue(JoinedKey, out var runs) && runs is not null ? runs
            : Context.Items[JoinedKey] = new ConcurrentDictionary<string, byte>());

    /// <param name="role">fly or look.</param>
    public async Task<Snapshot> Join(string run, Role role, bool resume)
    {
        // Written down before it joins: whatever ends the connection from now on finds it.
        _ = Joined.TryAdd(run, 0);
        var (connection, context) = (Context.ConnectionId, Context);
        var client = hub.Clients.Client(connection);
        var page = new PageLine(connection, silence, frame => client.SendAsync("frame", run, frame, CancellationToken.None),
            share => client.SendAsync("opening", run, share, CancellationToken.None), context.Abort, context.ConnectionAborted);
        return await Guarded(async () => await runs.JoinAsync(run, page, role, resume).ConfigureAwait(false)
            ?? throw new CommandException("run", $"there is no run \"{run}\"")).ConfigureAwait(false);
    }

    /// <summary>The whole state, for a page that has missed something.</summary>
    public Task<Snapshot> State(string run) => Guarded(() => Find(run).StateAsync(Context.ConnectionId));

    public async Task Leave(string run)
    {
        if (Joined.TryRemove(run, out _))
        {
            await runs.LeaveAsync(run, Context.ConnectionId, silent: false).ConfigureAwait(false);
        }
    }

    /// <summary>A sign of life, from a page whose own timers the browser has slowed.</summary>
    public Task Alive() => Task.CompletedTask;

    public Task<Ack> Set(string run, string control, string position) => Command(run, CommandKind.Set, control, position, null);

    public Task<Ack> Dial(string run, string control, double number) => Command(run, CommandKind.Set, control, null, number);

    public Task<Ack> Hold(string run, string control, string position) => Command(run, CommandKind.Hold, control, position, null);

    public Task<Ack> Release(string run, string control) => Command(run, CommandKind.Release, control, null, null);

    public Task<Ack> Look(string run, string target) => Command(run, CommandKind.Look, target, null, null);

    public Task<Ack> Report(string run, string fault, string? place) => Command(run, CommandKind.Report, fault, place, null);

    public Task<Ack> End(string run) => Command(run, CommandKind.End, "", null, null);

    /// <summary>Does what the cue asks, if it still asks what the page showed.</summary>
    public Task<Ack> Do(string run, string cue) => Guarded(() => Find(run).DoAsync(Context.ConnectionId, cue));

    public Task Rate(string run, double rate) => Guarded(async () =>
    {
        await Find(run).SetRateAsync(Context.ConnectionId, rate).ConfigureAwait(false);
        return true;
    });

    public Task Pause(string run, bool paused) => Guarded(async () =>
    {
        await Find(run).PauseAsync(Context.ConnectionId, paused).ConfigureAwait(false);
        return true;
    });

    private Task<Ack> Command(string run, CommandKind kind, string target, string? position, double? number) =>
        Guarded(() => Find(run).CommandAsync(Context.ConnectionId, kind, target, position, number));

    // Only who has joined is obeyed, and whoever has joined keeps the run in memory.
    private LiveRun Find(string run) => runs.Live(run) ?? throw new CommandException("run", "this page has not joined the run");

    private static async Task<T> Guarded<T>(Func<Task<T>> work)
    {
        try
        {
            return await work().ConfigureAwait(false);
        }
        catch (CommandException e)
        {
            throw new HubException($"{e.Field}: {e.Message}", e);
        }
        catch (RunFileException e)
        {
            throw new HubException($"run: its log is damaged ({e.Message}). The debrief shows what can be read, and can be flown on from.", e);
        }
        catch (Exception e) when (e is RunClosedException or StoreException or WorkshopFullException)
        {
            throw new HubException($"{Later}: {e.Message}", e);
        }
        catch (SqliteException e)
        {
            throw new HubException($"{Later}: {StoreException.Of(e).Message}", e);
        }
    }

    public override async Task OnDisconnectedAsync(Exception? exception)
    {
        foreach (var run in Joined.Keys)
        {
            await runs.LeaveAsync(run, Context.ConnectionId, silent: exception is OperationCanceledException).ConfigureAwait(false);
        }

        await base.OnDisconnectedAsync(exception).ConfigureAwait(false);
    }
}
