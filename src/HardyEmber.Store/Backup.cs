using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>Copies of the database: complete in one file, checked to the last page.</summary>
public static class Backup
{
    /// <summary>Copies the database of a data folder, also while a server uses it.</summary>
    /// <exception cref="DataFolderException">There is nothing to copy, the copy cannot be written, or it is damaged; no copy is left then.</exception>
    public static void Make(string folder, string copy)
    {
        var file = Path.Combine(folder, Database.File);
        if (!File.Exists(file))
        {
            throw new DataFolderException($"there is no database in {folder}");
        }

        if (File.Exists(copy))
        {
            throw new DataFolderException($"{copy} is there already: nothing was written over");
        }

        if (Path.GetDirectoryName(Path.GetFullPath(copy)) is { } into && !Directory.Exists(into))
        {
            throw new DataFolderException($"there is no folder {into}: make it, or name another");
        }

        Copy(file, copy);
    }

    /// <summary>Copies a database into a new file, with what stands in its log, and checks the copy.</summary>
    /// <exception cref="DataFolderException">It cannot be read, the copy cannot be written, or it is damaged; no copy is left then.</exception>
    internal static void Copy(string file, string copy)
    {
        try
        {
            using var from = new SqliteConnection(Database.To(file, SqliteOpenMode.ReadOnly, pooled: false));
            using var to = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = copy, Pooling = false }.ToString());
            from.Open();
            to.Open();
            File.SetUnixFileMode(copy, Database.OwnerOnly);
            from.BackupDatabase(to);
            Database.Execute(to, "PRAGMA journal_mode = DELETE"); // one file, complete in itself
            if (Database.Checked(to, "integrity_check") is { } damage)
            {
                throw new DataFolderException($"the copy is damaged, as {file} is: {damage}");
            }
        }
        catch (Exception e)
        {
            foreach (var left in new[] { copy, copy + "-journal", copy + "-wal", copy + "-shm" })
            {
                File.Delete(left);
            }

            if (e is SqliteException or IOException or UnauthorizedAccessException)
            {
                throw new DataFolderException($"{copy} could not be written: {(e is SqliteException trouble ? StoreException.Of(trouble).Message : e.Message)}", e);
            }

            throw;
        }
    }
}
