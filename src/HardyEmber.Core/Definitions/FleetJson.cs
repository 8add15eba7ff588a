using System.Text.Json;
using System.Text.Json.Serialization;

namespace HardyEmber.Core.Definitions;

/// <summary>How the data files and the API are written: camel case, words for enums, no member that is not known.</summary>
public static class FleetJson
{
    public static JsonSerializerOptions Options { get; } = Make(indented: true);

    /// <summary>The same on one line, for NDJSON.</summary>
    public static JsonSerializerOptions Line { get; } = Make(indented: false);

    /// <summary>The same, passing over what is not asked for: to see what a file is.</summary>
    public static JsonSerializerOptions Loose { get; } = Make(indented: false, JsonUnmappedMemberHandling.Skip);

    public static void Configure(JsonSerializerOptions options)
    {
        options.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
        options.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
        options.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
        options.NumberHandling = JsonNumberHandling.Strict;
        options.RespectNullableAnnotations = true;
        options.RespectRequiredConstructorParameters = true;
        options.MaxDepth = 32;
        options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false));
    }

    private static JsonSerializerOptions Make(bool indented, JsonUnmappedMemberHandling unmapped = JsonUnmappedMemberHandling.Disallow)
    {
        var options = new JsonSerializerOptions { WriteIndented = indented, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
        Configure(options);
        options.UnmappedMemberHandling = unmapped;
        options.MakeReadOnly(populateMissingResolver: true);
        return options;
    }

    /// <summary>The field an exception of the reader is about, as a dotted path.</summary>
    public static string FieldOf(JsonException e)
    {
        ArgumentNullException.ThrowIfNull(e);
        var path = (e.Path ?? "").TrimStart('$').TrimStart('.');
        return path.Length > 0 ? path : "line";
    }

    /// <summary>The reader's message in short, plain words.</summary>
    public static string Plain(JsonException e)
    {
        ArgumentNullException.ThrowIfNull(e);
        var text = e.Message;
        if (text.Contains("could not be mapped", StringComparison.Ordinal))
        {
            return $"the field \"{text.Split('\'')[1]}\" is not known";
        }

        if (text.Contains("missing required", StringComparison.Ordinal))
        {
            return "required fields are missing: " + text[(text.LastIndexOf(':') + 1)..].Trim().TrimEnd('.');
        }

        return text.Contains("could not be converted", StringComparison.Ordinal)
            ? "the value is of the wrong kind" : "the text is not valid JSON here";
    }
}
