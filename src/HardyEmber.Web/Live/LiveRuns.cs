using HardyEmber.Store;
using HardyEmber.Web.Work;

namespace HardyEmber.Web.Live;

/// <summary>All live runs: opens them from the store, drives them at 20 Hz, puts away those that nobody is in.</summary>
public sealed partial class LiveRuns(FleetArchive fleets, RunStore store, StoreWriter writer, Workshop workshop, SideThread aside, TimeProvider time, ILogger<LiveRuns> log)
    : BackgroundService
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

    /// <summary>What is replayed at once, in steps: five minutes of a run take some milliseconds. Anything longer is work for the workshop.</summary>
    private const long ReplayedAtOnce = 15_000;
    private static readonly TimeSpan TellEvery = TimeSpan.FromSeconds(0.25);
    private readonly Dictionary<string, Opening> _runs = [];
    private readonly Lock _gate = new();
    private int _ticks;

    /// <summary>How far a run has come: 0 for one that is over, which is looked at from its beginning.</summary>
    public long StepOf(StoredRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        return run.Ended ? 0 : Live(run.Id)?.StepIndex ?? run.ProgressStep;
    }

    // A run that is being opened, or has been.
    private sealed class Opening
    {
        public Task<LiveRun?> Run { get; set; } = Task.FromResult<LiveRun?>(null);

        /// <summary>Share of its replay that is done.</summary>
        public double Share { get; set; }
    }

    /// <summary>The live run with this id, opened by replay if it is not in memory; null where there is none.</summary>
    /// <param name="tell">Told the share of the replay that is done, a few times a second.</param>
    /// <exception cref="Core.Runs.RunFileException">What is stored cannot be replayed. It is tried again the next time.</exception>
    private async Task<LiveRun?> OpenAsync(string id, Func<double, Task> tell)
    {
        // Two pages that open the same run must get the same machine: whoever comes second waits for the first one's replay.
        Opening? opening;
        lock (_gate)
        {
            if (!_runs.TryGetValue(id, out opening))
            {
                var made = _runs[id] = opening = new Opening();
                made.Run = Task.Run(() => ReplayedAsync(id, made));
            }
        }

        try
        {
            while (!opening.Run.IsCompleted)
            {
                if (await Task.WhenAny(opening.Run, Task.Delay(TellEvery)).ConfigureAwait(false) != opening.Run)
                {
                    await tell(opening.Share).ConfigureAwait(false);
                }
            }

            if (await opening.Run.ConfigureAwait(false) is { } run)
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

    // What is long, or rests on data of its own, is replayed in the workshop: the threads that all runs share must not wait for it.
    private async Task<LiveRun?> ReplayedAsync(string id, Opening opening)
    {
        if (store.Find(id) is not { } stored)
        {
            return null;
        }

        var (own, last) = (!fleets.IsToday(stored.Log.Header), stored.Log.Commands.Count > 0 ? stored.Log.Commands[^1].Step : 0);
        return !own && Math.Max(stored.ProgressStep, last) <= ReplayedAtOnce ? Replayed(stored, null, opening)
            : await workshop.OpenAsync(() => Replayed(stored, own ? aside : null, opening)).ConfigureAwait(false);
    }

    private LiveRun Replayed(StoredRun stored, TaskScheduler? on, Opening opening)
    {
        var known = fleets.Of(stored.Log.Header);
        return new LiveRun(known ?? fleets.Today, FlownAnew.Why(stored.Log.Header, known is not null, "all of it is"), stored, writer, time, known is null ? null : on,
            share => opening.Share = share);
    }

    /// <summary>A page joins a run.</summary>
    /// <inheritdoc cref="OpenAsync"/>
    public async Task<Snapshot?> JoinAsync(string id, PageLine page, Role role, bool resume)
    {
        while (await OpenAsync(id, page.OpeningAsync).ConfigureAwait(false) is { } run)
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

    /// <summary>A page leaves a run, or its line has gone.</summary>
    /// <param name="silent">The line was ended because nothing came from it any more.</param>
    public async Task LeaveAsync(string id, string connection, bool silent)
    {
        try
        {
            if (Live(id) is { } run && await run.LeaveAsync(connection).ConfigureAwait(false) is { } left && silent && (left.Stands || left.Sprang.Count > 0))
            {
                Silent(id, left.Sprang.Count > 0 ? string.Join(", ", left.Sprang) : "nothing", left.Stands ? "stands still" : "goes on with others");
            }
        }
        catch (RunClosedException)
        {
            // It has been put away: nothing is held there.
        }
    }

    private void Forget(string id, LiveRun closed)
    {
        lock (_gate)
        {
            if (_runs.TryGetValue(id, out var kept) && kept.Run.IsCompletedSuccessfully && kept.Run.Result == closed)
            {
                _ = _runs.Remove(id);
            }
        }
    }

    private void Forget(string id, Opening opening)
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
            return _runs.TryGetValue(id, out var run) && run.Run.IsCompletedSuccessfully ? run.Run.Result : null;
        }
    }

    public IReadOnlyList<LiveRun> All
    {
        get
        {
            lock (_gate)
            {
                return [.. _runs.Values.Where(r => r.Run.IsCompletedSuccessfully).Select(r => r.Run.Result).OfType<LiveRun>()];
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

    [LoggerMessage(Level = LogLevel.Information, Message = "A page of the run {Run} has fallen silent: {Controls} sprang back, and the run {Goes}")]
    private partial void Silent(string run, string controls, string goes);

    [LoggerMessage(Level = LogLevel.Error, Message = "The run {Run} could not be advanced")]
    private partial void TickFailed(Exception error, string run);
}
