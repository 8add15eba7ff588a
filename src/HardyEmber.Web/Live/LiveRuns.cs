using System.Collections.Concurrent;
using HardyEmber.Core.Aircraft;
using HardyEmber.Store;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Live;

/// <summary>All live runs: opens them from the store, drives them at 20 Hz, sends their frames.</summary>
public sealed partial class LiveRuns(Fleet fleet, RunStore store, CommandLogWriter writer, IHubContext<RunHub> hub, ILogger<LiveRuns> log) : BackgroundService
{
    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(50);
    private static readonly TimeSpan KeepEmpty = TimeSpan.FromSeconds(60);
    private readonly ConcurrentDictionary<string, Lazy<LiveRun?>> _runs = new();
    private int _ticks;

    /// <summary>The live run with this id, opened by replay if it is not in memory; null where there is none.</summary>
    public LiveRun? Open(string id)
    {
        // Two pages opening the same run must get the same machine: the Lazy makes the replay happen once.
        var run = _runs.GetOrAdd(id, key => new Lazy<LiveRun?>(() => store.Find(key) is { } stored ? new LiveRun(fleet, stored, writer) : null)).Value;
        if (run is null)
        {
            _runs.TryRemove(id, out _);
        }

        return run;
    }

    /// <summary>The run if it is in memory.</summary>
    public LiveRun? Live(string id) => _runs.TryGetValue(id, out var run) && run.IsValueCreated ? run.Value : null;

    public IEnumerable<LiveRun> All => _runs.Values.Where(r => r.IsValueCreated).Select(r => r.Value).OfType<LiveRun>();

    /// <summary>Sends what changed now, without waiting for the next tick.</summary>
    public async Task FlushAsync(LiveRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        if (run.Advance() is { } frame)
        {
            await hub.Clients.Group(run.Id).SendAsync("frame", frame).ConfigureAwait(false);
        }
    }

    /// <summary>Writes the judgement of an ended run to the logbook.</summary>
    public void Conclude(LiveRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        store.Conclude(run.Id, run.Summary());
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Tick);
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false))
        {
            try
            {
                await TickAsync().ConfigureAwait(false);
            }
#pragma warning disable CA1031 // one bad run must not stop the clock of all others
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
#pragma warning restore CA1031
            {
                TickFailed(e);
            }
        }
    }

    private async Task TickAsync()
    {
        var sends = new List<Task>();
        foreach (var run in All)
        {
            if (run.Viewers > 0 && run.Advance() is { } frame)
            {
                sends.Add(hub.Clients.Group(run.Id).SendAsync("frame", frame));
            }
        }

        await Task.WhenAll(sends).ConfigureAwait(false);
        if (++_ticks % 20 == 0)
        {
            store.Progress([.. All.Where(r => r is { Viewers: > 0, Paused: false, Ended: false }).Select(r => (r.Id, r.StepIndex))]);
            foreach (var run in All.Where(r => r.Viewers == 0 && DateTimeOffset.UtcNow - r.EmptySince > KeepEmpty))
            {
                store.Progress([(run.Id, run.StepIndex)]);
                _runs.TryRemove(run.Id, out _);
            }
        }
    }

    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken).ConfigureAwait(false);
        store.Progress([.. All.Where(r => !r.Ended).Select(r => (r.Id, r.StepIndex))]);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The live runs could not be advanced")]
    private partial void TickFailed(Exception error);
}
