using System.Globalization;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Store;

/// <summary>What every table does alike: parameters, time stamps, columns that may be empty.</summary>
internal static class Rows
{
    public static void Bind(SqliteCommand command, params (string Name, object? Value)[] values)
    {
        foreach (var (name, value) in values)
        {
            command.Parameters.AddWithValue(name, value ?? DBNull.Value);
        }
    }

    public static string Stamp(DateTimeOffset time) => time.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss.fffffffZ", CultureInfo.InvariantCulture);

    public static DateTimeOffset Time(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);

    public static double? Real(SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDouble(column);

    public static string? Text(SqliteDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);
}
