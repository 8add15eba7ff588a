using System.Text.Json;
using System.Text.Json.Nodes;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>Keeps the API's own description beside the front end, without the address it was asked at.</summary>
internal static class OpenApi
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static async Task WriteAsync(string file)
    {
        await using var server = await ServerProcess.StartAsync().ConfigureAwait(false);
        var document = JsonNode.Parse(await server.Client.GetStringAsync(new Uri("/openapi/v1.json", UriKind.Relative)).ConfigureAwait(false))!.AsObject();
        document.Remove("servers");
        await File.WriteAllTextAsync(file, document.ToJsonString(Indented) + "\n").ConfigureAwait(false);
    }
}
