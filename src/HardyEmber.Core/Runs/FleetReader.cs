using System.Buffers;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Runs;

/// <summary>Makes definitions of the texts of data files.</summary>
internal static class FleetReader
{
    private static readonly Dictionary<string, Type> Formats = new()
    {
        ["hardy-ember/aircraft"] = typeof(AircraftDefinition),
        ["hardy-ember/place"] = typeof(PlaceDefinition),
        ["hardy-ember/procedure"] = typeof(ProcedureDefinition),
        ["hardy-ember/faults"] = typeof(FaultCatalog),
        ["hardy-ember/drills"] = typeof(AirDrills),
    };

    private const string PartsFormat = "hardy-ember/parts";
    private const string WatchesFormat = "hardy-ember/watches";

    /// <summary>What the files say, parts put in.</summary>
    /// <param name="trees">Takes each file as it was read.</param>
    /// <param name="faults">Takes what cannot be read; it is left out.</param>
    /// <param name="cancel">Nobody waits for it any more.</param>
    public static List<(string Path, object Value)> Read(IReadOnlyList<FleetFile> files, Dictionary<string, JsonTree> trees, List<DataFault> faults,
        CancellationToken cancel)
    {
        var wrong = new List<(JsonTree Tree, string Problem)>();
        var parts = new Parts(wrong);
        var common = new List<JsonTree>();
        var written = new List<(string Path, JsonTree Tree, Type Type)>();
        foreach (var file in files)
        {
            try
            {
                cancel.ThrowIfCancellationRequested();
                if (file.Text.Length > DataLimits.LongestFile)
                {
                    faults.Add(new DataFault(file.Path, 0, "", "", $"a data file has at most {DataLimits.LongestFile >> 10} kB"));
                    continue;
                }

                var tree = trees[file.Path] = JsonTree.Of(file.Text, file.Path);
                var format = tree.Members.GetValueOrDefault("format");
                if (format?.Text == PartsFormat)
                {
                    parts.Add(tree);
                }
                else if (format?.Text == WatchesFormat)
                {
                    common.AddRange(tree.Members.GetValueOrDefault("watches")?.Items ?? []);
                    ShapeCheck.Check(tree.With(tree.Members.Where(m => m.Key != "watches").Select(m => (m.Key, m.Value)).Append(("watches", JsonTree.Of("[]"))), []),
                        typeof(WatchFile), FleetJson.Options, wrong);
                }
                else if (format?.Text is { } word && Formats.TryGetValue(word, out var type))
                {
                    written.Add((file.Path, tree, type));
                }
                else
                {
                    wrong.Add((format ?? tree, $"\"{format?.Text}\" is not known{Nearest.Hint(format?.Text ?? "", Formats.Keys.Append(PartsFormat).Append(WatchesFormat))}"));
                }
            }
            catch (DataLimitException e)
            {
                wrong.Add((e.At, e.Message));
            }
            catch (JsonException e)
            {
                faults.Add(new DataFault(file.Path, (int)(e.LineNumber ?? 0) + 1, "", $"line {e.LineNumber + 1}", FleetJson.Plain(e)));
            }
        }

        var read = new List<(string, object)>();
        foreach (var (path, tree, type) in written)
        {
            var before = wrong.Count;
            // A procedure may name what stands in its aircraft's file: a limit stands once.
            var jet = tree.Members.GetValueOrDefault("aircraft")?.Text is { } id
                ? written.Find(w => w.Type == typeof(AircraftDefinition) && w.Tree.Members.GetValueOrDefault("id")?.Text == id).Tree : null;
            var named = type == typeof(AircraftDefinition) ? WithWatches(tree, common) : tree;
            var known = type == typeof(AircraftDefinition) ? tree : jet;
            JsonTree whole = tree;
            try
            {
                whole = trees[path] = parts.Expand(named, known is null ? null : new Dictionary<string, JsonTree> { ["aircraft"] = known }, cancel);
                ShapeCheck.Check(whole, type, FleetJson.Options, wrong);
                read.AddRange(wrong.Count == before ? [(path, Deserialize(whole, type))] : []);
            }
            catch (JsonException e)
            {
                wrong.Add((whole.Find(FleetJson.FieldOf(e)), FleetJson.Plain(e)));
            }
            catch (DataLimitException e)
            {
                wrong.Add((e.At, e.Message));
            }
        }

        faults.AddRange(wrong.Take(DataLimits.MostProblems).Select(f => new DataFault(f.Tree.File, f.Tree.Line, f.Tree.At, f.Tree.At.TrimStart('/').Replace('/', '.'), f.Problem)));
        return read;
    }

    // What all aircraft are watched for comes after what is their own.
    private static JsonTree WithWatches(JsonTree aircraft, List<JsonTree> common)
    {
        var own = aircraft.Members.GetValueOrDefault("watches") ?? JsonTree.Of("[]");
        return aircraft.Kind != JsonTokenType.StartObject || own.Kind != JsonTokenType.StartArray ? aircraft
            : aircraft.With(aircraft.Members.Where(m => m.Key != "watches").Select(m => (m.Key, m.Value)).Append(("watches", own.With([], own.Items.Concat(common)))), []);
    }

    private static object Deserialize(JsonTree tree, Type type)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var writer = new Utf8JsonWriter(buffer))
        {
            tree.WriteTo(writer);
        }

        return JsonSerializer.Deserialize(buffer.WrittenSpan, type, FleetJson.Options)!;
    }
}
