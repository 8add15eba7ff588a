using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>The database cannot do what was asked; nothing was half done. The message says what to do.</summary>
public sealed class StoreException(string message, Exception? inner = null) : Exception(message, inner)
{
    private const int Busy = 5, Locked = 6, ReadOnly = 8, InputOutput = 10, Corrupt = 11, Full = 13, CannotOpen = 14, NotADatabase = 26;

    private const string GoneText = "the database has gone from the data folder: nothing was stored. Put it back, or start the server anew.";

    /// <summary>The file is no longer there.</summary>
    public static StoreException Gone() => new(GoneText);

    /// <summary>What an error of SQLite means for whoever runs the server.</summary>
    public static StoreException Of(SqliteException e)
    {
        ArgumentNullException.ThrowIfNull(e);
        return new StoreException(e.SqliteErrorCode switch
        {
            Full => "the disk is full: nothing was stored. Free some space and try again.",
            Busy or Locked => "another program holds the database: nothing was stored. Close it and try again.",
            ReadOnly => "the database may not be written: nothing was stored. Give the server's user its rights back.",
            InputOutput => "the disk does not answer as it should: nothing was stored. Look at the disk, then try again.",
            CannotOpen => GoneText,
            Corrupt or NotADatabase => "the database is damaged: nothing was stored. Stop the server, then bring a copy back (./ember restore FILE).",
            _ => $"the database refused: {e.Message}",
        }, e);
    }
}
