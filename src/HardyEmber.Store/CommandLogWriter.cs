using System.Threading.Channels;
using HardyEmber.Core.Runs;

namespace HardyEmber.Store;

/// <summary>
/// Appends commands to the log with one writer for all runs: whatever has gathered while the disk was busy goes into the
/// next transaction, so that 300 pilots cost one flush at a time, not 300.
/// </summary>
public sealed class CommandLogWriter : IAsyncDisposable
{
    private readonly Channel<Entry> _queue = Channel.CreateBounded<Entry>(4096);
    private readonly Database _database;
    private readonly Task _loop;

    private sealed record Entry(string Run, int Seq, RunCommand Command, TaskCompletionSource Done);

    public CommandLogWriter(Database database)
    {
        _database = database;
        _loop = Task.Run(WriteAsync);
    }

    /// <summary>Completes when the command is on the disk.</summary>
    public async Task AppendAsync(string run, int seq, RunCommand command)
    {
        var entry = new Entry(run, seq, command, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously));
        await _queue.Writer.WriteAsync(entry).ConfigureAwait(false);
        await entry.Done.Task.ConfigureAwait(false);
    }

    private async Task WriteAsync()
    {
        var batch = new List<Entry>();
        while (await _queue.Reader.WaitToReadAsync().ConfigureAwait(false))
        {
            batch.Clear();
            while (batch.Count < 256 && _queue.Reader.TryRead(out var entry))
            {
                batch.Add(entry);
            }

            try
            {
                using var connection = _database.Connect();
                using var transaction = connection.BeginTransaction();
                foreach (var entry in batch)
                {
                    RunStore.Insert(connection, entry.Run, entry.Seq, entry.Command);
                }

                transaction.Commit();
                batch.ForEach(e => e.Done.SetResult());
            }
#pragma warning disable CA1031 // whatever went wrong, every waiting pilot must be told that nothing was stored
            catch (Exception e)
#pragma warning restore CA1031
            {
                batch.ForEach(entry => entry.Done.SetException(e));
            }
        }
    }

    public async ValueTask DisposeAsync()
    {
        _queue.Writer.Complete();
        await _loop.ConfigureAwait(false);
    }
}
