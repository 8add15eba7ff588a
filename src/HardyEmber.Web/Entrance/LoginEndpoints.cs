using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using HardyEmber.Web.Api;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Entrance;

/// <param name="Token">What the server was started with.</param>
public sealed record LoginRequest(string Token);

/// <summary>Whether this server asks for a token.</summary>
/// <param name="In">This browser has given it.</param>
public sealed record EntranceView(bool Needed, bool In);

/// <summary>A browser that is logged in.</summary>
/// <param name="Address">Where it came from.</param>
/// <param name="Browser">What it says it is.</param>
/// <param name="Own">It is the one that asks.</param>
public sealed record LoginView(string Id, DateTimeOffset Created, DateTimeOffset Ends, string Address, string Browser, bool Own);

internal static partial class LoginEndpoints
{
    /// <summary>Logging in and out, and the list of who is in.</summary>
    public static void MapLogins(this RouteGroupBuilder api)
    {
        api.MapGet("/login", (HttpRequest request, GateRules rules, Logins logins) =>
            TypedResults.Ok(new EntranceView(rules.Token is not null, rules.Token is not null && logins.Of(request) is not null))).WithName("GetEntrance");

        api.MapPost("/login", async Task<Results<NoContent, ProblemHttpResult>> (LoginRequest login, HttpContext context, GateRules rules, Logins logins, Guesses guesses,
            ILogger<Logins> log) =>
        {
            if (rules.Token is not { } token)
            {
                return TypedResults.NoContent();
            }

            var (right, wait) = guesses.Try(() => Same(login.Token, token));
            if (wait > TimeSpan.Zero)
            {
                var seconds = (int)Math.Ceiling(wait.TotalSeconds);
                context.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
                return TypedResults.Problem($"wrong tokens were given too often: the next one is looked at in {seconds} s", statusCode: StatusCodes.Status429TooManyRequests,
                    title: "Not now.", extensions: new Dictionary<string, object?> { ["field"] = "token" });
            }

            if (!right)
            {
                WrongToken(log, context.Connection.RemoteIpAddress?.ToString() ?? "", guesses.Wrong, Guesses.WaitAfter(guesses.Wrong).TotalSeconds);
                return Problems.Bad("token", "this is not the token");
            }

            await logins.BeginAsync(context).ConfigureAwait(false);
            return TypedResults.NoContent();
        }).WithName("LogIn");

        api.MapPost("/logout", async (HttpContext context, Logins logins) =>
        {
            if (logins.Of(context.Request) is { } own)
            {
                // The request that asks for it is one of those that end with it: it is answered first.
                context.Response.OnCompleted(() => logins.EndAsync(own.Kept.Id));
            }

            Logins.Forget(context.Response);
            return TypedResults.NoContent();
        }).WithName("LogOut");

        api.MapGet("/logins", IReadOnlyList<LoginView> (HttpRequest request, Logins logins) =>
        {
            var own = logins.Of(request)?.Kept.Id;
            return [.. logins.All.Select(k => new LoginView(k.Id, k.Created, k.Ends, k.Address, k.Browser, k.Id == own))];
        }).WithName("ListLogins");

        api.MapDelete("/logins/{id}", async Task<Results<NoContent, ProblemHttpResult>> (string id, Logins logins) => await logins.EndAsync(id).ConfigureAwait(false)
            ? TypedResults.NoContent()
            : TypedResults.Problem($"there is no login \"{id}\"", statusCode: StatusCodes.Status404NotFound, title: "Not found.",
                extensions: new Dictionary<string, object?> { ["field"] = "id" })).WithName("EndLogin");
    }

    private static bool Same(string given, string wanted) => CryptographicOperations.FixedTimeEquals(SHA256.HashData(Encoding.UTF8.GetBytes(given)),
        SHA256.HashData(Encoding.UTF8.GetBytes(wanted)));

    [LoggerMessage(Level = LogLevel.Warning, Message = "A wrong token from {Address}, {Wrong} in a row: the next one is looked at in {Seconds} s")]
    private static partial void WrongToken(ILogger log, string address, int wrong, double seconds);
}
