using System.Globalization;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>What came back with a copy.</summary>
/// <param name="Runs">Runs in it.</param>
/// <param name="Newest">When the last of them was made; null where there is none.</param>
/// <param name="Aside">Where the data are that stood there before; null where none did.</param>
public sealed record Restored(int Runs, DateTimeOffset? Newest, string? Aside);

/// <summary>
/// Puts a copy of the database in the place of the one that is there. A database has a log beside it, which is read over whatever file lies there
/// under its name: a copy that is only put over the old file is written over by the old log. The steps can be killed at any instant: once the copy stands
/// under a name that begins with <c>ember.restoring-</c>, the next opening of the folder does the rest.
/// </summary>
public static class Restore
{
    private const string Ready = "ember.restoring-", Unready = "ember.restoring.tmp";

    // The log first: a database without its log is old, a log without its database destroys the next one.
    private static readonly string[] Companions = ["-wal", "-shm", "-journal", ""];

    /// <summary>Restores a data folder from a copy.</summary>
    /// <exception cref="DataFolderException">A server has the folder open, or the copy is no sound database of this program; nothing was changed.</exception>
    public static Restored From(string copy, string folder, DateTimeOffset now)
    {
        if (!File.Exists(copy))
        {
            throw new DataFolderException($"there is no file {copy}: nothing was changed");
        }

        using var held = Database.Hold(folder);
        Finish(folder);
        var unready = Path.Combine(folder, Unready);
        File.Delete(unready);
        int runs;
        DateTimeOffset? newest;
        try
        {
            Backup.Copy(copy, unready);
            Database.Look(unready, copy);
            (runs, newest) = Holds(unready, copy);
        }
        catch (DataFolderException e)
        {
            File.Delete(unready);
            throw new DataFolderException($"{e.Message.Replace(unready, copy, StringComparison.Ordinal)} (nothing was changed)", e);
        }

        using (var whole = new FileStream(unready, FileMode.Open, FileAccess.ReadWrite))
        {
            whole.Flush(flushToDisk: true);
        }

        var stamp = now.UtcDateTime.ToString("yyyyMMdd-HHmmss", CultureInfo.InvariantCulture);
        var there = File.Exists(Path.Combine(folder, Database.File));
        File.Move(unready, Path.Combine(folder, Ready + stamp));
        Finish(folder);
        return new Restored(runs, newest, there ? Aside(folder, stamp) : null);
    }

    private static string Aside(string folder, string stamp) => Path.Combine(folder, $"ember-before-{stamp}.db");

    /// <summary>Does the rest of a restore that was killed.</summary>
    internal static void Finish(string folder)
    {
        foreach (var ready in Directory.GetFiles(folder, Ready + "*").Order(StringComparer.Ordinal))
        {
            var file = Path.Combine(folder, Database.File);
            var aside = Aside(folder, Path.GetFileName(ready)[Ready.Length..]);
            foreach (var end in Companions.Where(end => File.Exists(file + end)))
            {
                File.Move(file + end, aside + end, overwrite: true);
            }

            File.Move(ready, file);
        }
    }

    private static (int Runs, DateTimeOffset? Newest) Holds(string file, string copy)
    {
        try
        {
            using var connection = new SqliteConnection(Database.To(file, SqliteOpenMode.ReadOnly, pooled: false));
            connection.Open();
            using var select = connection.CreateCommand();
            select.CommandText = "SELECT count(*), max(created) FROM runs";
            using var reader = select.ExecuteReader();
            _ = reader.Read();
            return (reader.GetInt32(0), reader.IsDBNull(1) ? null : Rows.Time(reader.GetString(1)));
        }
        catch (SqliteException e)
        {
            throw new DataFolderException($"{copy} is no database of this program", e);
        }
    }
}
