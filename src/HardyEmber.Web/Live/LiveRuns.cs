using HardyEmber.Store;

namespace HardyEmber.Web.Live;

/// <summary>All live runs: opens them from the store, drives them at 20 Hz, puts away those that nobody is in.</summary>
public sealed partial class LiveRuns(FleetArchive fleets, RunStore store, StoreWriter writer, TimeProvider time, ILogger<LiveRuns> log) : BackgroundService
{
    public static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(50);

    /// <summary>
    /// Many runs do not tick all at once but in turns: 300 frames in the same instant want as many buffers, more than the runtime keeps,
    /// and most would be made anew each time; and an act would wait behind them all.
    /// </summary>
    private const int RunsInATurn = 30, MostTurns = 10;

    // Once a second progress is stored, and runs that nobody is in are looked for.
    private const int TicksPerLook = 20;
    private static readonly TimeSpan KeepEmpty = TimeSpan.FromSeconds(60);
    private readonly Dictionary<string, Task<LiveRun?>> _runs = [];
    private readonly Lock _gate = new();
    private int _ticks;

    /// <summary>How far a run has come: 0 for one that is over, which is looked at from its beginning.</summary>
    public long StepOf(StoredRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        return run.Ended ? 0 : Live(run.Id)?.StepIndex ?? run.ProgressStep;
    }

    /// <summary>The live run with this id, opened by replay if it is not in memory; null where there is none.</summary>
    /// <exception cref="Core.Runs.RunFileException">What is stored cannot be replayed. It is tried again the next time.</exception>
    public async Task<LiveRun?> OpenAsync(string id)
    {
        // Two pages that open the same run must get the same machine: whoever comes second waits for the first one's replay.
        Task<LiveRun?>? opening;
        lock (_gate)
        {
            if (!_runs.TryGetValue(id, out opening))
            {
                _runs[id] = opening = Task.Run(() => store.Find(id) is { } stored ? Replayed(stored) : null);
            }
        }

        try
        {
            if (await opening.ConfigureAwait(false) is { } run)
            {
                return run;
            }
        }
        catch
        {
            Forget(id, opening);
            throw;
        }

        Forget(id, opening);
        return null;
    }

    private LiveRun Replayed(StoredRun stored)
    {
        var known = fleets.Of(stored.Log.Header);
        return new LiveRun(known ?? fleets.Today, FlownAnew.Why(stored.Log.Header, known is not null, "all of it is"), stored, writer, time);
    }

    /// <summary>A page joins a run.</summary>
    /// <inheritdoc cref="OpenAsync"/>
    public async Task<Snapshot?> JoinAsync(string id, PageLine page, Role role, bool resume)
    {
        while (await OpenAsync(id).ConfigureAwait(false) is { } run)
        {
            try
            {
                return await run.JoinAsync(page, role, resume).ConfigureAwait(false);
            }
            catch (RunClosedException)
            {
                Forget(id, run); // it was put away between the two lines
            }
        }

        return null;
    }

    private void Forget(string id, LiveRun closed)
    {
        lock (_gate)
        {
            if (_runs.TryGetValue(id, out var kept) && kept.IsCompletedSuccessfully && kept.Result == closed)
            {
                _ = _runs.Remove(id);
            }
        }
    }

    private void Forget(string id, Task<LiveRun?> opening)
    {
        lock (_gate)
        {
            if (_runs.TryGetValue(id, out var kept) && kept == opening)
            {
                _ = _runs.Remove(id);
            }
        }
    }

    /// <summary>The run if it is in memory.</summary>
    public LiveRun? Live(string id)
    {
        lock (_gate)
        {
            return _runs.TryGetValue(id, out var run) && run.IsCompletedSuccessfully ? run.Result : null;
        }
    }

    public IReadOnlyList<LiveRun> All
    {
        get
        {
            lock (_gate)
            {
                return [.. _runs.Values.Where(r => r.IsCompletedSuccessfully).Select(r => r.Result).OfType<LiveRun>()];
            }
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Tick, time);
        for (var turn = 0; await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false); turn++)
        {
            var runs = All;
            var turns = Math.Clamp(runs.Count / RunsInATurn, 1, MostTurns);
            if (timer.Period != Tick / turns)
            {
                timer.Period = Tick / turns;
            }

            _ = TickAsync(runs, turn % turns, turns);
        }
    }

    /// <summary>Advances all runs to now; completes when they have.</summary>
    public Task TickAsync() => TickAsync(All, 0, 1);

    // Nobody has to wait for it: a run that is busy holds up no other.
    private async Task TickAsync(IReadOnlyList<LiveRun> runs, int turn, int turns)
    {
        await Task.WhenAll(runs.Where((_, i) => i % turns == turn).Select(TickAsync)).ConfigureAwait(false);
        if (turn != 0 || Interlocked.Increment(ref _ticks) % TicksPerLook != 0)
        {
            return;
        }

        foreach (var run in runs)
        {
            try
            {
                await run.StoreProgressAsync().ConfigureAwait(false);
                if (await run.CloseIfEmptyAsync(KeepEmpty).ConfigureAwait(false))
                {
                    Forget(run.Id, run);
                }
            }
            catch (RunClosedException)
            {
                Forget(run.Id, run);
            }
        }
    }

    private async Task TickAsync(LiveRun run)
    {
        try
        {
            await run.TickAsync().ConfigureAwait(false);
        }
        catch (RunClosedException)
        {
            // It has been put away meanwhile.
        }
#pragma warning disable CA1031 // one bad run must not stop the clock of all others
        catch (Exception e)
#pragma warning restore CA1031
        {
            TickFailed(e, run.Id);
        }
    }

    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken).ConfigureAwait(false);
        foreach (var run in All)
        {
            try
            {
                await run.StoreProgressAsync().ConfigureAwait(false);
            }
            catch (RunClosedException)
            {
                // Put away: it stored its progress then.
            }
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The run {Run} could not be advanced")]
    private partial void TickFailed(Exception error, string run);
}
