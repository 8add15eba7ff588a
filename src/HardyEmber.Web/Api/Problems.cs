using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.Data.Sqlite;

namespace HardyEmber.Web.Api;

/// <summary>Bad input as problem details (RFC 9457) with the field that is wrong.</summary>
internal static class Problems
{
    private const int RetryAfterS = 2;

    public static ProblemHttpResult Bad(string field, string detail) =>
        TypedResults.Problem(detail, statusCode: StatusCodes.Status400BadRequest, title: "Nothing was changed.",
            extensions: new Dictionary<string, object?> { ["field"] = field });

    public static ProblemHttpResult NoRun(string id) =>
        TypedResults.Problem($"there is no run \"{id}\"", statusCode: StatusCodes.Status404NotFound, title: "Not found.",
            extensions: new Dictionary<string, object?> { ["field"] = "id" });

    /// <summary>A stored run that cannot be read, a database that cannot be used: told in words, never as an error of the server.</summary>
    public static async ValueTask<object?> TellTrouble(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        try
        {
            // What a header may hold is looked at before anything is computed of it.
            foreach (var header in context.Arguments.OfType<RunHeader>())
            {
                HeaderCheck.Check(header);
            }
        }
        catch (FormatException e)
        {
            return Bad(e);
        }

        try
        {
            return await next(context).ConfigureAwait(false);
        }
        catch (RunFileException e)
        {
            return TypedResults.Problem($"line {e.Line}: {e.Problem}", statusCode: StatusCodes.Status422UnprocessableEntity, title: "This run is damaged.",
                extensions: new Dictionary<string, object?> { ["field"] = e.Field });
        }
        catch (WorkshopFullException e)
        {
            context.HttpContext.Response.Headers.RetryAfter = RetryAfterS.ToString(CultureInfo.InvariantCulture);
            return TypedResults.Problem(e.Message, statusCode: StatusCodes.Status429TooManyRequests, title: "Too much at once.");
        }
        catch (OperationCanceledException) when (context.HttpContext.RequestAborted.IsCancellationRequested)
        {
            return Results.Empty; // nobody is there to read it
        }
        catch (Exception e) when (e is StoreException or SqliteException)
        {
            return TypedResults.Problem((e as StoreException ?? StoreException.Of((SqliteException)e)).Message, statusCode: StatusCodes.Status503ServiceUnavailable,
                title: "The logbook does not answer.");
        }
    }

    /// <summary>Splits "field: message" as the core writes it.</summary>
    public static ProblemHttpResult Bad(FormatException e)
    {
        var colon = e.Message.IndexOf(": ", StringComparison.Ordinal);
        return colon > 0 ? Bad(e.Message[..colon], e.Message[(colon + 2)..]) : Bad("header", e.Message);
    }
}
