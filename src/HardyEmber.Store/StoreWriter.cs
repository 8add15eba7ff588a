using System.Threading.Channels;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>
/// The one hand that writes to the database. Whatever has gathered while the disk was busy goes into the next transaction, so that
/// 300 pilots cost one flush at a time, not 300, and no two writers ever wait for each other.
/// </summary>
public sealed class StoreWriter : IAsyncDisposable
{
    private const int MostAtOnce = 256;
    private readonly Channel<Entry> _queue = Channel.CreateBounded<Entry>(4096);
    private readonly Database _database;
    private readonly Task _loop;

    // What is not durable may be lost with the power: it costs no flush.
    private sealed record Entry(Action<SqliteConnection> Write, bool Durable, TaskCompletionSource Done);

    public StoreWriter(Database database)
    {
        _database = database;
        _loop = Task.Run(WriteAsync);
    }

    /// <summary>Completes when what was written is on the disk.</summary>
    /// <exception cref="StoreException">Nothing was written; the message says why and what to do.</exception>
    public Task WriteAsync(Action<SqliteConnection> write) => PutAsync(write, durable: true);

    /// <summary>Completes when the command is on the disk.</summary>
    /// <exception cref="StoreException">Nothing was written.</exception>
    public Task AppendAsync(string run, int seq, RunCommand command) => WriteAsync(c => RunStore.Insert(c, run, seq, command));

    /// <summary>Stores the end of a run with its judgement: both or neither.</summary>
    /// <exception cref="StoreException">Nothing was written.</exception>
    public Task EndAsync(string run, int seq, RunCommand end, RunOutcome outcome) => WriteAsync(c =>
    {
        RunStore.Insert(c, run, seq, end);
        RunStore.Conclude(c, run, outcome);
    });

    /// <summary>Remembers how far a run has got: a promise to nobody, so it costs no flush.</summary>
    public void Progress(string run, long step) => _ = PutAsync(c => RunStore.Progress(c, run, step), durable: false);

    private async Task PutAsync(Action<SqliteConnection> write, bool durable)
    {
        var entry = new Entry(write, durable, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously));
        await _queue.Writer.WriteAsync(entry).ConfigureAwait(false);
        await entry.Done.Task.ConfigureAwait(false);
    }

    private async Task WriteAsync()
    {
        var batch = new List<Entry>();
        while (await _queue.Reader.WaitToReadAsync().ConfigureAwait(false))
        {
            batch.Clear();
            while (batch.Count < MostAtOnce && _queue.Reader.TryRead(out var entry))
            {
                batch.Add(entry);
            }

            if (!Commit(batch, last: batch.Count == 1) && batch.Count > 1)
            {
                // One that cannot be written must not take the others with it.
                batch.ForEach(e => Commit([e], last: true));
            }
        }
    }

    private bool Commit(List<Entry> batch, bool last)
    {
        try
        {
            using var connection = _database.Connect(durable: batch.Exists(e => e.Durable));
            using var transaction = connection.BeginTransaction();
            batch.ForEach(e => e.Write(connection));
            transaction.Commit();
            batch.ForEach(e => e.Done.SetResult());
            return true;
        }
#pragma warning disable CA1031 // whatever went wrong, every waiting pilot must be told that nothing was stored
        catch (Exception e)
#pragma warning restore CA1031
        {
            if (last)
            {
                batch.ForEach(entry => entry.Done.TrySetException(e is SqliteException trouble ? StoreException.Of(trouble) : e));
            }

            return false;
        }
    }

    public async ValueTask DisposeAsync()
    {
        _ = _queue.Writer.TryComplete();
        await _loop.ConfigureAwait(false);
    }
}
