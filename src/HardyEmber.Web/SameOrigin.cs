namespace HardyEmber.Web;

/// <summary>
/// Writes and hub connections only from our own pages: a browser names the page's origin, and it must be the host that
/// was asked. Also the headers that keep the page to itself: strict content-security policy, no framing, no sniffing.
/// </summary>
internal static class SameOrigin
{
    private const string Policy = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; " +
        "base-uri 'none'; form-action 'none'; frame-ancestors 'none'; manifest-src 'self'";

    public static void UseSameOrigin(this WebApplication app) => app.Use(async (context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        var request = context.Request;
        var guarded = !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method) || request.Path.StartsWithSegments("/hub", StringComparison.Ordinal);
        var origin = request.Headers.Origin.ToString();
        if (guarded && origin.Length > 0 && (!Uri.TryCreate(origin, UriKind.Absolute, out var from) || from.Authority != request.Host.Value))
        {
            await TypedResults.Problem("writes are accepted only from this server's own pages", statusCode: StatusCodes.Status403Forbidden, title: "Nothing was changed.")
                .ExecuteAsync(context).ConfigureAwait(false);
            return;
        }

        await next(context).ConfigureAwait(false);
    });
}
