using System.Reflection;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization.Metadata;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember schemas</c>: the JSON Schemas of the formats, from the types that read them.</summary>
internal static class SchemaCommand
{
    private static readonly (string Name, Type Type)[] Formats =
    [
        ("aircraft", typeof(AircraftDefinition)), ("place", typeof(PlaceDefinition)), ("procedure", typeof(ProcedureDefinition)),
        ("faults", typeof(FaultCatalog)), ("watches", typeof(WatchFile)), ("drills", typeof(AirDrills)), ("run-header", typeof(RunHeader)), ("squadron", typeof(Squadron)),
    ];

    public static int Run()
    {
        var folder = Path.Combine(FleetFolder.Find(), "schema");
        Directory.CreateDirectory(folder);
        foreach (var (name, type) in Formats)
        {
            var schema = FleetJson.Options.GetJsonSchemaAsNode(type, new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true, TransformSchemaNode = WithRange });
            schema["$schema"] = "https://json-schema.org/draft/2020-12/schema";
            schema["title"] = $"hardy-ember/{name}, version 1";
            File.WriteAllText(Path.Combine(folder, $"{name}.schema.json"), schema.ToJsonString(FleetJson.Options) + "\n");
        }

        return 0;
    }

    // A range stands at the field; the schema repeats it.
    private static JsonNode WithRange(JsonSchemaExporterContext context, JsonNode schema)
    {
        var type = context.PropertyInfo is { } member ? Nullable.GetUnderlyingType(member.PropertyType) ?? member.PropertyType : null;
        if (context.PropertyInfo?.AttributeProvider is PropertyInfo property && Type.GetTypeCode(type) is TypeCode.Double or TypeCode.Int32 && schema is JsonObject field)
        {
            var range = BetweenAttribute.Of(property);
            (field["minimum"], field["maximum"]) = (range.Low, range.High);
        }

        return WithParts(context, schema);
    }

    // Where a list of things stands in a file that may use parts, a part may stand for some of them.
    private static JsonNode WithParts(JsonSchemaExporterContext context, JsonNode schema)
    {
        if (context.TypeInfo.Kind == JsonTypeInfoKind.Enumerable && schema["items"] is JsonObject items && items["properties"] is not null)
        {
            schema["items"] = new JsonObject
            {
                ["anyOf"] = new JsonArray(items.DeepClone(), Needs("use"), Needs("for", "in", "do")),
            };
        }

        return schema;
    }

    private static JsonObject Needs(params string[] fields) => new() { ["type"] = "object", ["required"] = new JsonArray([.. fields.Select(f => JsonValue.Create(f))]) };
}
