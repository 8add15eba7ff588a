using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>The judgement that an ended run was given.</summary>
/// <param name="Physics">Version of the physics that judged it.</param>
/// <param name="Digest">Digest of the final state.</param>
/// <param name="Milestones">When each step was first done, seconds.</param>
public sealed record StoredJudgement(int Physics, string Digest, Judgement Judgement, IReadOnlyDictionary<string, double> Milestones);

/// <summary>The table <c>judgements</c>.</summary>
public sealed class JudgementStore(Database database)
{
    /// <summary>What a run was given when it ended; null where it has not ended, or ended in a version that kept only the verdict.</summary>
    public StoredJudgement? Find(string run)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT physics, digest, judgement, milestones FROM judgements WHERE run = $run";
        Rows.Bind(select, ("$run", run));
        using var reader = select.ExecuteReader();
        if (!reader.Read())
        {
            return null;
        }

        try
        {
            return new StoredJudgement(reader.GetInt32(0), reader.GetString(1), JsonSerializer.Deserialize<Judgement>(reader.GetString(2), FleetJson.Loose)!,
                JsonSerializer.Deserialize<Dictionary<string, double>>(reader.GetString(3), FleetJson.Line)!);
        }
        catch (JsonException)
        {
            return null; // damaged: it is judged again, and not kept
        }
    }

    /// <summary>When each step of an ended run was first done, s; null where that is not kept.</summary>
    public IReadOnlyDictionary<string, double>? MilestonesOf(string run)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT milestones FROM judgements WHERE run = $run";
        Rows.Bind(select, ("$run", run));
        try
        {
            return select.ExecuteScalar() is string milestones ? JsonSerializer.Deserialize<Dictionary<string, double>>(milestones, FleetJson.Line) : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    internal static void Keep(SqliteConnection connection, string run, RunOutcome outcome)
    {
        using var insert = connection.CreateCommand();
        insert.CommandText = """
            INSERT INTO judgements (run, physics, digest, judgement, milestones) VALUES ($run, $physics, $digest, $judgement, $milestones)
            ON CONFLICT (run) DO UPDATE SET physics = excluded.physics, digest = excluded.digest, judgement = excluded.judgement, milestones = excluded.milestones
            """;
        Rows.Bind(insert, ("$run", run), ("$physics", Physics.Version), ("$digest", outcome.Summary.Digest),
            ("$judgement", JsonSerializer.Serialize(outcome.Judgement, FleetJson.Line)), ("$milestones", JsonSerializer.Serialize(outcome.Summary.Milestones, FleetJson.Line)));
        insert.ExecuteNonQuery();
    }
}
