using System.Globalization;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>A run as the logbook lists it.</summary>
public sealed record RunRow(string Id, DateTimeOffset Created, string Aircraft, string Place, string Pilot, string Beginning, string Mode, string? Parent,
    double Seconds, bool Ended, string? Verdict, string? Sentence, double? PeakC, int? Findings, IReadOnlyDictionary<string, string> School);

/// <summary>A stored run: header, log, and how far it got.</summary>
/// <param name="Judged">Its judgement is stored.</param>
/// <param name="Damage">What of its log could not be read; null where all could.</param>
public sealed record StoredRun(string Id, DateTimeOffset Created, RunLog Log, long ProgressStep, bool Ended, string? Parent, bool Judged = false, string? Damage = null,
    long ParentStep = 0);

/// <summary>The place of a row in the logbook: the next page begins after it.</summary>
public sealed record RunKey(DateTimeOffset Created, string Id);

/// <summary>What to list.</summary>
/// <param name="Beginning">The run's beginning: first, turnaround or air.</param>
/// <param name="After">Only what comes after this row.</param>
public sealed record RunFilter(string? Pilot = null, string? Verdict = null, string? Aircraft = null, string? Beginning = null, int Limit = 50, RunKey? After = null);

/// <summary>The tables <c>runs</c> and <c>commands</c>.</summary>
public sealed class RunStore(Database database, StoreWriter writer)
{
    /// <summary>Commands written at once: more would hold up the pilots who wait for theirs.</summary>
    private const int ChunkOfCommands = 1000;

    /// <summary>Stores a run with the commands it already has and, where it has ended, its judgement. It is there when all of it is.</summary>
    /// <param name="data">The data that it was flown with, where they may not be kept yet.</param>
    /// <exception cref="StoreException">Nothing was stored.</exception>
    public async Task<string> CreateAsync(RunLog run, DateTimeOffset created, string? parent = null, long parentStep = 0, RunOutcome? outcome = null, DataVersion? data = null)
    {
        ArgumentNullException.ThrowIfNull(run);
        var id = Guid.CreateVersion7(created).ToString("n");
        var whole = run.Commands.Count <= ChunkOfCommands;
        void Finish(SqliteConnection connection)
        {
            using var update = connection.CreateCommand();
            update.CommandText = "UPDATE runs SET arriving = 0 WHERE id = $id";
            Rows.Bind(update, ("$id", id));
            update.ExecuteNonQuery();
            if (outcome is not null)
            {
                Conclude(connection, id, outcome);
            }
        }

        for (var from = 0; from == 0 || from < run.Commands.Count; from += ChunkOfCommands)
        {
            var chunk = from;
            await writer.WriteAsync(connection =>
            {
                if (chunk == 0)
                {
                    if (data is not null)
                    {
                        DataStore.Keep(connection, data);
                    }

                    InsertRun(connection, id, run, created, parent, parentStep);
                }

                for (var i = chunk; i < Math.Min(chunk + ChunkOfCommands, run.Commands.Count); i++)
                {
                    Insert(connection, id, i, run.Commands[i]);
                }

                if (whole)
                {
                    Finish(connection);
                }
            }).ConfigureAwait(false);
        }

        if (!whole)
        {
            await writer.WriteAsync(Finish).ConfigureAwait(false);
        }

        return id;
    }

    private static void InsertRun(SqliteConnection connection, string id, RunLog run, DateTimeOffset created, string? parent, long parentStep)
    {
        using var insert = connection.CreateCommand();
        insert.CommandText = """
            INSERT INTO runs (id, created, header, aircraft, place, pilot, start, mode, parent, parent_step, progress_step, ended, arriving)
            VALUES ($id, $created, $header, $aircraft, $place, $pilot, $start, $mode, $parent, $parentStep, $progress, $ended, 1)
            """;
        Rows.Bind(insert, ("$id", id), ("$created", Rows.Stamp(created)), ("$header", JsonSerializer.Serialize(run.Header, FleetJson.Line)),
            ("$aircraft", run.Header.Aircraft), ("$place", run.Header.Place), ("$pilot", run.Header.Pilot), ("$start", run.Header.Beginning),
            ("$mode", run.Header.Mode), ("$parent", parent), ("$parentStep", parent is null ? null : parentStep),
            ("$progress", run.Commands.Count > 0 ? Math.Max(run.Commands[^1].Step, parentStep) : parentStep), ("$ended", run.Ended ? 1 : 0));
        insert.ExecuteNonQuery();
    }

    internal static void Insert(SqliteConnection connection, string id, int seq, RunCommand command)
    {
        using var insert = connection.CreateCommand();
        insert.CommandText = "INSERT INTO commands (run, seq, step, kind, target, position, number) VALUES ($run, $seq, $step, $kind, $target, $position, $number)";
        Rows.Bind(insert, ("$run", id), ("$seq", seq), ("$step", command.Step), ("$kind", command.Kind.ToString().ToLowerInvariant()),
            ("$target", command.Target), ("$position", command.Position), ("$number", command.Number));
        insert.ExecuteNonQuery();
    }

    /// <summary>Reads a run whole, or null where there is none.</summary>
    /// <exception cref="RunFileException">Its header cannot be read.</exception>
    public StoredRun? Find(string id)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT created, header, progress_step, ended, parent, verdict, parent_step FROM runs WHERE id = $id AND arriving = 0";
        Rows.Bind(select, ("$id", id));
        using var reader = select.ExecuteReader();
        if (!reader.Read())
        {
            return null;
        }

        var header = Header(reader.GetString(1));
        var (commands, damage) = Commands(connection, id);
        return new StoredRun(id, Rows.Time(reader.GetString(0)), new RunLog(header, commands), reader.GetInt64(2), reader.GetInt64(3) != 0,
            Rows.Text(reader, 4), Rows.Text(reader, 5) is not null, damage, reader.IsDBNull(6) ? 0 : reader.GetInt64(6));
    }

    /// <summary>The header of a run alone, or null where there is none.</summary>
    /// <exception cref="RunFileException">It cannot be read.</exception>
    public RunHeader? HeaderOf(string id)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT header FROM runs WHERE id = $id AND arriving = 0";
        Rows.Bind(select, ("$id", id));
        return select.ExecuteScalar() is string text ? Header(text) : null;
    }

    private static RunHeader Header(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<RunHeader>(text, FleetJson.Line) ?? throw new JsonException();
        }
        catch (JsonException e)
        {
            throw new RunFileException(1, FleetJson.FieldOf(e), "the stored header is damaged and cannot be read");
        }
    }

    // What cannot be read ends the log: everything after it rests on it.
    private static (List<RunCommand> Commands, string? Damage) Commands(SqliteConnection connection, string id)
    {
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT step, kind, target, position, number FROM commands WHERE run = $id ORDER BY seq";
        Rows.Bind(select, ("$id", id));
        using var reader = select.ExecuteReader();
        var commands = new List<RunCommand>();
        while (reader.Read())
        {
            // A number is dialled, and is one; earlier versions took others from a file, as where a fault is.
            var number = Rows.Real(reader, 4);
            if (!Enum.TryParse<CommandKind>(reader.GetString(1), ignoreCase: true, out var kind) || commands.Count > 0 && reader.GetInt64(0) < commands[^1].Step
                || number is { } dialled && (kind != CommandKind.Set || !double.IsFinite(dialled)))
            {
                return (commands, $"line {commands.Count + 2}: the stored command is damaged; the run is shown up to there");
            }

            commands.Add(new RunCommand(reader.GetInt64(0), kind, reader.GetString(2), Rows.Text(reader, 3), number));
        }

        return (commands, null);
    }

    /// <summary>Lists runs, newest first, and how many the filter lets through in all.</summary>
    public (IReadOnlyList<RunRow> Rows, int Total) List(RunFilter filter)
    {
        ArgumentNullException.ThrowIfNull(filter);
        // Only constant text goes into the statement; a filter that is not there must not keep an index from being used.
        var where = "arriving = 0"
            + (filter.Pilot is null ? "" : " AND pilot = $pilot") + (filter.Verdict is null ? "" : " AND verdict = $verdict")
            + (filter.Aircraft is null ? "" : " AND aircraft = $aircraft") + (filter.Beginning is null ? "" : " AND start = $start");
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
#pragma warning disable CA2100 // see above
        select.CommandText = $"""
            SELECT id, created, aircraft, place, pilot, start, mode, parent, progress_step, ended, verdict, sentence, peak_c, findings, header
            FROM runs WHERE {where}{(filter.After is null ? "" : " AND (created, id) < ($created, $id)")}
            ORDER BY created DESC, id DESC LIMIT $limit
            """;
        using var count = connection.CreateCommand();
        count.CommandText = $"SELECT count(*) FROM runs WHERE {where}";
#pragma warning restore CA2100
        (string, object?)[] values = [("$pilot", filter.Pilot), ("$verdict", filter.Verdict), ("$aircraft", filter.Aircraft), ("$start", filter.Beginning)];
        Rows.Bind(count, values);
        Rows.Bind(select, [.. values, ("$created", filter.After is { } after ? Rows.Stamp(after.Created) : null), ("$id", filter.After?.Id),
            ("$limit", Math.Clamp(filter.Limit, 1, 500))]);
        using var reader = select.ExecuteReader();
        var rows = new List<RunRow>();
        while (reader.Read())
        {
            rows.Add(new RunRow(reader.GetString(0), Rows.Time(reader.GetString(1)), reader.GetString(2), reader.GetString(3), reader.GetString(4),
                reader.GetString(5), reader.GetString(6), Rows.Text(reader, 7),
                Math.Round(reader.GetInt64(8) * Core.Simulation.Steps.Seconds, 2), reader.GetInt64(9) != 0,
                Rows.Text(reader, 10), Rows.Text(reader, 11), Rows.Real(reader, 12), reader.IsDBNull(13) ? null : reader.GetInt32(13), School(reader.GetString(14))));
        }

        return (rows, Convert.ToInt32(count.ExecuteScalar(), CultureInfo.InvariantCulture));
    }

    private static string VerdictWord(Verdict verdict) => JsonNamingPolicy.KebabCaseLower.ConvertName(verdict.ToString());

    /// <summary>The drills that a pilot has flown to their end on a type, the newest first, as far back as the last hundred flights.</summary>
    public IReadOnlyList<DrillFlown> DrillsFlown(string pilot, string aircraft, DateTimeOffset now)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = """
            SELECT json_extract(header, '$.drill'), created, verdict, progress_step, sentence FROM runs
            WHERE arriving = 0 AND pilot = $pilot AND aircraft = $aircraft AND start = 'air' AND ended = 1 AND verdict IS NOT NULL AND json_valid(header)
            ORDER BY created DESC, id DESC LIMIT 100
            """;
        Rows.Bind(select, ("$pilot", pilot), ("$aircraft", aircraft));
        using var reader = select.ExecuteReader();
        var flown = new List<DrillFlown>();
        while (reader.Read())
        {
            if (Rows.Text(reader, 0) is { } drill)
            {
                var verdict = Enum.GetValues<Verdict>().First(v => VerdictWord(v) == reader.GetString(2));
                var seconds = Math.Round(reader.GetInt64(3) * Core.Simulation.Steps.Seconds, 1);
                flown.Add(new DrillFlown(drill, (now - Rows.Time(reader.GetString(1))).TotalHours, verdict, Rows.Text(reader, 4) ?? "", seconds));
            }
        }

        return flown;
    }

    /// <summary>Every callsign in the logbook.</summary>
    public IReadOnlyList<string> Pilots()
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        // From one callsign to the next in the index, without the rows between.
        select.CommandText = """
            WITH RECURSIVE each(pilot) AS (SELECT min(pilot) FROM runs WHERE arriving = 0 UNION ALL
                SELECT (SELECT min(pilot) FROM runs WHERE arriving = 0 AND pilot > each.pilot) FROM each WHERE each.pilot IS NOT NULL)
            SELECT pilot FROM each WHERE pilot <> ''
            """;
        using var reader = select.ExecuteReader();
        var pilots = new List<string>();
        while (reader.Read())
        {
            pilots.Add(reader.GetString(0));
        }

        return pilots;
    }

    private static Dictionary<string, string> School(string header)
    {
        try
        {
            return JsonSerializer.Deserialize<SchoolOnly>(header, FleetJson.Loose)?.School ?? [];
        }
        catch (JsonException)
        {
            return []; // a damaged header is told of when the run is opened
        }
    }

    private sealed record SchoolOnly(Dictionary<string, string>? School);

    public int Count()
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT count(*) FROM runs WHERE arriving = 0";
        return Convert.ToInt32(select.ExecuteScalar(), CultureInfo.InvariantCulture);
    }

    /// <summary>Runs whose log has its end but that were never judged: a crash came between, in a version that did not write both at once.</summary>
    public IReadOnlyList<string> Unjudged()
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT id FROM runs WHERE verdict IS NULL AND arriving = 0 AND EXISTS (SELECT 1 FROM commands WHERE run = id AND kind = 'end')";
        using var reader = select.ExecuteReader();
        var found = new List<string>();
        while (reader.Read())
        {
            found.Add(reader.GetString(0));
        }

        return found;
    }

    /// <summary>Forgets runs that had not arrived whole when the server was stopped.</summary>
    public Task ForgetHalfArrivedAsync() => writer.WriteAsync(connection =>
    {
        using var delete = connection.CreateCommand();
        delete.CommandText = "DELETE FROM runs WHERE arriving = 1";
        delete.ExecuteNonQuery();
    });

    /// <summary>Keeps the judgement of an ended run, and what the logbook shows of it.</summary>
    /// <exception cref="StoreException">Nothing was stored.</exception>
    public Task ConcludeAsync(string id, RunOutcome outcome) => writer.WriteAsync(c => Conclude(c, id, outcome));

    internal static void Conclude(SqliteConnection connection, string id, RunOutcome outcome)
    {
        var summary = outcome.Summary;
        using var update = connection.CreateCommand();
        update.CommandText = """
            UPDATE runs SET ended = 1, verdict = $verdict, sentence = $sentence, peak_c = $peak, findings = $findings, progress_step = $step WHERE id = $id
            """;
        Rows.Bind(update, ("$id", id), ("$verdict", VerdictWord(summary.Verdict)), ("$sentence", summary.Sentence),
            ("$peak", summary.PeakC.Count > 0 ? summary.PeakC.Values.Max() : null), ("$findings", summary.Findings),
            ("$step", (long)Math.Round(summary.Seconds / Core.Simulation.Steps.Seconds)));
        update.ExecuteNonQuery();
        StartStore.Replace(connection, id, summary.Starts);
        JudgementStore.Keep(connection, id, outcome);
    }

    internal static void Progress(SqliteConnection connection, string id, long step)
    {
        using var update = connection.CreateCommand();
        update.CommandText = "UPDATE runs SET progress_step = max(progress_step, $step) WHERE id = $id";
        Rows.Bind(update, ("$id", id), ("$step", step));
        update.ExecuteNonQuery();
    }
}
