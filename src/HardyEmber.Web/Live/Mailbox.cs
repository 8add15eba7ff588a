using System.Threading.Channels;

namespace HardyEmber.Web.Live;

/// <summary>Does what it is asked one at a time, in the order it was asked: what belongs to it needs no lock.</summary>
internal sealed class Mailbox
{
    private readonly Channel<Func<Task>> _letters = Channel.CreateUnbounded<Func<Task>>(new UnboundedChannelOptions { SingleReader = true });

    /// <param name="on">The threads on which it works.</param>
    public Mailbox(TaskScheduler on) => _ = Task.Factory.StartNew(WorkAsync, CancellationToken.None, TaskCreationOptions.None, on);

    /// <summary>Completes when the work is done; what it throws is thrown here.</summary>
    public Task<T> AskAsync<T>(Func<Task<T>> work)
    {
        var answer = new TaskCompletionSource<T>(TaskCreationOptions.RunContinuationsAsynchronously);
        return Post(async () =>
        {
            try
            {
                answer.SetResult(await work().ConfigureAwait(false));
            }
#pragma warning disable CA1031 // whoever asked is told, whatever it was
            catch (Exception e)
#pragma warning restore CA1031
            {
                answer.SetException(e);
            }
        }) ? answer.Task : Task.FromException<T>(new RunClosedException());
    }

    public Task<T> AskAsync<T>(Func<T> work) => AskAsync(() => Task.FromResult(work()));

    /// <summary>Leaves work that nobody waits for and that throws nothing; false after <see cref="Close"/>.</summary>
    public bool Post(Func<Task> work) => _letters.Writer.TryWrite(work);

    /// <summary>Takes no more; what was asked before is still done.</summary>
    public void Close() => _letters.Writer.TryComplete();

    private async Task WorkAsync()
    {
        // It stays on its own threads.
        await foreach (var letter in _letters.Reader.ReadAllAsync().ConfigureAwait(true))
        {
            await letter().ConfigureAwait(true);
        }
    }
}

/// <summary>The run has left the memory; whoever needs it opens it again.</summary>
public sealed class RunClosedException() : Exception("the run has been put away; open it again");
