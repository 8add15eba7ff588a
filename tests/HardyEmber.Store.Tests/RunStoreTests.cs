using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Store.Tests;

public sealed class RunStoreTests : IAsyncDisposable
{
    private readonly string _folder = Repository.TemporaryFolder();
    private Database _database;
    private StoreWriter _writer;
    private RunStore _store;

    public RunStoreTests() => (_database, _writer, _store) = Open();

    private (Database, StoreWriter, RunStore) Open()
    {
        var database = Database.Open(_folder);
        var writer = new StoreWriter(database);
        return (database, writer, new RunStore(database, writer));
    }

    private async Task ReopenAsync()
    {
        await _writer.DisposeAsync();
        _database.Dispose();
        (_database, _writer, _store) = Open();
    }

    public async ValueTask DisposeAsync()
    {
        await _writer.DisposeAsync();
        _database.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private Task<string> CreateAsync(string pilot = "Flint", int minutes = 0, params RunCommand[] commands) =>
        _store.CreateAsync(new RunLog(Header(pilot), commands), Day.AddMinutes(minutes));

    private static readonly DateTimeOffset Day = new(2026, 1, 14, 6, 0, 0, TimeSpan.Zero);

    private static RunHeader Header(string pilot = "Flint") => Situations.DemoDay with
    {
        Faults = [new RunFault("weak-air", Level: 0.7)],
        School = new Dictionary<string, string> { ["fuelOn"] = "early" },
        Pilot = pilot,
    };

    [Fact]
    public async Task A_run_comes_back_as_it_was()
    {
        var run = new RunLog(Header(), [new(50, CommandKind.Set, "battery", "on"), new(60, CommandKind.Set, "trim", null, 11.5), new(70, CommandKind.Hold, "fire-test", "a")]);
        var stored = _store.Find(await _store.CreateAsync(run, Day))!;
        Assert.Equal(run.Commands, stored.Log.Commands);
        Assert.Equal(System.Text.Json.JsonSerializer.Serialize(run.Header), System.Text.Json.JsonSerializer.Serialize(stored.Log.Header));
        Assert.Equal(Day, stored.Created);
        Assert.Equal(70, stored.ProgressStep);
        Assert.False(stored.Ended);
    }

    [Fact]
    public async Task Appended_commands_survive_a_reopened_database_in_order()
    {
        var id = await CreateAsync();
        await Task.WhenAll(Enumerable.Range(0, 500).Select(i => _writer.AppendAsync(id, i, new RunCommand(i * 3, CommandKind.Set, "battery", i % 2 == 0 ? "on" : "off"))));
        await ReopenAsync();
        var commands = _store.Find(id)!.Log.Commands;
        Assert.Equal(500, commands.Count);
        Assert.Equal(Enumerable.Range(0, 500).Select(i => (long)i * 3), commands.Select(c => c.Step));
    }

    [Fact]
    public async Task A_command_that_cannot_be_stored_tells_its_caller_and_takes_no_other_with_it()
    {
        var id = await CreateAsync();
        await _writer.AppendAsync(id, 0, new RunCommand(1, CommandKind.Set, "battery", "on"));
        // The three wait while the disk is busy with the one before, and go into one transaction.
        var first = _writer.AppendAsync(id, 1, new RunCommand(2, CommandKind.Set, "battery", "off"));
        var twice = _writer.AppendAsync(id, 0, new RunCommand(2, CommandKind.Set, "battery", "off"));
        var after = _writer.AppendAsync(id, 2, new RunCommand(3, CommandKind.Set, "battery", "on"));
        await Assert.ThrowsAsync<StoreException>(() => twice);
        await first;
        await after;
        Assert.Equal([1, 2, 3], _store.Find(id)!.Log.Commands.Select(c => c.Step));
    }

    [Fact]
    public async Task The_end_of_a_run_and_its_judgement_are_stored_together_or_not_at_all()
    {
        var id = await CreateAsync();
        await _writer.EndAsync(id, 0, new RunCommand(500, CommandKind.End), Ready);
        await ReopenAsync();
        Assert.True(_store.Find(id) is { Ended: true, Judged: true, Log.Ended: true });
        var other = await CreateAsync(commands: new RunCommand(1, CommandKind.Set, "battery", "on"));
        await Assert.ThrowsAsync<StoreException>(() => _writer.EndAsync(other, 0, new RunCommand(500, CommandKind.End), Ready));
        Assert.True(_store.Find(other) is { Ended: false, Judged: false, Log.Ended: false });
    }

    [Fact]
    public async Task The_judgement_that_was_given_comes_back_and_goes_with_its_run()
    {
        var id = await CreateAsync();
        Assert.Null(new JudgementStore(_database).Find(id));
        await _writer.EndAsync(id, 0, new RunCommand(500, CommandKind.End), Ready);
        await ReopenAsync();
        var given = new JudgementStore(_database).Find(id)!;
        Assert.Equal((Physics.Version, "00ff", Ready.Judgement.Sentence), (given.Physics, given.Digest, given.Judgement.Sentence));
        Assert.Equal(Ready.Judgement.Findings, given.Judgement.Findings);
        Assert.Equal(("seat", 1.5), (Assert.Single(given.Judgement.Missing), given.Milestones["battery"]));
        await WriteAsync("DELETE FROM runs");
        Assert.Null(new JudgementStore(_database).Find(id));
    }

    [Fact]
    public async Task A_version_of_the_data_is_kept_once_and_a_damaged_one_is_none()
    {
        var (data, store) = (DataVersion.Of([new FleetFile("a.json", "{}"), new FleetFile("b/c.json", "\"ä\"")]), new DataStore(_database));
        Assert.Null(store.Find(data.Digest));
        for (var i = 0; i < 3; i++)
        {
            _ = await _store.CreateAsync(new RunLog(Header(), []), Day.AddMinutes(i), data: data);
        }

        await ReopenAsync();
        store = new DataStore(_database);
        Assert.Equal((data.Digest, 2), (store.Find(data.Digest)!.Digest, store.Find(data.Digest)!.Files.Count));
        Assert.Equal(data.Files, store.Find(data.Digest)!.Files);
        await WriteAsync("UPDATE data SET files = x'1f8b08'");
        Assert.Null(store.Find(data.Digest));
    }

    private Task WriteAsync(string sql) => _writer.WriteAsync(c =>
    {
        using var command = c.CreateCommand();
#pragma warning disable CA2100 // constant text of a test
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    });

    [Fact]
    public async Task A_long_run_arrives_whole_or_not_at_all()
    {
        var long_ = Enumerable.Range(0, 2500).Select(i => new RunCommand(i, CommandKind.Set, "radio", i % 2 == 0 ? "on" : "off")).ToArray();
        var id = await _store.CreateAsync(new RunLog(Header(), long_), Day, outcome: Ready);
        Assert.Equal(2500, _store.Find(id)!.Log.Commands.Count);
        Assert.True(_store.Find(id)!.Judged);
        // As a kill in the middle leaves it: the first part is there, the rest never came.
        await WriteAsync("UPDATE runs SET arriving = 1");
        Assert.Null(_store.Find(id));
        Assert.Equal((0, 0), (_store.List(new RunFilter()).Rows.Count, _store.Count()));
        await _store.ForgetHalfArrivedAsync();
        Assert.Empty(_store.Unjudged());
    }

    [Fact]
    public async Task An_ended_run_without_a_judgement_is_found()
    {
        var id = await CreateAsync(commands: [new(1, CommandKind.Set, "battery", "on"), new(9, CommandKind.End)]);
        _ = await CreateAsync();
        Assert.Equal([id], _store.Unjudged());
        await _store.ConcludeAsync(id, Ready);
        Assert.Empty(_store.Unjudged());
    }

    [Fact]
    public async Task What_of_a_log_is_damaged_ends_it_with_a_word()
    {
        var id = await CreateAsync(commands: [new(1, CommandKind.Set, "battery", "on"), new(2, CommandKind.Look, "battery"), new(3, CommandKind.Set, "battery", "off")]);
        await _writer.WriteAsync(c =>
        {
            using var update = c.CreateCommand();
            update.CommandText = "UPDATE commands SET kind = 'gibberish' WHERE seq = 1";
            update.ExecuteNonQuery();
        });
        var stored = _store.Find(id)!;
        Assert.Single(stored.Log.Commands);
        Assert.Contains("line 3", stored.Damage!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_list_is_newest_first_filtered_counted_and_paged()
    {
        for (var i = 0; i < 12; i++)
        {
            _ = await CreateAsync(i % 3 == 0 ? "Ash" : "Kindle", i);
        }

        var (first, total) = _store.List(new RunFilter(Limit: 5));
        Assert.Equal((5, 12), (first.Count, total));
        Assert.Equal(Day.AddMinutes(11), first[0].Created);
        Assert.Equal("early", first[0].School["fuelOn"]);
        Assert.Equal(7, _store.List(new RunFilter(After: new RunKey(first[^1].Created, first[^1].Id))).Rows.Count);
        Assert.Equal((4, 4), (_store.List(new RunFilter(Pilot: "Ash")).Rows.Count, _store.List(new RunFilter(Pilot: "Ash", Limit: 1)).Total));
        Assert.Equal(12, _store.List(new RunFilter(Beginning: "first", Aircraft: "juniper")).Total);
        Assert.Empty(_store.List(new RunFilter(Pilot: "'; DROP TABLE runs; --")).Rows);
        Assert.Equal(12, _store.Count());
    }

    [Fact]
    public async Task Paging_loses_no_row_of_one_moment()
    {
        var all = await Task.WhenAll(Enumerable.Range(0, 70).Select(_ => CreateAsync()));
        var seen = new List<string>();
        RunKey? after = null;
        while (_store.List(new RunFilter(Limit: 9, After: after)).Rows is { Count: > 0 } page)
        {
            seen.AddRange(page.Select(r => r.Id));
            after = new RunKey(page[^1].Created, page[^1].Id);
        }

        Assert.Equal(all.Order(), seen.Order());
    }

    private static RunOutcome Ready => With();

    private static RunOutcome With(params StartCard[] starts)
    {
        const string sentence = "Ready at 08:00, with 1 defect.";
        var finding = new Finding("late", Severity.Caution, 30, 40, "It came late.", "Time.", "Sooner.", new Evidence("right.n2", 20.5, 21, "%", "Right core"), "fuel");
        return new RunOutcome(new RunSummary(Verdict.ReadyWithDefects, sentence, true, 480, new Dictionary<string, double> { ["right"] = 541, ["left"] = 560 },
            new Dictionary<string, double> { ["battery"] = 1.5 }, 1, starts, "00ff"),
                new Judgement(Verdict.ReadyWithDefects, sentence, [finding, finding with { Evidence = new Evidence("hands", 12) },
                finding with { Evidence = null, Step = null }], ["seat"]));
    }

    /// <summary>What was given is read again as it was: also a finding that is held against nothing, or rests on no reading.</summary>
    [Fact]
    public async Task A_stored_judgement_is_read_as_it_was_given()
    {
        var id = await CreateAsync();
        await _store.ConcludeAsync(id, Ready);
        var stored = new JudgementStore(_database).Find(id);
        Assert.NotNull(stored);
        Assert.Equal(Ready.Judgement.Findings, stored.Judgement.Findings);
        Assert.Equal(1.5, stored.Milestones["battery"]);
    }

    [Fact]
    public async Task The_judgement_of_an_ended_run_is_listed()
    {
        await _store.ConcludeAsync(await CreateAsync(), Ready);
        var row = Assert.Single(_store.List(new RunFilter(Verdict: "ready-with-defects")).Rows);
        Assert.Equal((480.0, 560.0, 1, true), (row.Seconds, row.PeakC!.Value, row.Findings!.Value, row.Ended));
        Assert.Empty(_store.List(new RunFilter(Verdict: "launch-ready")).Rows);
    }

    [Fact]
    public async Task The_starts_of_an_ended_run_are_kept_once_and_found_by_pilot_and_type_before_a_moment()
    {
        var starts = new StartStore(_database);
        StartCard Card(double peak) => new("right", 1, StartOutcome.Idle, 100, 9, 21, 1, peak, 5, 0, 8, 43, 28, 785 - peak, "stay", null);
        for (var i = 0; i < 3; i++)
        {
            var id = await CreateAsync(i == 2 ? "Ash" : "Flint", i);
            await _store.ConcludeAsync(id, With(Card(650 + i)));
            await _store.ConcludeAsync(id, With(Card(660 + i), Card(670 + i) with { Engine = "left", Outcome = StartOutcome.CutOff, IdleS = null, ReactionS = 1.4 }));
        }

        var flint = starts.Earlier("Flint", "juniper", Day.AddHours(1), 10);
        Assert.Equal([661.0, 671, 660, 670], flint.Select(s => s.PeakC));
        Assert.Equal(("cut-off", null, 1.4, "left"), (flint[1].Outcome, flint[1].IdleS, flint[1].ReactionS!.Value, flint[1].Engine));
        Assert.Equal(2, starts.Earlier("Flint", "juniper", Day.AddMinutes(1), 10).Count);
        Assert.Single(starts.Earlier("Flint", "juniper", Day.AddHours(1), 1));
        Assert.Empty(starts.Earlier("Flint", "alder", Day.AddHours(1), 10));
    }

    [Fact]
    public async Task Progress_only_goes_forward_and_is_there_before_what_is_written_after_it()
    {
        var id = await CreateAsync();
        _writer.Progress(id, 500);
        _writer.Progress(id, 300);
        await _writer.AppendAsync(id, 0, new RunCommand(600, CommandKind.Set, "battery", "on"));
        Assert.Equal(500, _store.Find(id)!.ProgressStep);
        Assert.Null(_store.Find("no-such-run"));
    }

    [Fact]
    public void A_second_server_on_the_same_folder_is_told_so() =>
        Assert.Contains("another server already uses", Assert.Throws<DataFolderException>(() => Database.Open(_folder)).Message, StringComparison.Ordinal);

    [Fact]
    public void A_file_that_is_no_database_is_refused_and_left_alone()
    {
        var folder = Repository.TemporaryFolder();
        var file = Path.Combine(folder, "ember.db");
        File.WriteAllText(file, new string('x', 5000));
        Assert.Throws<DataFolderException>(() => Database.Open(folder));
        Assert.Equal(5000, new FileInfo(file).Length);
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public void A_folder_that_cannot_be_made_is_one_clear_line()
    {
        var file = Path.Combine(_folder, "plain-file");
        File.WriteAllText(file, "");
        var e = Assert.Throws<DataFolderException>(() => Database.Open(Path.Combine(file, "data")));
        Assert.Contains("cannot be written", e.Message, StringComparison.Ordinal);
        Assert.DoesNotContain('\n', e.Message);
    }

    private static void Run(Microsoft.Data.Sqlite.SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // texts of this file
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }

    [Fact]
    public async Task A_full_disk_is_told_and_nothing_is_half_done()
    {
        var id = await CreateAsync();
        // The database may grow by no page more: to SQLite that is a full disk.
        await _writer.WriteAsync(c => Run(c, "PRAGMA max_page_count = 1"));
        var e = await Assert.ThrowsAsync<StoreException>(() => CreateAsync(commands: [.. Enumerable.Range(0, 900).Select(i => new RunCommand(i, CommandKind.Set, "radio", "on"))]));
        Assert.Contains("the disk is full", e.Message, StringComparison.Ordinal);
        Assert.Equal(1, _store.Count());
        await ReopenAsync();
        await _writer.AppendAsync(id, 0, new RunCommand(1, CommandKind.Set, "battery", "on"));
        Assert.Single(_store.Find(id)!.Log.Commands);
    }

    [Fact]
    public async Task A_database_that_vanished_is_told_and_no_new_one_takes_its_place()
    {
        _ = await CreateAsync();
        var file = Path.Combine(_folder, "ember.db");
        File.Move(file, file + ".away");
        Assert.Contains("has gone", (await Assert.ThrowsAsync<StoreException>(() => CreateAsync())).Message, StringComparison.Ordinal);
        Assert.Throws<StoreException>(() => _store.Count());
        Assert.False(File.Exists(file));
        File.Move(file + ".away", file);
        Assert.Equal(1, _store.Count());
        _ = await CreateAsync();
    }

    [Fact]
    public async Task Another_programs_lock_is_waited_for_and_then_told()
    {
        var id = await CreateAsync();
        using var other = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(_folder, "ember.db")}");
        other.Open();
        Run(other, "BEGIN IMMEDIATE");
        var e = await Assert.ThrowsAsync<StoreException>(() => _writer.AppendAsync(id, 0, new RunCommand(1, CommandKind.Set, "battery", "on")));
        Assert.Contains("another program holds", e.Message, StringComparison.Ordinal);
        Run(other, "ROLLBACK");
        await _writer.AppendAsync(id, 0, new RunCommand(1, CommandKind.Set, "battery", "on"));
    }

    [Fact]
    public async Task A_newer_and_a_damaged_database_are_refused_with_a_word()
    {
        _ = await CreateAsync(commands: [.. Enumerable.Range(0, 900).Select(i => new RunCommand(i, CommandKind.Set, "radio", "on"))]);
        await _writer.WriteAsync(c => Run(c, "INSERT INTO SchemaVersions (ScriptName, Applied) VALUES ('HardyEmber.Store.Migrations.0099-later.sql', '2030-01-01')"));
        await _writer.DisposeAsync();
        _database.Dispose();
        Assert.Contains("newer version", Assert.Throws<DataFolderException>(() => Database.Open(_folder)).Message, StringComparison.Ordinal);
        var file = Path.Combine(_folder, "ember.db");
        var bytes = await File.ReadAllBytesAsync(file, TestContext.Current.CancellationToken);
        Array.Fill(bytes, (byte)0x5A, 4096, bytes.Length - 8192);
        await File.WriteAllBytesAsync(file, bytes, TestContext.Current.CancellationToken);
        var damaged = Assert.Throws<DataFolderException>(() => Database.Open(_folder));
        Assert.Contains("damaged", damaged.Message, StringComparison.Ordinal);
        Assert.DoesNotContain('\n', damaged.Message);
        Assert.Equal(bytes.Length, new FileInfo(file).Length);
        File.Delete(file);
        (_database, _writer, _store) = Open();
    }

    [Theory]
    [InlineData("report", double.PositiveInfinity)]
    [InlineData("report", 3.0)]
    [InlineData("set", double.PositiveInfinity)]
    public async Task A_stored_number_that_is_none_or_stands_for_a_word_makes_its_command_unreadable(string kind, double number)
    {
        var id = await CreateAsync(commands: [new RunCommand(1, CommandKind.Set, "battery", "on"), new RunCommand(2, CommandKind.Set, "trim", null, 11)]);
        await _writer.WriteAsync(c => Run(c, FormattableString.Invariant(
            $"UPDATE commands SET kind = '{kind}', number = {(double.IsFinite(number) ? number : "9e999")} WHERE run = '{id}' AND seq = 1")));
        var run = _store.Find(id)!;
        Assert.Single(run.Log.Commands);
        Assert.StartsWith("line 3: ", run.Damage, StringComparison.Ordinal);
    }

    [Fact]
    public void The_data_folder_is_its_owners_alone()
    {
        const UnixFileMode others = UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.GroupExecute
            | UnixFileMode.OtherRead | UnixFileMode.OtherWrite | UnixFileMode.OtherExecute;
        Assert.All(Directory.EnumerateFiles(_folder).Append(_folder), path => Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(path) & others));
        Assert.True(Directory.EnumerateFiles(_folder).Count() >= 2);
    }
}
