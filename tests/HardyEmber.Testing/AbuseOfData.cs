using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Testing;

/// <summary>Runs that carry odd data, imported into a server.</summary>
public static class AbuseOfData
{
    /// <summary>Longer than this nobody waits for an answer, s.</summary>
    public const double LongestAnswerS = 2;

    private const int FlagsOfATask = 24;

    /// <summary>
    /// Imports runs with changed data. Each is refused by its field or taken; what is taken can be exported, debriefed and joined. No answer may be an error of
    /// the server or late, and nothing may stay in memory.
    /// </summary>
    /// <param name="longest">Takes how long the slowest answer was, s.</param>
    public static async Task<Treated> CarriedAsync(ServerProcess server, ulong seed, int times, Action<double>? longest = null)
    {
        ArgumentNullException.ThrowIfNull(server);
        var wrong = new List<string>();
        var refused = 0;
        double slowest = 0;
        for (var i = 0; i < times; i++)
        {
            var (file, what) = OddData.Draw(seed, i);
            var clock = Stopwatch.StartNew();
            using var body = new ByteArrayContent(Encoding.UTF8.GetBytes(file));
            body.Headers.ContentType = new("application/x-ndjson");
            using var response = await server.Client.PostAsync(ServerCalls.Path("/api/runs/import"), body).ConfigureAwait(false);
            var text = await response.Content.ReadAsStringAsync().ConfigureAwait(false);
            var took = clock.Elapsed.TotalSeconds;
            slowest = Math.Max(slowest, took);
            if (took > LongestAnswerS)
            {
                wrong.Add(string.Create(CultureInfo.InvariantCulture, $"{took:0.0} s for {what}"));
            }

            if (response.StatusCode == HttpStatusCode.Created)
            {
                var id = JsonNode.Parse(text)!["id"]!.GetValue<string>();
                foreach (var path in new[] { $"/api/runs/{id}/debrief", $"/api/runs/{id}/file?data=true" })
                {
                    using var answer = await server.Client.GetAsync(ServerCalls.Path(path)).ConfigureAwait(false);
                    if (!answer.IsSuccessStatusCode)
                    {
                        wrong.Add($"{(int)answer.StatusCode} from {path[..9]} after {what}");
                    }
                }

                continue;
            }

            refused++;
            if (response.StatusCode != HttpStatusCode.BadRequest || !text.Contains("\"field\"", StringComparison.Ordinal)
                || text.Contains(DataProblems.Unforeseen, StringComparison.Ordinal))
            {
                wrong.Add($"{(int)response.StatusCode} for {what}: {text[..Math.Min(300, text.Length)]}");
            }
        }

        longest?.Invoke(slowest);
        return new Treated(times, refused, wrong);
    }

    /// <summary>A run whose aircraft has as much to do in each step as data may ask for: tasks that never rest, each with a lamp.</summary>
    public static RunLog Heavy(int tasks)
    {
        var fleet = Repository.Fleet;
        var files = fleet.VersionFor(Situations.Calm.Aircraft, Situations.Calm.Place).Files.ToList();
        var at = files.FindIndex(f => f.Path == $"aircraft/{Situations.Calm.Aircraft}.json");
        var root = JsonNode.Parse(files[at].Text)!;
        var turns = string.Join(", ", Enumerable.Range(0, tasks).Select(i => $"\"{i}\""));
        var gives = string.Join(", ", Enumerable.Range(0, FlagsOfATask).Select(f => $"\"busy{{i}}.f{f}\": \"battery.volts >= {f} and time >= {f} or not battery.volts < 40\""));
        root["tasks"]!.AsArray().Add(JsonNode.Parse($$"""
            { "for": "i", "in": [{{turns}}], "do": [
              { "id": "busy{i}", "label": "Busy {i}", "states": [
                { "id": "a", "seconds": [0.02], "ends": [{ "to": "b", "when": "battery.volts >= 0" }], "gives": { "busy{i}.on": "battery.volts >= 0 and time >= 0", {{gives}} } },
                { "id": "b", "seconds": [0.02], "ends": [{ "to": "a", "when": "battery.volts >= 0" }] }] }] }
            """));
        root["lamps"]!.AsArray().Add(JsonNode.Parse($$"""
            { "for": "i", "in": [{{turns}}], "do": [
              { "id": "busy{i}", "label": "Busy {i}", "link": "boxes", "class": "advisory", "bus": "essential", "meaning": "It is busy.",
                "lit": "busy{i}.on and busy{i}.f0 and (busy{i}.f1 or busy{i}.f2) and battery.volts >= 0" }] }
            """));
        files[at] = files[at] with { Text = root.ToJsonString() };
        var data = DataVersion.Of(files);
        return new RunLog(Situations.Calm with { Data = data.Digest, Physics = 1 }, []) { Data = data };
    }
}
