using System.Net;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Testing;

/// <summary>What came of ill treatment: how much of it, and what should never have come of it, in words.</summary>
public sealed record Treated(int Times, int Refused, IReadOnlyList<string> Wrong);

/// <summary>Treats a server badly, from a seed: broken files, senseless requests and calls, kills at any instant.</summary>
public static class Abuse
{
    private static readonly string[] Junk =
    [
        "1e999", "-1e999", "-1", "null", "true", "[]", "{}", "\"\"", "\"\\ud800\"", "\"\\udc00x\"", "\"\\u0000\"", "1.7976931348623157e308", "99999999999999999999",
        "\"seen.battery\"", "\"" + new string('x', 400) + "\"", "[[[[[[[[]]]]]]]]",
    ];

    /// <summary>Imports broken copies of a run. Nothing may be a 500, a refused one may leave nothing behind, an accepted one must leave and come back equal.</summary>
    public static async Task<Treated> ImportsAsync(ServerProcess server, ulong seed, int times)
    {
        ArgumentNullException.ThrowIfNull(server);
        var random = new Random((int)(seed % int.MaxValue));
        var header = Situations.Calm with
        {
            Faults = [new RunFault("weak-air", Level: 0.7)],
            School = new Dictionary<string, string> { ["fuelOn"] = "early" },
            Loading = new LoadingHeader(9000, 500),
        };
        var sound = string.Join('\n', JsonSerializer.Serialize(header, FleetJson.Line),
            """{"t":1,"set":"battery","to":"on"}""", """{"t":2.5,"set":"trim","to":11.5}""", """{"t":3,"hold":"fire-test","to":"outer"}""", """{"t":9,"release":"fire-test"}""",
            """{"t":9.5,"look":"battery"}""", """{"t":10,"report":"weak-air"}""", """{"t":30,"end":true}""");
        var wrong = new List<string>();
        var refused = 0;
        for (var i = 0; i < times; i++)
        {
            var file = Broken(sound, random);
            var before = await TotalAsync(server).ConfigureAwait(false);
            using var body = new ByteArrayContent(Encoding.UTF8.GetBytes(file));
            body.Headers.ContentType = new("application/x-ndjson");
            using var response = await server.Client.PostAsync(ServerCalls.Path("/api/runs/import"), body).ConfigureAwait(false);
            var text = await response.Content.ReadAsStringAsync().ConfigureAwait(false);
            if (response.StatusCode == HttpStatusCode.Created)
            {
                var id = JsonSerializer.Deserialize<JsonElement>(text).GetProperty("id").GetString()!;
                await LeavesEqualAsync(server, id, file, wrong).ConfigureAwait(false);
                continue;
            }

            refused++;
            if (response.StatusCode != HttpStatusCode.BadRequest || !text.Contains("\"field\"", StringComparison.Ordinal))
            {
                wrong.Add($"{(int)response.StatusCode} for {file}");
            }
            else if (await TotalAsync(server).ConfigureAwait(false) != before)
            {
                wrong.Add($"something stayed of {file}");
            }
        }

        return new Treated(times, refused, wrong);
    }

    private static async Task LeavesEqualAsync(ServerProcess server, string id, string file, List<string> wrong)
    {
        var (first, debrief) = (await server.Client.GetAsync(ServerCalls.Path($"/api/runs/{id}/file")).ConfigureAwait(false),
            await server.Client.GetAsync(ServerCalls.Path($"/api/runs/{id}/debrief")).ConfigureAwait(false));
        var left = await first.Content.ReadAsStringAsync().ConfigureAwait(false);
        try
        {
            var again = await server.ImportAsync(left).ConfigureAwait(false);
            var back = await server.Client.GetStringAsync(ServerCalls.Path($"/api/runs/{again}/file")).ConfigureAwait(false);
            if (!first.IsSuccessStatusCode || !debrief.IsSuccessStatusCode || back != left)
            {
                wrong.Add($"accepted, and left as another: {file}");
            }
        }
        catch (HttpRequestException e)
        {
            wrong.Add($"accepted, and refused when it came back ({e.Message}): {file}");
        }
    }

    private static string Broken(string sound, Random random)
    {
        var text = new StringBuilder(sound);
        for (var n = random.Next(1, 4); n > 0; n--)
        {
            var at = random.Next(text.Length);
            switch (random.Next(7))
            {
                case 0:
                    text.Length = Math.Max(1, at); // cut off
                    break;
                case 1:
                    text[at] = (char)random.Next(1, 0x3000);
                    break;
                case 2:
                    text.Remove(at, Math.Min(random.Next(1, 30), text.Length - at));
                    break;
                case 3:
                    text.Insert(at, Junk[random.Next(Junk.Length)]);
                    break;
                case 4:
                    var lines = text.ToString().Split('\n');
                    random.Shuffle(lines);
                    _ = text.Clear().Append(string.Join('\n', lines));
                    break;
                default:
                    // A value becomes another one: the most likely to be half right.
                    var colon = text.ToString().IndexOf(':', at);
                    var end = colon < 0 ? -1 : text.ToString().IndexOfAny([',', '}'], colon);
                    if (end > 0)
                    {
                        _ = text.Remove(colon + 1, end - colon - 1).Insert(colon + 1, Junk[random.Next(Junk.Length)]);
                    }

                    break;
            }
        }

        return text.ToString();
    }

    private static async Task<int> TotalAsync(ServerProcess server) => (await server.JsonAsync("/api/runs?limit=1").ConfigureAwait(false)).GetProperty("total").GetInt32();

    /// <summary>Senseless requests: no answer may be an error of the server.</summary>
    public static async Task<Treated> RequestsAsync(ServerProcess server, ulong seed, int times)
    {
        ArgumentNullException.ThrowIfNull(server);
        var random = new Random((int)(seed % int.MaxValue));
        var id = await server.CreateAsync().ConfigureAwait(false);
        string[] paths = ["/api/runs", "/api/runs/import", "/api/preview", "/api/forecast", "/api/start-outlook", "/api/positions", $"/api/runs/{id}/fork", "/api/login",
            "/api/before-launch", "/api/relight-outlook", "/api/sorties", "/api/sorties/read"];
        string[] asked = ["/api/runs?limit=", "/api/runs?before=", "/api/runs?beforeId=", "/api/aircraft/", "/api/runs/", $"/api/runs/{id}/why?target=",
            $"/api/runs/{id}/why?target=battery&at=", $"/api/runs/{id}/without?source=", "/api/runs?verdict="];
        var header = JsonSerializer.Serialize(Situations.Calm, FleetJson.Line);
        var wrong = new List<string>();
        var refused = 0;
        for (var i = 0; i < times; i++)
        {
            HttpResponseMessage response;
            string what;
            if (random.Next(3) == 0)
            {
                what = asked[random.Next(asked.Length)] + Uri.EscapeDataString(Junk[random.Next(Junk.Length)].Trim('"'));
                response = await server.Client.GetAsync(ServerCalls.Path(what)).ConfigureAwait(false);
            }
            else
            {
                var path = paths[random.Next(paths.Length)];
                var body = random.Next(4) == 0 ? Junk[random.Next(Junk.Length)] : path.EndsWith("/fork", StringComparison.Ordinal)
                    ? $"{{\"at\":{Junk[random.Next(Junk.Length)]}}}" : Broken(header, random);
                what = $"{path} {body}";
                using var content = new StringContent(body, Encoding.UTF8, path.EndsWith("import", StringComparison.Ordinal) ? "application/x-ndjson" : "application/json");
                response = await server.Client.PostAsync(ServerCalls.Path(path), content).ConfigureAwait(false);
            }

            refused += response.IsSuccessStatusCode ? 0 : 1;
            if ((int)response.StatusCode >= 500)
            {
                wrong.Add($"{(int)response.StatusCode} for {what}");
            }

            response.Dispose();
        }

        return new Treated(times, refused, wrong);
    }

    /// <summary>Senseless calls of the hub: each is answered with a word of its own, and what was refused changed nothing.</summary>
    public static async Task<Treated> CallsAsync(ServerProcess server, ulong seed, int times)
    {
        ArgumentNullException.ThrowIfNull(server);
        var random = new Random((int)(seed % int.MaxValue));
        await using var page = await HubPage.OpenAsync(server, await server.CreateAsync().ConfigureAwait(false)).ConfigureAwait(false);
        var controls = Repository.Fleet.FindAircraft("juniper").Controls;
        object?[] values = ["on", "off", "a", "", "sideways", "seen.battery", "right.egt-true", new string('x', 300), "\u0001", 1e300, -1.0, 0.0, true];
        string[] methods = ["Set", "Dial", "Hold", "Release", "Look", "Report", "Do", "Rate", "Pause", "State", "Leap", "Join"];
        var wrong = new List<string>();
        var refused = 0;
        for (var i = 0; i < times; i++)
        {
            var method = methods[random.Next(methods.Length)];
            var arguments = Enumerable.Range(0, random.Next(4)).Select(n => n == 0
                && random.Next(3) > 0 ? controls[random.Next(controls.Count)].Id : values[random.Next(values.Length)]).ToArray();
            var actions = await page.ActionsAsync().ConfigureAwait(false);
            try
            {
                await page.CallAsync(method, arguments).ConfigureAwait(false);
            }
            catch (HubException e)
            {
                refused++;
                if (e.Message.Contains("could not do this", StringComparison.Ordinal))
                {
                    wrong.Add($"{method}({string.Join(", ", arguments)}): {e.Message}");
                }
                else if (await page.ActionsAsync().ConfigureAwait(false) != actions)
                {
                    wrong.Add($"{method}({string.Join(", ", arguments)}) was refused and done");
                }
            }
        }

        return new Treated(times, refused, wrong);
    }

    /// <summary>
    /// Kills the server at any instant while acts, ends, imports and forks are on their way; after each restart every
    /// acknowledged one must be there, and every ended run judged.
    /// </summary>
    public static async Task<Treated> KillsAsync(ulong seed, int times)
    {
        var random = new Random((int)(seed % int.MaxValue));
        await using var server = await ServerProcess.StartAsync(stepped: true).ConfigureAwait(false);
        var flown = new RunLog(Situations.Calm, [new(50, CommandKind.Set, "battery", "on"),
            .. Enumerable.Range(0, 2500).Select(i => new RunCommand(60 + i, CommandKind.Set, "radio", i % 2 == 0 ? "on" : "off")), new(4000, CommandKind.End)]);
        var wrong = new List<string>();
        var acknowledged = 0;
        for (var round = 0; round < times; round++)
        {
            var (acts, whole) = (new Dictionary<string, int>(), new List<string>());
            Task? kill = null;
            try
            {
                while (true)
                {
                    var id = await server.CreateAsync().ConfigureAwait(false);
                    acts[id] = 0;
                    await using var page = await HubPage.OpenAsync(server, id).ConfigureAwait(false);
                    for (var n = random.Next(1, 12); n > 0; n--)
                    {
                        await page.SendAsync("Set", "radio", n % 2 == 0 ? "on" : "off").ConfigureAwait(false);
                        acts[id]++;
                        kill ??= KillAfterAsync(server, random.Next(0, 400)); // never before something was acknowledged
                    }

                    switch (random.Next(3))
                    {
                        case 0:
                            await page.SendAsync("End").ConfigureAwait(false);
                            acts[id]++;
                            whole.Add(id);
                            break;
                        case 1:
                            whole.Add(await server.ImportAsync(flown).ConfigureAwait(false));
                            break;
                        default:
                            acts[await server.ForkAsync(id, 0).ConfigureAwait(false)] = 0;
                            break;
                    }
                }
            }
#pragma warning disable CA1031 // whatever was on its way when the server died fails in its own way
            catch (Exception) when (kill is not null)
#pragma warning restore CA1031
            {
                await kill.ConfigureAwait(false);
            }

            acknowledged += acts.Values.Sum() + whole.Count;
            await server.RestartAsync().ConfigureAwait(false);
            foreach (var (id, least) in acts)
            {
                var kept = (await server.JsonAsync($"/api/runs/{id}/debrief").ConfigureAwait(false)).GetProperty("actions").GetArrayLength();
                if (kept < least)
                {
                    wrong.Add($"{least - kept} of {least} acknowledged acts of {id} are lost");
                }
            }

            for (string? before = "", beforeId = null; before is not null;)
            {
                var page = await server.JsonAsync(beforeId is null ? "/api/runs?limit=500" : $"/api/runs?limit=500&before={Uri.EscapeDataString(before)}&beforeId={beforeId}")
                    .ConfigureAwait(false);
                var rows = page.GetProperty("runs").EnumerateArray().ToList();
                wrong.AddRange(rows.Where(r => r.GetProperty("ended").GetBoolean() && !r.TryGetProperty("verdict", out _))
                    .Select(r => $"{r.GetProperty("id")} has ended and was not judged"));
                _ = whole.RemoveAll(id => rows.Any(r => r.GetProperty("id").GetString() == id && r.GetProperty("ended").GetBoolean()));
                (before, beforeId) = rows.Count == 500 ? (rows[^1].GetProperty("created").GetString(), rows[^1].GetProperty("id").GetString()) : (null, null);
            }

            wrong.AddRange(whole.Select(id => $"{id} was acknowledged and is not there as it was"));
        }

        return new Treated(times, acknowledged, wrong);
    }


    private static async Task KillAfterAsync(ServerProcess server, int milliseconds)
    {
        await Task.Delay(milliseconds).ConfigureAwait(false);
        await server.KillAsync().ConfigureAwait(false);
    }
}
