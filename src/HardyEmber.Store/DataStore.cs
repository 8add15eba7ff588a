using System.IO.Compression;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>The table <c>data</c>: every version of the data that a run was flown with, once.</summary>
public sealed class DataStore(Database database)
{
    /// <summary>The data with this digest, or null where they are not kept or damaged.</summary>
    public DataVersion? Find(string digest)
    {
        using var connection = database.Connect();
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT files FROM data WHERE digest = $digest";
        Rows.Bind(select, ("$digest", digest));
        if (select.ExecuteScalar() is not byte[] packed)
        {
            return null;
        }

        try
        {
            using var unpacked = new GZipStream(new MemoryStream(packed), CompressionMode.Decompress);
            var version = DataVersion.Of(JsonSerializer.Deserialize<FleetFile[]>(unpacked, FleetJson.Line)!);
            return version.Digest == digest ? version : null;
        }
        catch (Exception e) when (e is JsonException or InvalidDataException)
        {
            return null;
        }
    }

    internal static void Keep(SqliteConnection connection, DataVersion version)
    {
        using var select = connection.CreateCommand();
        select.CommandText = "SELECT 1 FROM data WHERE digest = $digest";
        Rows.Bind(select, ("$digest", version.Digest));
        if (select.ExecuteScalar() is not null)
        {
            return;
        }

        using var packed = new MemoryStream();
        using (var zip = new GZipStream(packed, CompressionLevel.Optimal, leaveOpen: true))
        {
            JsonSerializer.Serialize(zip, version.Files, FleetJson.Line);
        }

        using var insert = connection.CreateCommand();
        insert.CommandText = "INSERT INTO data (digest, files) VALUES ($digest, $files)";
        Rows.Bind(insert, ("$digest", version.Digest), ("$files", packed.ToArray()));
        insert.ExecuteNonQuery();
    }
}
