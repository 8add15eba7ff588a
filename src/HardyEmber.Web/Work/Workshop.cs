using System.Collections.Concurrent;

namespace HardyEmber.Web.Work;

/// <summary>There is no room for more heavy work now; nothing was changed.</summary>
public sealed class WorkshopFullException(string message) : Exception(message);

/// <summary>
/// Heavy work (debriefs, outlooks, prices, imports) away from the live runs: few at a time, in the order asked for, on threads of
/// low priority, so that an act in a run is stored and seen as quickly as if nobody asked anything else. What nobody waits for any more
/// is not begun. A client has a few places at most; who asks for more is told. Runs that are opened come before questions: a pilot waits for them.
/// </summary>
public sealed class Workshop : IDisposable
{
    private const int MostOfOne = 64;
    private const int MostWaiting = 400;
    private const int MostOpening = 1000;
    private const int RestMs = 20_000;
    private static readonly int Hands = Math.Max(1, Environment.ProcessorCount - 1);
    private readonly BlockingCollection<Job> _opening = new(MostOpening), _jobs = new(MostWaiting);
    private readonly BlockingCollection<Job>[] _inOrder;
    private readonly Action? _rests;
    private readonly ConcurrentDictionary<string, int> _ofClient = new();
    private long _begun, _asked;

    // What opens a run has no number: nobody is told how many of them wait.
    private sealed record Job(Action Do, long? Number);

    /// <param name="rests">Called when nobody has asked for anything for a while: what is kept to answer sooner may go.</param>
    public Workshop(Action? rests = null)
    {
        _rests = rests;
        _inOrder = [_opening, _jobs];
        for (var i = 0; i < Hands; i++)
        {
            LowPriority.Begin($"workshop {i + 1}", Work);
        }
    }

    private void Work()
    {
        for (var worked = false; !_jobs.IsCompleted;)
        {
            if (BlockingCollection<Job>.TryTakeFromAny(_inOrder, out var job, worked ? RestMs : Timeout.Infinite) >= 0)
            {
                _ = job!.Number is { } number ? Interlocked.Exchange(ref _begun, number) : 0;
                job.Do();
                worked = true;
            }
            else if (worked)
            {
                _rests?.Invoke();
                // What debriefs of six hours took would be kept for the next ones, though nobody may ask for any: it is given back.
                GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
                worked = false;
            }
        }
    }

    /// <summary>Does it when its turn has come; completes with its answer.</summary>
    /// <param name="client">Who asks.</param>
    /// <param name="cancel">Whoever asked has gone: work that has not begun is not done, and work that has may end itself.</param>
    /// <exception cref="WorkshopFullException">This client, or all together, have too much here already.</exception>
    public async Task<T> DoAsync<T>(string client, Func<CancellationToken, T> work, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(work);
        if (_ofClient.AddOrUpdate(client, 1, (_, n) => n + 1) > MostOfOne)
        {
            Leave(client);
            throw new WorkshopFullException($"{MostOfOne} questions of yours are being worked on already: wait for one of them, then ask again");
        }

        try
        {
            return await PutAsync(_jobs, Interlocked.Increment(ref _asked), work, cancel).ConfigureAwait(false);
        }
        finally
        {
            Leave(client);
        }
    }

    /// <summary>Opens a run before any question is worked on; completes with it.</summary>
    /// <exception cref="WorkshopFullException">A thousand runs are waiting to be opened.</exception>
    public Task<T> OpenAsync<T>(Func<T> open) => PutAsync(_opening, null, _ => open(), CancellationToken.None);

    private static async Task<T> PutAsync<T>(BlockingCollection<Job> into, long? number, Func<CancellationToken, T> work, CancellationToken cancel)
    {
        var answer = new TaskCompletionSource<T>(TaskCreationOptions.RunContinuationsAsynchronously);
        return into.TryAdd(new Job(() => Do(work, answer, cancel), number), 0, CancellationToken.None) ? await answer.Task.WaitAsync(cancel).ConfigureAwait(false)
            : throw new WorkshopFullException("the server has more to work on than it can: ask again in a moment");
    }

    /// <summary>How many wait before what is asked for now.</summary>
    public long Waiting => Math.Max(0, Interlocked.Read(ref _asked) - Interlocked.Read(ref _begun));

    private static void Do<T>(Func<CancellationToken, T> work, TaskCompletionSource<T> answer, CancellationToken cancel)
    {
        try
        {
            cancel.ThrowIfCancellationRequested();
            answer.TrySetResult(work(cancel));
        }
#pragma warning disable CA1031 // whoever asked is told, whatever it was
        catch (Exception e)
#pragma warning restore CA1031
        {
            answer.TrySetException(e);
        }
    }

    private void Leave(string client)
    {
        if (_ofClient.AddOrUpdate(client, 0, (_, n) => n - 1) <= 0)
        {
            _ = _ofClient.TryRemove(new KeyValuePair<string, int>(client, 0));
        }
    }

    public void Dispose()
    {
        _opening.CompleteAdding();
        _jobs.CompleteAdding();
    }
}
