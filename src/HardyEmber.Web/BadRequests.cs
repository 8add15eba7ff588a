using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using HardyEmber.Core.Definitions;
using HardyEmber.Web.Api;

namespace HardyEmber.Web;

/// <summary>A request that cannot be read (its body, its query, its encoding): the field is named, nothing was changed, and the log has nothing to tell.</summary>
internal sealed partial class BadRequests(RequestDelegate next)
{
    public async Task InvokeAsync(HttpContext context)
    {
        if (!IsKnown(context.Request.GetTypedHeaders().ContentType?.Charset.Value))
        {
            await TypedResults.Problem("the body has an encoding that is not known here; UTF-8 is", statusCode: StatusCodes.Status415UnsupportedMediaType,
                title: "Nothing was changed.", extensions: new Dictionary<string, object?> { ["field"] = "content-type" }).ExecuteAsync(context).ConfigureAwait(false);
            return;
        }

        try
        {
            await next(context).ConfigureAwait(false);
        }
        catch (BadHttpRequestException e) when (e.InnerException is JsonException json)
        {
            await Problems.Bad(FleetJson.FieldOf(json), FleetJson.Plain(json)).ExecuteAsync(context).ConfigureAwait(false);
        }
        catch (BadHttpRequestException e) when (e.StatusCode == StatusCodes.Status400BadRequest && Parameter().Match(e.Message) is { Success: true } parameter)
        {
            // The framework says which parameter only in its sentence.
            var given = context.Request.Query[parameter.Groups[1].Value].ToString();
            await Problems.Bad(parameter.Groups[1].Value, given.Length > 0 ? "the value is of the wrong kind" : "a value is needed").ExecuteAsync(context).ConfigureAwait(false);
        }
        catch (InvalidOperationException e) when (e.Source?.StartsWith("System.Text.Json", StringComparison.Ordinal) == true)
        {
            await Problems.Bad("body", "a text holds half a character").ExecuteAsync(context).ConfigureAwait(false); // a lone surrogate
        }
    }

    private static bool IsKnown(string? charset)
    {
        try
        {
            return charset is not { Length: > 0 } || Encoding.GetEncoding(charset.Trim('"')) is not null;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }

    [GeneratedRegex("(?:Failed to bind|Required) parameter \"(?:[^\"]* )?([A-Za-z]+)\"")]
    private static partial Regex Parameter();
}
