using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Store.Tests;

public sealed class RunStoreTests : IDisposable
{
    private readonly string _folder = Repository.TemporaryFolder();
    private Database _database;
    private RunStore _store;

    public RunStoreTests()
    {
        _database = Database.Open(_folder);
        _store = new RunStore(_database);
    }

    public void Dispose()
    {
        _database.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private static readonly DateTimeOffset Day = new(2026, 1, 14, 6, 0, 0, TimeSpan.Zero);

    private static RunHeader Header(string pilot = "Flint") => Situations.DemoDay with
    {
        Faults = [new RunFault("weak-air", Level: 0.7)],
        School = new Dictionary<string, string> { ["fuelOn"] = "early" },
        Pilot = pilot,
    };

    [Fact]
    public void A_run_comes_back_as_it_was()
    {
        var run = new RunLog(Header(), [new(50, CommandKind.Set, "battery", "on"), new(60, CommandKind.Set, "trim", null, 11.5), new(70, CommandKind.Hold, "fire-test", "a")]);
        var stored = _store.Find(_store.Create(run, Day))!;
        Assert.Equal(run.Commands, stored.Log.Commands);
        Assert.Equal(System.Text.Json.JsonSerializer.Serialize(run.Header), System.Text.Json.JsonSerializer.Serialize(stored.Log.Header));
        Assert.Equal(Day, stored.Created);
        Assert.Equal(70, stored.ProgressStep);
        Assert.False(stored.Ended);
    }

    [Fact]
    public async Task Appended_commands_survive_a_reopened_database_in_order()
    {
        var id = _store.Create(new RunLog(Header(), []), Day);
        await using (var writer = new CommandLogWriter(_database))
        {
            await Task.WhenAll(Enumerable.Range(0, 500).Select(i => writer.AppendAsync(id, i, new RunCommand(i * 3, CommandKind.Set, "battery", i % 2 == 0 ? "on" : "off"))));
        }

        _database.Dispose();
        _database = Database.Open(_folder);
        _store = new RunStore(_database);
        var commands = _store.Find(id)!.Log.Commands;
        Assert.Equal(500, commands.Count);
        Assert.Equal(Enumerable.Range(0, 500).Select(i => (long)i * 3), commands.Select(c => c.Step));
    }

    [Fact]
    public async Task A_command_that_cannot_be_stored_tells_its_caller_and_changes_nothing()
    {
        var id = _store.Create(new RunLog(Header(), []), Day);
        await using var writer = new CommandLogWriter(_database);
        await writer.AppendAsync(id, 0, new RunCommand(1, CommandKind.Set, "battery", "on"));
        await Assert.ThrowsAnyAsync<Exception>(() => writer.AppendAsync(id, 0, new RunCommand(2, CommandKind.Set, "battery", "off")));
        Assert.Single(_store.Find(id)!.Log.Commands);
        await writer.AppendAsync(id, 1, new RunCommand(3, CommandKind.Set, "battery", "off"));
        Assert.Equal(2, _store.Find(id)!.Log.Commands.Count);
    }

    [Fact]
    public void The_list_is_newest_first_filtered_and_paged()
    {
        for (var i = 0; i < 12; i++)
        {
            _store.Create(new RunLog(Header(i % 3 == 0 ? "Ash" : "Kindle"), []), Day.AddMinutes(i));
        }

        var first = _store.List(new RunFilter(Limit: 5));
        Assert.Equal(5, first.Count);
        Assert.Equal(Day.AddMinutes(11), first[0].Created);
        var next = _store.List(new RunFilter(Limit: 50, Before: first[^1].Created));
        Assert.Equal(7, next.Count);
        Assert.Equal(4, _store.List(new RunFilter(Pilot: "Ash")).Count);
        Assert.Empty(_store.List(new RunFilter(Pilot: "'; DROP TABLE runs; --")));
        Assert.Equal(12, _store.Count());
    }

    [Fact]
    public void The_judgement_of_an_ended_run_is_listed()
    {
        var id = _store.Create(new RunLog(Header(), []), Day);
        _store.Conclude(id, new RunSummary(Verdict.ReadyWithDefects, "Ready at 08:00, with 1 defect.", true, 480, new Dictionary<string, double> { ["right"] = 541, ["left"] = 560 }, new Dictionary<string, double>(), 1, [], "0"));
        var row = Assert.Single(_store.List(new RunFilter(Verdict: "ready-with-defects")));
        Assert.Equal((480.0, 560.0, 1, true), (row.Seconds, row.PeakC!.Value, row.Findings!.Value, row.Ended));
        Assert.Empty(_store.List(new RunFilter(Verdict: "launch-ready")));
    }

    [Fact]
    public void The_starts_of_an_ended_run_are_kept_once_and_found_by_pilot_and_type_before_a_moment()
    {
        var starts = new StartStore(_database);
        StartCard Card(double peak) => new("right", 1, StartOutcome.Idle, 100, 9, 21, 1, peak, 5, 0, 8, 43, 28, 785 - peak, "stay", null);
        RunSummary Summary(params StartCard[] cards) => new(Verdict.LaunchReady, "Launch-ready.", true, 480, new Dictionary<string, double>(), new Dictionary<string, double>(), 0, cards, "0");
        for (var i = 0; i < 3; i++)
        {
            var id = _store.Create(new RunLog(Header() with { Pilot = i == 2 ? "Ash" : "Flint" }, []), Day.AddMinutes(i));
            _store.Conclude(id, Summary(Card(650 + i)));
            _store.Conclude(id, Summary(Card(660 + i), Card(670 + i) with { Engine = "left", Outcome = StartOutcome.CutOff, IdleS = null, ReactionS = 1.4 }));
        }

        var flint = starts.Earlier("Flint", "juniper", Day.AddHours(1), 10);
        Assert.Equal([661.0, 671, 660, 670], flint.Select(s => s.PeakC));
        Assert.Equal(("cut-off", null, 1.4, "left"), (flint[1].Outcome, flint[1].IdleS, flint[1].ReactionS!.Value, flint[1].Engine));
        Assert.Equal(2, starts.Earlier("Flint", "juniper", Day.AddMinutes(1), 10).Count);
        Assert.Single(starts.Earlier("Flint", "juniper", Day.AddHours(1), 1));
        Assert.Empty(starts.Earlier("Flint", "alder", Day.AddHours(1), 10));
    }

    [Fact]
    public void Progress_only_goes_forward()
    {
        var id = _store.Create(new RunLog(Header(), []), Day);
        _store.Progress([(id, 500)]);
        _store.Progress([(id, 300)]);
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
}
