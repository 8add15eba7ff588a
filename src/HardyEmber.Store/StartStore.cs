using System.Text.Json;
using HardyEmber.Core.Judging;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>An earlier start of a pilot.</summary>
public sealed record StartRow(string Run, DateTimeOffset Created, double OatC, string Engine, string Outcome, double? LightS, double PeakC, double MarginC,
    double OverLimitS, double? IdleS, double StarterS, double? ReactionS);

/// <summary>The table <c>starts</c>: one row an attempt to start an engine, of ended runs.</summary>
public sealed class StartStore(Database database)
{
    /// <summary>Stores the cards of an ended run in place of any it had.</summary>
    internal static void Replace(SqliteConnection connection, string run, IReadOnlyList<StartCard> cards)
    {
        using (var delete = connection.CreateCommand())
        {
            delete.CommandText = "DELETE FROM starts WHERE run = $run";
            Rows.Bind(delete, ("$run", run));
            delete.ExecuteNonQuery();
        }

        for (var i = 0; i < cards.Count; i++)
        {
            var c = cards[i];
            using var insert = connection.CreateCommand();
            insert.CommandText = """
                INSERT INTO starts (run, seq, aircraft, pilot, created, oat_c, engine, outcome, light_s, peak_c, margin_c, over_s, idle_s, starter_s, reaction_s)
                SELECT id, $seq, aircraft, pilot, created, header ->> '$.conditions.oatC', $engine, $outcome, $light, $peak, $margin, $over, $idle, $starter, $reaction
                FROM runs WHERE id = $run
                """;
            Rows.Bind(insert, ("$run", run), ("$seq", i), ("$engine", c.Engine), ("$outcome", JsonNamingPolicy.KebabCaseLower.ConvertName(c.Outcome.ToString())),
                ("$light", c.LightS), ("$peak", c.PeakC), ("$margin", c.MarginC), ("$over", c.OverLimitS), ("$idle", c.IdleS), ("$starter", c.StarterS),
                    ("$reaction", c.ReactionS));
            insert.ExecuteNonQuery();
        }
    }

    /// <summary>A pilot's starts on a type before a moment, newest first.</summary>
    public IReadOnlyList<StartRow> Earlier(string pilot, string aircraft, DateTimeOffset before, int limit)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = """
            SELECT run, created, oat_c, engine, outcome, light_s, peak_c, margin_c, over_s, idle_s, starter_s, reaction_s FROM starts
            WHERE pilot = $pilot AND aircraft = $aircraft AND created < $before ORDER BY created DESC, run, seq LIMIT $limit
            """;
        Rows.Bind(select, ("$pilot", pilot), ("$aircraft", aircraft), ("$before", Rows.Stamp(before)), ("$limit", Math.Clamp(limit, 1, 500)));
        using var r = select.ExecuteReader();
        var rows = new List<StartRow>();
        while (r.Read())
        {
            rows.Add(new StartRow(r.GetString(0), Rows.Time(r.GetString(1)), r.GetDouble(2), r.GetString(3), r.GetString(4), Rows.Real(r, 5), r.GetDouble(6), r.GetDouble(7),
                r.GetDouble(8), Rows.Real(r, 9), r.GetDouble(10), Rows.Real(r, 11)));
        }

        return rows;
    }
}
