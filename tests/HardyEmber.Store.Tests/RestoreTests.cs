using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Store.Tests;

/// <summary>Copies of the logbook: made whole or not at all, and put back without what stood there before getting into them.</summary>
public sealed class RestoreTests : IDisposable
{
    private static readonly DateTimeOffset Day = new(2026, 1, 14, 6, 0, 0, TimeSpan.Zero);
    private readonly string _folder = Repository.TemporaryFolder(), _copies = Repository.TemporaryFolder();

    private string Copy => Path.Combine(_copies, "copy.db");
    private string Aside => Path.Combine(_folder, "ember-before-20260114-060000.db");

    public void Dispose()
    {
        Directory.Delete(_folder, recursive: true);
        Directory.Delete(_copies, recursive: true);
    }

    private async Task FillAsync(int runs)
    {
        using var database = Database.Open(_folder);
        await using var writer = new StoreWriter(database);
        for (var i = 0; i < runs; i++)
        {
            _ = await new RunStore(database, writer).CreateAsync(new RunLog(Situations.DemoDay, []), Day.AddMinutes(i));
        }
    }

    private static int Count(string folder)
    {
        using var database = Database.Open(folder);
        return new RunStore(database, null!).Count();
    }

    /// <summary>A copy of two runs; then the folder as a kill leaves it: five runs, the last of them only in the log beside the database.</summary>
    private async Task KilledAsync()
    {
        await FillAsync(2);
        Backup.Make(_folder, Copy);
        await FillAsync(1);
        using (var database = Database.Open(_folder))
        {
            await using var writer = new StoreWriter(database);
            for (var i = 0; i < 2; i++)
            {
                _ = await new RunStore(database, writer).CreateAsync(new RunLog(Situations.DemoDay, []), Day.AddHours(i));
            }

            foreach (var end in new[] { "", "-wal" })
            {
                File.Copy(Path.Combine(_folder, "ember.db" + end), Path.Combine(_copies, "killed.db" + end));
            }
        }

        foreach (var end in new[] { "", "-wal" })
        {
            File.Move(Path.Combine(_copies, "killed.db" + end), Path.Combine(_folder, "ember.db" + end), overwrite: true);
        }

        Assert.True(new FileInfo(Path.Combine(_folder, "ember.db-wal")).Length > 0);
    }

    [Fact]
    public async Task A_copy_comes_back_beside_an_old_log_and_what_was_there_is_kept_whole()
    {
        await KilledAsync();
        var back = Restore.From(Copy, _folder, Day);
        Assert.Equal((2, Day.AddMinutes(1), Aside), (back.Runs, back.Newest, back.Aside));
        Assert.Equal(2, Count(_folder));
        Assert.Equal(2, Count(_folder)); // and the second time it is opened
        var before = Directory.CreateDirectory(Path.Combine(_copies, "before")).FullName;
        foreach (var end in new[] { "", "-wal" })
        {
            File.Copy(Aside + end, Path.Combine(before, "ember.db" + end));
        }

        Assert.Equal(5, Count(before));
    }

    [Theory]
    [InlineData("-wal")]
    [InlineData("-wal", "")]
    [InlineData("-wal", "-shm", "")]
    [InlineData]
    public async Task Killed_in_the_middle_it_is_finished_by_who_opens_the_folder_next(params string[] moved)
    {
        await KilledAsync();
        File.Copy(Copy, Path.Combine(_folder, "ember.restoring-20260114-060000"));
        foreach (var end in moved.Where(end => File.Exists(Path.Combine(_folder, "ember.db" + end))))
        {
            File.Move(Path.Combine(_folder, "ember.db" + end), Aside + end);
        }

        Assert.Equal(2, Count(_folder));
        Assert.True(File.Exists(Aside) && File.Exists(Aside + "-wal"));
        Assert.Empty(Directory.GetFiles(_folder, "*restoring*"));
    }

    [Fact]
    public async Task It_is_refused_while_a_server_has_the_data_open()
    {
        await FillAsync(1);
        Backup.Make(_folder, Copy);
        using var database = Database.Open(_folder);
        Assert.Contains("already uses", Assert.Throws<DataFolderException>(() => Restore.From(Copy, _folder, Day)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_no_sound_copy_is_refused_and_changes_nothing()
    {
        await FillAsync(3);
        Backup.Make(_folder, Copy);
        var other = Path.Combine(_copies, "other.db");
        void Refused(string file, string words)
        {
            Assert.Contains(words, Assert.Throws<DataFolderException>(() => Restore.From(file, _folder, Day)).Message, StringComparison.Ordinal);
            Assert.Equal(3, Count(_folder));
            Assert.Empty(Directory.GetFiles(_folder, "*restoring*"));
        }

        Refused(other, "there is no file");
        await File.WriteAllTextAsync(other, "no database at all", TestContext.Current.CancellationToken);
        Refused(other, "nothing was changed");
        var bytes = await File.ReadAllBytesAsync(Copy, TestContext.Current.CancellationToken);
        Array.Fill(bytes, (byte)0x5A, 8192, 8192);
        await File.WriteAllBytesAsync(other, bytes, TestContext.Current.CancellationToken);
        Refused(other, "nothing was changed");
        File.Delete(other);
        using (var strange = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={other};Pooling=False"))
        {
            strange.Open();
            using var make = strange.CreateCommand();
            make.CommandText = "CREATE TABLE cakes (name TEXT)";
            make.ExecuteNonQuery();
        }

        Refused(other, "no database of this program");
    }

    [Fact]
    public async Task A_copy_that_fails_leaves_no_file_and_a_missing_folder_is_named()
    {
        await FillAsync(2);
        var nowhere = Path.Combine(_copies, "nowhere");
        Assert.Contains($"there is no folder {nowhere}", Assert.Throws<DataFolderException>(() => Backup.Make(_folder, Path.Combine(nowhere, "copy.db"))).Message,
            StringComparison.Ordinal);
        var file = Path.Combine(_folder, "ember.db");
        var bytes = await File.ReadAllBytesAsync(file, TestContext.Current.CancellationToken);
        Array.Fill(bytes, (byte)0x5A, 8192, 8192);
        await File.WriteAllBytesAsync(file, bytes, TestContext.Current.CancellationToken);
        _ = Assert.Throws<DataFolderException>(() => Backup.Make(_folder, Copy));
        Assert.Empty(Directory.GetFiles(_copies));
    }

    [Fact]
    public async Task A_copy_is_made_while_the_server_writes_and_opens_as_it_is()
    {
        using var database = Database.Open(_folder);
        await using var writer = new StoreWriter(database);
        var store = new RunStore(database, writer);
        var id = await store.CreateAsync(new RunLog(Situations.DemoDay, [new RunCommand(1, CommandKind.Set, "battery", "on")]), Day);
        var writes = Task.WhenAll(Enumerable.Range(0, 200).Select(i => store.CreateAsync(new RunLog(Situations.DemoDay, []), Day.AddMinutes(i))));
        Backup.Make(_folder, Copy);
        await writes;
        Assert.Contains("there already", Assert.Throws<DataFolderException>(() => Backup.Make(_folder, Copy)).Message, StringComparison.Ordinal);
        File.Move(Copy, Path.Combine(_copies, "ember.db"));
        using var copied = Database.Open(_copies);
        Assert.Single(new RunStore(copied, null!).Find(id)!.Log.Commands);
    }
}
