namespace HardyEmber.Web.Work;

/// <summary>How many questions are worked on or wait.</summary>
public sealed record WorkView(long Waiting);

/// <summary>Marks endpoints whose work is done in the workshop.</summary>
internal static class HeavyWork
{
    private const int RetryAfterS = 2;

    /// <summary>The handler runs in the workshop, when its turn has come, unless whoever asked has gone by then.</summary>
    public static TBuilder WithHeavyWork<TBuilder>(this TBuilder builder)
        where TBuilder : IEndpointConventionBuilder => builder.AddEndpointFilter<TBuilder, Filter>();

    private sealed class Filter(Workshop workshop) : IEndpointFilter
    {
        public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
        {
            var http = context.HttpContext;
            try
            {
                // One hand of the workshop is given to the whole of it; what it stores meanwhile is waited for there.
                return await workshop.DoAsync(http.Connection.RemoteIpAddress?.ToString() ?? "", _ => next(context).AsTask().GetAwaiter().GetResult(), http.RequestAborted)
                    .ConfigureAwait(false);
            }
            catch (WorkshopFullException e)
            {
                http.Response.Headers.RetryAfter = RetryAfterS.ToString(System.Globalization.CultureInfo.InvariantCulture);
                return TypedResults.Problem(e.Message, statusCode: StatusCodes.Status429TooManyRequests, title: "Too much at once.");
            }
            catch (OperationCanceledException) when (http.RequestAborted.IsCancellationRequested)
            {
                return Results.Empty; // nobody is there to read it
            }
        }
    }
}
