using System.Globalization;
using System.Text.Json;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Runs;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>A run as the logbook lists it.</summary>
public sealed record RunRow(string Id, DateTimeOffset Created, string Aircraft, string Place, string Pilot, string Start, string Mode, string? Parent,
    double Seconds, bool Ended, string? Verdict, string? Sentence, double? PeakC, int? Findings);

/// <summary>A stored run: header, log, and how far it got.</summary>
public sealed record StoredRun(string Id, DateTimeOffset Created, RunLog Log, long ProgressStep, bool Ended, string? Parent);

/// <summary>What to list.</summary>
/// <param name="Before">Only runs created before this one: the key of the last row of the page above.</param>
public sealed record RunFilter(string? Pilot = null, string? Verdict = null, string? Aircraft = null, int Limit = 50, DateTimeOffset? Before = null);

/// <summary>The tables <c>runs</c> and <c>commands</c>.</summary>
public sealed class RunStore(Database database)
{
    /// <summary>Stores a run with the commands it already has, in one transaction.</summary>
    public string Create(RunLog run, DateTimeOffset created, string? parent = null, long parentStep = 0)
    {
        ArgumentNullException.ThrowIfNull(run);
        var id = Guid.CreateVersion7(created).ToString("n");
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        using (var insert = connection.CreateCommand())
        {
            insert.CommandText = """
                INSERT INTO runs (id, created, header, aircraft, place, pilot, start, mode, parent, parent_step, progress_step, ended)
                VALUES ($id, $created, $header, $aircraft, $place, $pilot, $start, $mode, $parent, $parentStep, $progress, $ended)
                """;
            Rows.Bind(insert, ("$id", id), ("$created", Rows.Stamp(created)), ("$header", JsonSerializer.Serialize(run.Header, FleetJson.Line)),
                ("$aircraft", run.Header.Aircraft), ("$place", run.Header.Place), ("$pilot", run.Header.Pilot), ("$start", run.Header.Start),
                ("$mode", run.Header.Mode), ("$parent", parent), ("$parentStep", parent is null ? null : parentStep),
                ("$progress", run.Commands.Count > 0 ? Math.Max(run.Commands[^1].Step, parentStep) : parentStep), ("$ended", run.Ended ? 1 : 0));
            insert.ExecuteNonQuery();
        }

        for (var i = 0; i < run.Commands.Count; i++)
        {
            Insert(connection, id, i, run.Commands[i]);
        }

        transaction.Commit();
        return id;
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
    public StoredRun? Find(string id)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT created, header, progress_step, ended, parent FROM runs WHERE id = $id";
        Rows.Bind(select, ("$id", id));
        using var reader = select.ExecuteReader();
        if (!reader.Read())
        {
            return null;
        }

        var header = JsonSerializer.Deserialize<RunHeader>(reader.GetString(1), FleetJson.Line)!;
        return new StoredRun(id, Rows.Time(reader.GetString(0)), new RunLog(header, Commands(connection, id)), reader.GetInt64(2), reader.GetInt64(3) != 0,
            reader.IsDBNull(4) ? null : reader.GetString(4));
    }

    private static List<RunCommand> Commands(SqliteConnection connection, string id)
    {
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT step, kind, target, position, number FROM commands WHERE run = $id ORDER BY seq";
        Rows.Bind(select, ("$id", id));
        using var reader = select.ExecuteReader();
        var commands = new List<RunCommand>();
        while (reader.Read())
        {
            commands.Add(new RunCommand(reader.GetInt64(0), Enum.Parse<CommandKind>(reader.GetString(1), ignoreCase: true), reader.GetString(2),
                reader.IsDBNull(3) ? null : reader.GetString(3), Rows.Real(reader, 4)));
        }

        return commands;
    }

    /// <summary>Lists runs, newest first.</summary>
    public IReadOnlyList<RunRow> List(RunFilter filter)
    {
        ArgumentNullException.ThrowIfNull(filter);
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = """
            SELECT id, created, aircraft, place, pilot, start, mode, parent, progress_step, ended, verdict, sentence, peak_c, findings
            FROM runs
            WHERE ($pilot IS NULL OR pilot = $pilot) AND ($verdict IS NULL OR verdict = $verdict)
              AND ($aircraft IS NULL OR aircraft = $aircraft) AND ($before IS NULL OR created < $before)
            ORDER BY created DESC, id LIMIT $limit
            """;
        Rows.Bind(select, ("$pilot", filter.Pilot), ("$verdict", filter.Verdict), ("$aircraft", filter.Aircraft),
            ("$before", filter.Before is { } before ? Rows.Stamp(before) : null), ("$limit", Math.Clamp(filter.Limit, 1, 500)));
        using var reader = select.ExecuteReader();
        var rows = new List<RunRow>();
        while (reader.Read())
        {
            rows.Add(new RunRow(reader.GetString(0), Rows.Time(reader.GetString(1)), reader.GetString(2), reader.GetString(3), reader.GetString(4),
                reader.GetString(5), reader.GetString(6), reader.IsDBNull(7) ? null : reader.GetString(7),
                Math.Round(reader.GetInt64(8) * Core.Simulation.Machine.StepSeconds, 2), reader.GetInt64(9) != 0,
                reader.IsDBNull(10) ? null : reader.GetString(10), reader.IsDBNull(11) ? null : reader.GetString(11),
                Rows.Real(reader, 12), reader.IsDBNull(13) ? null : reader.GetInt32(13)));
        }

        return rows;
    }

    public int Count()
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT count(*) FROM runs";
        return Convert.ToInt32(select.ExecuteScalar(), CultureInfo.InvariantCulture);
    }

    /// <summary>Keeps what the logbook shows of an ended run.</summary>
    public void Conclude(string id, RunSummary summary)
    {
        ArgumentNullException.ThrowIfNull(summary);
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        using var update = connection.CreateCommand();
        update.CommandText = """
            UPDATE runs SET ended = 1, verdict = $verdict, sentence = $sentence, peak_c = $peak, findings = $findings, progress_step = $step WHERE id = $id
            """;
        Rows.Bind(update, ("$id", id), ("$verdict", JsonNamingPolicy.KebabCaseLower.ConvertName(summary.Verdict.ToString())), ("$sentence", summary.Sentence),
            ("$peak", summary.PeakC.Count > 0 ? summary.PeakC.Values.Max() : null), ("$findings", summary.Findings),
            ("$step", (long)Math.Round(summary.Seconds / Core.Simulation.Machine.StepSeconds)));
        update.ExecuteNonQuery();
        StartStore.Replace(connection, id, summary.Starts);
        transaction.Commit();
    }

    /// <summary>Remembers how far live runs have got. Not a promise to anyone, so one transaction for all.</summary>
    public void Progress(IReadOnlyCollection<(string Id, long Step)> runs)
    {
        ArgumentNullException.ThrowIfNull(runs);
        if (runs.Count == 0)
        {
            return;
        }

        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction();
        foreach (var (id, step) in runs)
        {
            using var update = connection.CreateCommand();
            update.CommandText = "UPDATE runs SET progress_step = max(progress_step, $step) WHERE id = $id";
            Rows.Bind(update, ("$id", id), ("$step", step));
            update.ExecuteNonQuery();
        }

        transaction.Commit();
    }
}
