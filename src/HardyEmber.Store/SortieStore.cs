using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Store;

/// <summary>A sortie as it is kept.</summary>
public sealed record KeptSortie(string Id, string Pilot, DateTimeOffset Created, Sortie Sortie);

/// <summary>The table <c>sorties</c>.</summary>
public sealed class SortieStore(Database database, StoreWriter writer)
{
    /// <summary>Sorties that one callsign may keep.</summary>
    public const int Most = 100;

    /// <summary>Keeps a sortie under its pilot and name, in place of one that had them.</summary>
    /// <returns>Its id; null where the pilot keeps as many as may be.</returns>
    /// <exception cref="StoreException">Nothing was stored.</exception>
    public async Task<string?> KeepAsync(Sortie sortie, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(sortie);
        string? kept = null;
        await writer.WriteAsync(connection =>
        {
            using var insert = connection.CreateCommand();
            insert.CommandText = """
                INSERT INTO sorties (id, pilot, name, header, created) SELECT $id, $pilot, $name, $header, $created
                WHERE (SELECT count(*) FROM sorties WHERE pilot = $pilot AND name <> $name) < $most
                ON CONFLICT (pilot, name) DO UPDATE SET header = excluded.header, created = excluded.created
                RETURNING id
                """;
            Rows.Bind(insert, ("$id", Guid.CreateVersion7(now).ToString("n")), ("$pilot", sortie.Header.Pilot), ("$name", sortie.Name),
                ("$header", JsonSerializer.Serialize(sortie.Header, FleetJson.Line)), ("$created", Rows.Stamp(now)), ("$most", Most));
            kept = (string?)insert.ExecuteScalar();
        }).ConfigureAwait(false);
        return kept;
    }

    /// <summary>Forgets a sortie; nothing happens where there is none.</summary>
    /// <exception cref="StoreException">Nothing was changed.</exception>
    public Task ForgetAsync(string id) => writer.WriteAsync(connection =>
    {
        using var delete = connection.CreateCommand();
        delete.CommandText = "DELETE FROM sorties WHERE id = $id";
        Rows.Bind(delete, ("$id", id));
        delete.ExecuteNonQuery();
    });

    /// <summary>What a callsign keeps, the newest first. What cannot be read any more is passed over.</summary>
    public IReadOnlyList<KeptSortie> Of(string pilot) => Read("pilot = $key ORDER BY created DESC, id", pilot);

    /// <summary>One of them, or null.</summary>
    public KeptSortie? Find(string id) => Read("id = $key", id).FirstOrDefault();

    private List<KeptSortie> Read(string where, string key)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
#pragma warning disable CA2100 // only constant text goes in
        select.CommandText = $"SELECT id, pilot, created, name, header FROM sorties WHERE {where}";
#pragma warning restore CA2100
        Rows.Bind(select, ("$key", key));
        using var reader = select.ExecuteReader();
        var kept = new List<KeptSortie>();
        while (reader.Read())
        {
            try
            {
                kept.Add(new KeptSortie(reader.GetString(0), reader.GetString(1), Rows.Time(reader.GetString(2)),
                    new Sortie(reader.GetString(3), JsonSerializer.Deserialize<RunHeader>(reader.GetString(4), FleetJson.Line)!)));
            }
            catch (JsonException)
            {
                // Written by another version: it stays where it is.
            }
        }

        return kept;
    }
}
