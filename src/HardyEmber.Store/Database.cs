using DbUp;
using DbUp.Engine;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>The data folder cannot be used; the message is one line for whoever started the program.</summary>
public sealed class DataFolderException(string message, Exception? inner = null) : Exception(message, inner);

/// <summary>
/// The SQLite database in a data folder. One server owns a folder at a time: it holds a lock file, which the system
/// releases even when the process is killed.
/// </summary>
public sealed class Database : IDisposable
{
    internal const string File = "ember.db";
    internal const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;
    private readonly FileStream _lock;
    private readonly string _connectionString, _file;

    private Database(FileStream held, string file) => (_lock, _file, _connectionString) = (held, file, To(file, SqliteOpenMode.ReadWrite));

    internal static string To(string file, SqliteOpenMode mode, bool pooled = true) =>
        new SqliteConnectionStringBuilder { DataSource = file, Mode = mode, ForeignKeys = true, DefaultTimeout = 5, Pooling = pooled }.ToString();

    /// <summary>Opens or creates the database and brings its schema up to date.</summary>
    /// <exception cref="DataFolderException">The folder is read-only, in use, or not a database.</exception>
    public static Database Open(string folder)
    {
        var held = Hold(folder);
        var file = Path.Combine(folder, File);
        try
        {
            Restore.Finish(folder);
            if (!System.IO.File.Exists(file))
            {
                new FileStream(file, new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write, UnixCreateMode = OwnerOnly }).Dispose();
            }

            System.IO.File.SetUnixFileMode(file, OwnerOnly); // its companions take after it
            var scripts = Scripts(file);
            Look(file, folder);
            using (var connection = new SqliteConnection(To(file, SqliteOpenMode.ReadWrite, pooled: false)))
            {
                connection.Open();
                Execute(connection, "PRAGMA journal_mode = WAL");
            }

            var result = scripts.PerformUpgrade();
            return result.Successful ? new Database(held, file)
                : throw new DataFolderException($"the database in {folder} could not be brought up to date: {result.Error.Message}", result.Error);
        }
        catch (SqliteException e)
        {
            held.Dispose();
            throw new DataFolderException($"the database in {folder} cannot be used: {StoreException.Of(e).Message}", e);
        }
        catch
        {
            held.Dispose();
            throw;
        }
    }

    private static UpgradeEngine Scripts(string file) => DeployChanges.To.SqliteDatabase(To(file, SqliteOpenMode.ReadWrite, pooled: false))
        .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, name => name.EndsWith(".sql", StringComparison.Ordinal))
        .WithTransactionPerScript()
        .LogTo(new NoOpUpgradeLog())
        .Build();

    /// <summary>Looks whether a file is a whole database that this version of the program can read.</summary>
    /// <param name="named">How a message names it.</param>
    /// <exception cref="DataFolderException">It is damaged, or of a newer version.</exception>
    internal static void Look(string file, string named)
    {
        using (var connection = new SqliteConnection(To(file, SqliteOpenMode.ReadWrite, pooled: false)))
        {
            connection.Open();
            if (Checked(connection, "quick_check") is { } damage)
            {
                throw new DataFolderException($"the database in {named} is damaged ({damage}): ./ember restore FILE puts a copy in its place (./ember backup makes them)");
            }
        }

        var scripts = Scripts(file);
        var known = scripts.GetDiscoveredScripts().Select(s => s.Name).ToHashSet();
        if (scripts.GetExecutedScripts().FirstOrDefault(s => !known.Contains(s)) is { } newer)
        {
            throw new DataFolderException($"the database in {named} was written by a newer version of this program ({newer}): use that one");
        }
    }

    /// <summary>Takes a data folder for this process alone; it is let go when the file is closed, also by a kill.</summary>
    /// <exception cref="DataFolderException">It cannot be written, or another server has it.</exception>
    internal static FileStream Hold(string folder)
    {
        try
        {
            // What pilots did is nobody else's to read.
            _ = Directory.CreateDirectory(folder, OwnerOnly | UnixFileMode.UserExecute);
            System.IO.File.SetUnixFileMode(folder, OwnerOnly | UnixFileMode.UserExecute);
            return new FileStream(Path.Combine(folder, "ember.lock"), new FileStreamOptions
            {
                Mode = FileMode.OpenOrCreate,
                Access = FileAccess.ReadWrite,
                Share = FileShare.None,
                UnixCreateMode = OwnerOnly
            });
        }
        catch (UnauthorizedAccessException e)
        {
            throw new DataFolderException($"the data folder {folder} cannot be written: {e.Message}", e);
        }
        catch (IOException e)
        {
            throw new DataFolderException(e.Message.Contains("being used", StringComparison.Ordinal)
                ? $"another server already uses the data folder {folder}" : $"the data folder {folder} cannot be written: {e.Message}", e);
        }
    }

    /// <summary>A connection from the pool.</summary>
    /// <param name="durable">A commit has reached the disk when it returns, so an acknowledged command survives anything. Else it may be lost with the power, and nothing
    /// else.</param>
    public SqliteConnection Connect(bool durable = true)
    {
        // A connection from the pool would go on writing to a file that nobody can find again.
        if (!System.IO.File.Exists(_file))
        {
            throw StoreException.Gone();
        }

        var connection = new SqliteConnection(_connectionString);
        try
        {
            connection.Open();
            Execute(connection, durable ? "PRAGMA synchronous = FULL" : "PRAGMA synchronous = NORMAL");
            return connection;
        }
        catch
        {
            connection.Dispose();
            throw;
        }
    }

    // The first fault that SQLite finds, or null.
    internal static string? Checked(SqliteConnection connection, string how)
    {
        using var check = connection.CreateCommand();
#pragma warning disable CA2100 // constant text from this file
        check.CommandText = $"PRAGMA {how}(1)";
#pragma warning restore CA2100
        return check.ExecuteScalar() as string is var answer && answer == "ok" ? null : (answer ?? "no answer").ReplaceLineEndings(" ");
    }

    internal static void Execute(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // constant text from this file
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }

    public void Dispose()
    {
        // Its own connections alone: another database of this process keeps its.
        using (var own = new SqliteConnection(_connectionString))
        {
            SqliteConnection.ClearPool(own);
        }

        _lock.Dispose();
    }
}
