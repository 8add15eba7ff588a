namespace HardyEmber.Web.Work;

/// <summary>How many questions are worked on or wait.</summary>
public sealed record WorkView(long Waiting);

/// <summary>Marks endpoints whose work is done in the workshop.</summary>
internal static class HeavyWork
{
    /// <summary>The handler runs in the workshop, when its turn has come, unless whoever asked has gone by then.</summary>
    /// <param name="when">Whether a request is such work; each is where nothing is said.</param>
    public static TBuilder WithHeavyWork<TBuilder>(this TBuilder builder, Func<HttpContext, bool>? when = null)
        where TBuilder : IEndpointConventionBuilder => builder.AddEndpointFilter(async (context, next) =>
        {
            var http = context.HttpContext;
            // One hand of the workshop is given to the whole of it; what it stores meanwhile is waited for there.
            return when is not null && !when(http) ? await next(context).ConfigureAwait(false)
                : await http.RequestServices.GetRequiredService<Workshop>().DoAsync(http, _ => next(context).AsTask().GetAwaiter().GetResult()).ConfigureAwait(false);
        });

    /// <summary>Does work for a request, when its turn has come.</summary>
    /// <exception cref="WorkshopFullException">There is no room for it now.</exception>
    /// <exception cref="OperationCanceledException">The request was cancelled.</exception>
    public static Task<T> DoAsync<T>(this Workshop workshop, HttpContext http, Func<CancellationToken, T> work) =>
        workshop.DoAsync(http.Connection.RemoteIpAddress?.ToString() ?? "", work, http.RequestAborted);
}
