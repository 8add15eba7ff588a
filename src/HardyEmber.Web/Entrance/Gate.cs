namespace HardyEmber.Web.Entrance;

/// <summary>
/// What comes before everything else: the headers that keep a page to itself (on errors as well), the host's name, the origin
/// of a request, and where it is asked for, the token.
/// </summary>
internal static class Gate
{
    /// <summary>A write that names no origin must carry this header, which no plain form can send.</summary>
    public const string WriteHeader = "X-Hardy-Ember";

    private const string Policy = "default-src 'none'; script-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; " +
        "base-uri 'none'; form-action 'none'; frame-ancestors 'none'; manifest-src 'self'; style-src 'self'";

    /// <summary>The headers that keep a page to itself.</summary>
    public static IEnumerable<(string Name, string Value)> HeadersWith(string? nonce) =>
        [("Content-Security-Policy", nonce is null ? Policy : $"{Policy} 'nonce-{nonce}'"), ("X-Content-Type-Options", "nosniff"), ("Referrer-Policy", "no-referrer")];

    public static void UseGate(this WebApplication app, GateRules rules)
    {
        var logins = app.Services.GetRequiredService<Logins>();
        app.Use(async (context, next) =>
        {
            // Set when the answer begins: an error handler that clears the answer does not lose them.
            context.Response.OnStarting(() =>
            {
                foreach (var (name, value) in HeadersWith(context.Items[Pages.Nonce] as string))
                {
                    context.Response.Headers[name] = value;
                }

                return Task.CompletedTask;
            });
            var login = rules.Token is null ? null : logins.Of(context.Request);
            if (Refusal(context.Request, rules, login is not null) is { } refusal)
            {
                await refusal.ExecuteAsync(context).ConfigureAwait(false);
                return;
            }

            // Who is thrown out loses what he has open, the line of a run among it.
            using var over = login?.Over.Token.Register(context.Abort);
            await next(context).ConfigureAwait(false);
        });
    }

    private static IResult? Refusal(HttpRequest request, GateRules rules, bool isIn)
    {
        if (!rules.Open)
        {
            return TypedResults.Problem("the server is starting: ask again in a moment", statusCode: StatusCodes.Status503ServiceUnavailable, title: "Nothing was changed.");
        }

        if (!rules.Hosts.Contains(request.Host.Host))
        {
            return TypedResults.Problem($"this server does not answer to the name \"{request.Host.Host}\"; {GateRules.HostsSetting} names those it answers to",
                statusCode: StatusCodes.Status421MisdirectedRequest, title: "Nothing was changed.");
        }

        var origin = request.Headers.Origin.ToString();
        if (origin.Length > 0 && (!Uri.TryCreate(origin, UriKind.Absolute, out var from) || !string.Equals(from.Authority, request.Host.Value, StringComparison.OrdinalIgnoreCase)))
        {
            return TypedResults.Problem("only this server's own pages are answered", statusCode: StatusCodes.Status403Forbidden, title: "Nothing was changed.");
        }

        var writes = !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method);
        if (writes && origin.Length == 0 && !request.Headers.ContainsKey(WriteHeader))
        {
            return TypedResults.Problem($"a write that names no origin needs the header {WriteHeader}", statusCode: StatusCodes.Status403Forbidden, title: "Nothing was changed.");
        }

        // The pages themselves hold nothing; what they ask for does.
        var asks = request.Path.StartsWithSegments("/api", StringComparison.OrdinalIgnoreCase) || request.Path.StartsWithSegments("/hub", StringComparison.OrdinalIgnoreCase)
            || request.Path.StartsWithSegments("/openapi", StringComparison.OrdinalIgnoreCase);
        var open = request.Path.Equals("/api/login", StringComparison.OrdinalIgnoreCase) || request.Path.Equals("/api/health", StringComparison.OrdinalIgnoreCase);
        return rules.Token is not null && asks && !open && !isIn
            ? TypedResults.Problem("this server needs its token: log in first", statusCode: StatusCodes.Status401Unauthorized, title: "Nothing was changed.") : null;
    }
}
