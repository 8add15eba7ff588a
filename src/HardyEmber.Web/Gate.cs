using System.Net;
using System.Security.Cryptography;
using System.Text;
using HardyEmber.Web.Api;

namespace HardyEmber.Web;

/// <summary>Who may ask this server anything, and under which names.</summary>
/// <param name="Hosts">Names it answers to.</param>
/// <param name="Token">What a page must know; null where the server is reached from this machine only.</param>
internal sealed record GateRules(IReadOnlySet<string> Hosts, string? Token)
{
    public const string HostsSetting = "EMBER_HOSTS", TokenSetting = "EMBER_TOKEN";

    private static readonly string[] Loopback = ["localhost", "127.0.0.1", "[::1]"];

    /// <summary>Reads the rules from the environment and the addresses the server is bound to.</summary>
    /// <exception cref="FormatException">It would be open to others without a token.</exception>
    public static GateRules Of(IConfiguration settings, string urls)
    {
        var token = settings[TokenSetting] is { Length: > 0 } given ? given : null;
        var hosts = (settings[HostsSetting] ?? "").Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries);
        if (token is null && urls.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).FirstOrDefault(u => !IsLoopback(u)) is { } open)
        {
            throw new FormatException($"{TokenSetting}: {open} can be reached from other machines; set a token that its pages must know");
        }

        return new GateRules(Loopback.Concat(hosts).ToHashSet(StringComparer.OrdinalIgnoreCase), token);
    }

    private static bool IsLoopback(string url)
    {
        var address = BindingAddress.Parse(url);
        return string.Equals(address.Host, "localhost", StringComparison.OrdinalIgnoreCase) || IPAddress.TryParse(address.Host.Trim('[', ']'), out var ip)
            && IPAddress.IsLoopback(ip);
    }
}

/// <summary>
/// What comes before everything else: the headers that keep a page to itself (on errors as well), the host's name, the origin
/// of a request, and where it is asked for, the token.
/// </summary>
internal static class Gate
{
    /// <summary>A write that names no origin must carry this header, which no plain form can send.</summary>
    public const string WriteHeader = "X-Hardy-Ember";

    private const string Cookie = "hardy-ember";
    private static readonly TimeSpan SlowDown = TimeSpan.FromSeconds(1);

    private const string Policy = "default-src 'none'; script-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; " +
        "base-uri 'none'; form-action 'none'; frame-ancestors 'none'; manifest-src 'self'; style-src 'self'";

    public static void UseGate(this WebApplication app, GateRules rules)
    {
        var pass = rules.Token is null ? null : Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes("hardy-ember/pass:" + rules.Token)));
        app.Use(async (context, next) =>
        {
            // Set when the answer begins: an error handler that clears the answer does not lose them.
            context.Response.OnStarting(() =>
            {
                var headers = context.Response.Headers;
                headers.ContentSecurityPolicy = context.Items[Pages.Nonce] is string nonce ? $"{Policy} 'nonce-{nonce}'" : Policy;
                headers.XContentTypeOptions = "nosniff";
                headers["Referrer-Policy"] = "no-referrer";
                return Task.CompletedTask;
            });
            if (Refusal(context.Request, rules, pass) is { } refusal)
            {
                await refusal.ExecuteAsync(context).ConfigureAwait(false);
                return;
            }

            await next(context).ConfigureAwait(false);
        });
        app.MapPost("/api/login", async Task<IResult> (LoginRequest login, HttpContext context) =>
        {
            if (pass is null)
            {
                return TypedResults.NoContent();
            }

            if (!Same(login.Token, rules.Token!))
            {
                await Task.Delay(SlowDown, context.RequestAborted).ConfigureAwait(false); // guessing costs time
                return Problems.Bad("token", "this is not the token");
            }

            context.Response.Cookies.Append(Cookie, pass, new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Strict,
                Secure = context.Request.IsHttps,
                IsEssential = true,
                MaxAge = TimeSpan.FromDays(30)
            });
            return TypedResults.NoContent();
        }).ExcludeFromDescription();
    }

    private static IResult? Refusal(HttpRequest request, GateRules rules, string? pass)
    {
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
        return pass is not null && asks && !open && !Same(request.Cookies[Cookie] ?? "", pass)
            ? TypedResults.Problem("this server needs its token: log in first", statusCode: StatusCodes.Status401Unauthorized, title: "Nothing was changed.") : null;
    }

    private static bool Same(string given, string wanted) => CryptographicOperations.FixedTimeEquals(SHA256.HashData(Encoding.UTF8.GetBytes(given)),
        SHA256.HashData(Encoding.UTF8.GetBytes(wanted)));

    private sealed record LoginRequest(string Token);
}
