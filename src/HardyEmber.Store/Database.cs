using DbUp;
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
    private readonly FileStream _lock;
    private readonly string _connectionString;

    private Database(FileStream held, string connectionString) => (_lock, _connectionString) = (held, connectionString);

    /// <summary>Opens or creates the database and brings its schema up to date.</summary>
    /// <exception cref="DataFolderException">The folder is read-only, in use, or not a database.</exception>
    public static Database Open(string folder)
    {
        FileStream held;
        try
        {
            Directory.CreateDirectory(folder);
            held = new FileStream(Path.Combine(folder, "ember.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
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

        try
        {
            var connectionString = new SqliteConnectionStringBuilder
            {
                DataSource = Path.Combine(folder, "ember.db"),
                ForeignKeys = true,
                DefaultTimeout = 5,
            }.ToString();
            using (var connection = new SqliteConnection(connectionString))
            {
                connection.Open();
                Execute(connection, "PRAGMA journal_mode = WAL");
            }

            var result = DeployChanges.To.SqliteDatabase(connectionString)
                .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, name => name.EndsWith(".sql", StringComparison.Ordinal))
                .WithTransactionPerScript()
                .LogTo(new NoOpUpgradeLog())
                .Build()
                .PerformUpgrade();
            return result.Successful ? new Database(held, connectionString)
                : throw new DataFolderException($"the database in {folder} could not be brought up to date: {result.Error.Message}", result.Error);
        }
        catch (SqliteException e)
        {
            held.Dispose();
            throw new DataFolderException($"the database in {folder} cannot be used: {e.Message}", e);
        }
        catch
        {
            held.Dispose();
            throw;
        }
    }

    /// <summary>A connection from the pool.</summary>
    /// <param name="durable">A commit has reached the disk when it returns, so an acknowledged command survives anything. Else it may be lost with the power, and nothing else.</param>
    public SqliteConnection Connect(bool durable = true)
    {
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

    private static void Execute(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // constant text from this file
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        _lock.Dispose();
    }
}
