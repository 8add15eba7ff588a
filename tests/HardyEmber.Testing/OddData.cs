using System.Globalization;
using System.Text.Json.Nodes;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Testing;

/// <summary>Data that a run's file might carry and no engineer would write: drawn from a seed, by changing the data of one aircraft.</summary>
public static class OddData
{
    private static readonly string[] Numbers =
    [
        "0", "-1", "1e-300", "1e300", "-1e300", "1e999", "5e-324", "2147483648",
        "99999999999999999999", "0.5", "1000", "1000000", "-0.0001", "1e6", "null",
    ];

    private static readonly string[] Texts =
    [
        "", " ", "=1+1", "@x", "\u202e", "\0", "{}", "{aircraft}", "{aircraft.engine}", "none", "time", "battery", "not", "(", "a and", "battery is on or battery is off",
        "true", "lamp.master", "left", "constructor", "seen.battery", "x.state", "previous", "battery.volts > 1e308", "not not not battery.volts < 24", "\ud83d",
    ];

    /// <summary>A run of one of the fleet's aircraft with data that were changed in one to three places.</summary>
    /// <returns>The run's file, and in a few words what was done to it.</returns>
    public static (string File, string What) Draw(ulong seed, int number)
    {
        var random = new Random((int)((seed * 1_000_003 + (ulong)number) % int.MaxValue));
        var fleet = Repository.Fleet;
        var aircraft = fleet.Aircraft[number % fleet.Aircraft.Count];
        var header = Situations.Calm with { Aircraft = aircraft.Id, Conditions = new RunConditions(15, 0, 0) };
        var files = fleet.VersionFor(header.Aircraft, header.Place).Files.ToList();
        var what = new List<string>();
        for (var n = random.Next(1, 4); n > 0; n--)
        {
            // The aircraft's own file is the one with most in it to go wrong.
            var at = random.Next(2) == 0 ? files.FindIndex(f => f.Path == $"aircraft/{aircraft.Id}.json") : random.Next(files.Count);
            var root = JsonNode.Parse(files[at].Text)!;
            what.Add($"{files[at].Path}: {Change(root, random)}");
            files[at] = files[at] with { Text = root.ToJsonString() };
        }

        var data = DataVersion.Of(files);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        RunFile.Write(text, new RunLog(header with { Data = data.Digest, Physics = 1 },
        [
            new(50, Core.Simulation.CommandKind.Set, aircraft.Controls.First(c => c.Positions.Count > 1 && c.Sprung.Count == 0).Id,
                aircraft.Controls.First(c => c.Positions.Count > 1 && c.Sprung.Count == 0).Positions[1]),
            new(3000, Core.Simulation.CommandKind.End),
        ])
        { Data = data });
        return (text.ToString(), string.Join("; ", what));
    }

    private static string Change(JsonNode root, Random random)
    {
        var all = new List<JsonNode>();
        Collect(root, all);
        var node = all[random.Next(all.Count)];
        var where = node.GetPath();
        switch (random.Next(9))
        {
            case 0 or 1 when Of<double>(all, random) is { } number:
                where = number.GetPath();
                number.ReplaceWith(JsonNode.Parse(Odd(Numbers[random.Next(Numbers.Length)]))!);
                return $"{where} is another number";
            case 2 or 3 when Of<string>(all, random) is { } text:
                where = text.GetPath();
                var (from, to) = (text.GetValue<string>(), Texts[random.Next(Texts.Length)]);
                text.ReplaceWith(random.Next(4) == 0 ? from + to : random.Next(4) == 0 ? new string('x', random.Next(1, 5000)) : to);
                return $"{where} is another text";
            case 4 when node.Parent is JsonObject parent:
                parent.Remove(node.GetPropertyName());
                return $"{where} is gone";
            case 5 when node.Parent is JsonArray list:
                list.RemoveAt(node.GetElementIndex());
                return $"{where} is gone";
            case 6 when node.Parent is JsonArray list:
                var copies = random.Next(1, 400);
                for (var i = 0; i < copies; i++)
                {
                    list.Add(node.DeepClone());
                }

                return $"{where} stands {copies} times more";
            case 7 when node is JsonArray wide:
                var (turns, deep) = (random.Next(2, 30), random.Next(1, 9));
                JsonNode inner = wide.Count > 0 ? wide[0]!.DeepClone() : "x";
                for (var i = 0; i < deep; i++)
                {
                    inner = new JsonObject
                    {
                        ["for"] = $"v{i}",
                        ["in"] = new JsonArray([.. Enumerable.Range(0, turns).Select(t => (JsonNode)$"t{t}")]),
                        ["do"] = new JsonArray(inner),
                    };
                }

                wide.Add(inner);
                return $"{where} has {turns} turns, {deep} deep";
            case 8 when all.Find(n => n.GetPropertyNameOrNull() is "when" or "needs" or "done" or "lit" or "sign") is { } condition:
                where = condition.GetPath();
                condition.ReplaceWith(string.Concat(Enumerable.Repeat(random.Next(2) == 0 ? "not " : "(", random.Next(1, 60_000))) + "battery is on");
                return $"{where} is deep";
            default:
                node.ReplaceWith<JsonNode?>(random.Next(3) switch { 0 => null, 1 => new JsonArray(), _ => new JsonObject() });
                return $"{where} is of another kind";
        }
    }

    private static string Odd(string number) => number == "1e999" ? "1e308" : number;

    private static JsonNode? Of<T>(List<JsonNode> all, Random random) => all.Where(n => n is JsonValue v && v.TryGetValue<T>(out _)).ToList() is { Count: > 0 } fit
        ? fit[random.Next(fit.Count)] : null;

    private static string? GetPropertyNameOrNull(this JsonNode node) => node.Parent is JsonObject ? node.GetPropertyName() : null;

    private static void Collect(JsonNode node, List<JsonNode> into)
    {
        if (node.Parent is not null)
        {
            into.Add(node);
        }

        foreach (var child in node is JsonObject o ? o.Select(p => p.Value) : node is JsonArray a ? a : Enumerable.Empty<JsonNode?>())
        {
            if (child is not null)
            {
                Collect(child, into);
            }
        }
    }
}
