using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Testing;

/// <summary>What a page does over HTTP and the hub, for tests.</summary>
public static class ServerCalls
{
    public static Uri Path(string path) => new(path, UriKind.Relative);

    public static async Task<string> CreateAsync(this ServerProcess server, RunHeader? header = null)
    {
        using var response = await server.Client.PostAsJsonAsync(Path("/api/runs"), header ?? Situations.Calm, FleetJson.Line).ConfigureAwait(false);
        return await IdAsync(response).ConfigureAwait(false);
    }

    /// <summary>Imports a run file; fails where it is refused.</summary>
    public static async Task<string> ImportAsync(this ServerProcess server, string file)
    {
        using var body = new StringContent(file, Encoding.UTF8, "application/x-ndjson");
        using var response = await server.Client.PostAsync(Path("/api/runs/import"), body).ConfigureAwait(false);
        return await IdAsync(response).ConfigureAwait(false);
    }

    /// <inheritdoc cref="ImportAsync(ServerProcess, string)"/>
    public static Task<string> ImportAsync(this ServerProcess server, RunLog run)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        RunFile.Write(text, run);
        return server.ImportAsync(text.ToString());
    }

    /// <summary>A new run that begins as another one stood at a moment, s.</summary>
    public static async Task<string> ForkAsync(this ServerProcess server, string run, double at)
    {
        using var response = await server.Client.PostAsJsonAsync(Path($"/api/runs/{run}/fork"), new { at }).ConfigureAwait(false);
        return await IdAsync(response).ConfigureAwait(false);
    }

    private static async Task<string> IdAsync(HttpResponseMessage response)
    {
        if (!response.IsSuccessStatusCode)
        {
            throw new HttpRequestException($"{(int)response.StatusCode}: {await response.Content.ReadAsStringAsync().ConfigureAwait(false)}", null, response.StatusCode);
        }

        return (await response.Content.ReadFromJsonAsync<JsonElement>().ConfigureAwait(false)).GetProperty("id").GetString()!;
    }

    public static async Task<JsonElement> JsonAsync(this ServerProcess server, string path) => await server.Client.GetFromJsonAsync<JsonElement>(Path(path)).ConfigureAwait(false);
}
