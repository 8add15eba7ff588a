using System.Collections.Concurrent;
using System.Runtime.InteropServices;

namespace HardyEmber.Web.Work;

/// <summary>There is no room for more heavy work now; nothing was changed.</summary>
public sealed class WorkshopFullException(string message) : Exception(message);

/// <summary>
/// Heavy work (debriefs, outlooks, prices, imports) away from the live runs: few at a time, in the order asked for, on threads of
/// low priority, so that an act in a run is stored and seen as quickly as if nobody asked anything else. What nobody waits for any more
/// is not begun. A client has a few places at most; who asks for more is told.
/// </summary>
public sealed partial class Workshop : IDisposable
{
    private const int MostOfOne = 64;
    private const int MostWaiting = 400;
    private const int OfAThread = 0, Niceness = 10, RestMs = 20_000;
    private static readonly int Hands = Math.Max(1, Environment.ProcessorCount - 1);
    private readonly BlockingCollection<Job> _jobs = new(MostWaiting);
    private readonly ConcurrentDictionary<string, int> _ofClient = new();
    private long _begun, _asked;

    private sealed record Job(Action Do, long Number);

    public Workshop()
    {
        for (var i = 0; i < Hands; i++)
        {
            new Thread(Work) { IsBackground = true, Name = $"workshop {i + 1}" }.Start();
        }
    }

    // The priority of .NET's threads does nothing on Linux; there each thread has a niceness of its own.
    [LibraryImport("libc", EntryPoint = "setpriority")]
    private static partial int SetPriority(int which, uint who, int niceness);

    private void Work()
    {
        _ = SetPriority(OfAThread, 0, Niceness);
        for (var worked = false; !_jobs.IsCompleted;)
        {
            if (_jobs.TryTake(out var job, worked ? RestMs : Timeout.Infinite))
            {
                Interlocked.Exchange(ref _begun, job.Number);
                job.Do();
                worked = true;
            }
            else if (worked)
            {
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
            var answer = new TaskCompletionSource<T>(TaskCreationOptions.RunContinuationsAsynchronously);
            var number = Interlocked.Increment(ref _asked);
            if (!_jobs.TryAdd(new Job(() => Do(work, answer, cancel), number), 0, CancellationToken.None))
            {
                throw new WorkshopFullException("the server has more questions than it can work on: ask again in a moment");
            }

            return await answer.Task.WaitAsync(cancel).ConfigureAwait(false);
        }
        finally
        {
            Leave(client);
        }
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

    public void Dispose() => _jobs.CompleteAdding();
}
