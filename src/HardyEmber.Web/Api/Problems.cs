using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <summary>Bad input as problem details (RFC 9457) with the field that is wrong.</summary>
internal static class Problems
{
    public static ProblemHttpResult Bad(string field, string detail) =>
        TypedResults.Problem(detail, statusCode: StatusCodes.Status400BadRequest, title: "Nothing was changed.",
            extensions: new Dictionary<string, object?> { ["field"] = field });

    public static ProblemHttpResult NoRun(string id) =>
        TypedResults.Problem($"there is no run \"{id}\"", statusCode: StatusCodes.Status404NotFound, title: "Not found.",
            extensions: new Dictionary<string, object?> { ["field"] = "id" });

    /// <summary>Splits "field: message" as the core writes it.</summary>
    public static ProblemHttpResult Bad(FormatException e)
    {
        var colon = e.Message.IndexOf(": ", StringComparison.Ordinal);
        return colon > 0 ? Bad(e.Message[..colon], e.Message[(colon + 2)..]) : Bad("header", e.Message);
    }
}
