using System.Collections.Concurrent;
using HardyEmber.Core.Runs;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Live;

/// <summary>
/// The wire between a page and its run. Every call names the run; errors come back as "field: what is wrong" and have
/// changed nothing.
/// </summary>
public sealed class RunHub(LiveRuns runs) : Hub
{
    private static readonly ConcurrentDictionary<string, ConcurrentDictionary<string, byte>> Joined = new();

    public async Task<Snapshot> Join(string run, bool resume)
    {
        var live = Find(run);
        await Groups.AddToGroupAsync(Context.ConnectionId, run).ConfigureAwait(false);
        Joined.GetOrAdd(Context.ConnectionId, _ => new ConcurrentDictionary<string, byte>()).TryAdd(run, 0);
        await live.ReleaseOrphansAsync(Context.ConnectionId).ConfigureAwait(false);
        return live.Join(Context.ConnectionId, resume);
    }

    public async Task Leave(string run)
    {
        await Groups.RemoveFromGroupAsync(Context.ConnectionId, run).ConfigureAwait(false);
        if (Joined.TryGetValue(Context.ConnectionId, out var set) && set.TryRemove(run, out _) && runs.Live(run) is { } live)
        {
            await live.LeaveAsync(Context.ConnectionId).ConfigureAwait(false);
        }
    }

    public Task<double> Set(string run, string control, string position) => Command(run, CommandKind.Set, control, position, null);

    public Task<double> Dial(string run, string control, double number) => Command(run, CommandKind.Set, control, null, number);

    public Task<double> Hold(string run, string control, string position) => Command(run, CommandKind.Hold, control, position, null);

    public Task<double> Release(string run, string control) => Command(run, CommandKind.Release, control, null, null);

    public Task<double> Look(string run, string target) => Command(run, CommandKind.Look, target, null, null);

    public Task<double> Report(string run, string fault, string? place) => Command(run, CommandKind.Report, fault, place, null);

    public Task<double> End(string run) => Command(run, CommandKind.End, "", null, null);

    public async Task Rate(string run, double rate)
    {
        var live = Find(run);
        Guarded(() => live.SetRate(rate));
        await runs.FlushAsync(live).ConfigureAwait(false);
    }

    public async Task Pause(string run, bool paused)
    {
        var live = Find(run);
        live.Pause(paused);
        await runs.FlushAsync(live).ConfigureAwait(false);
    }

    private LiveRun Find(string run) => runs.Open(run) ?? throw new HubException($"run: there is no run \"{run}\"");

    private static void Guarded(Action act)
    {
        try
        {
            act();
        }
        catch (CommandException e)
        {
            throw new HubException($"{e.Field}: {e.Message}", e);
        }
    }

    private async Task<double> Command(string run, CommandKind kind, string target, string? position, double? number)
    {
        var live = Find(run);
        double time;
        try
        {
            time = await live.CommandAsync(Context.ConnectionId, kind, target, position, number).ConfigureAwait(false);
        }
        catch (CommandException e)
        {
            throw new HubException($"{e.Field}: {e.Message}", e);
        }

        if (kind == CommandKind.End)
        {
            runs.Conclude(live);
        }

        await runs.FlushAsync(live).ConfigureAwait(false);
        return time;
    }

    public override async Task OnDisconnectedAsync(Exception? exception)
    {
        if (Joined.TryRemove(Context.ConnectionId, out var set))
        {
            foreach (var run in set.Keys)
            {
                if (runs.Live(run) is { Ended: false } live)
                {
                    await live.LeaveAsync(Context.ConnectionId).ConfigureAwait(false);
                }
            }
        }

        await base.OnDisconnectedAsync(exception).ConfigureAwait(false);
    }
}
