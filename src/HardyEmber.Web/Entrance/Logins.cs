using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using HardyEmber.Store;

namespace HardyEmber.Web.Entrance;

/// <summary>A browser that is in.</summary>
/// <param name="Kept">What is stored of it.</param>
/// <param name="Over">Cancelled when it logs out or is thrown out: what it has open ends with it.</param>
internal sealed record Login(KeptLogin Kept, CancellationTokenSource Over);

/// <summary>The browsers that gave the token. Each has a cookie of its own, with an end, and can be thrown out alone; they outlive a restart of the server.</summary>
internal sealed class Logins
{
    /// <summary>A login ends after this.</summary>
    public static readonly TimeSpan Lasts = TimeSpan.FromDays(30);

    private const string Cookie = "hardy-ember";
    private const int PassBytes = 32, LongestNote = 120;
    private readonly ConcurrentDictionary<string, Login> _byPass = new();
    private readonly LoginStore _store;
    private readonly TimeProvider _time;
    private readonly string _token;

    public Logins(GateRules rules, LoginStore store, TimeProvider time)
    {
        (_store, _time, _token) = (store, time, Digest(rules.Token ?? ""));
        foreach (var kept in rules.Token is null ? [] : store.Of(_token, time.GetUtcNow()))
        {
            _byPass[kept.Pass] = new Login(kept, new CancellationTokenSource());
        }
    }

    /// <summary>Those that have not ended, the newest first.</summary>
    public IReadOnlyList<KeptLogin> All => [.. _byPass.Values.Select(l => l.Kept).Where(k => k.Ends > _time.GetUtcNow()).OrderByDescending(k => k.Created)];

    /// <summary>The login of a request; null where it has none, or one that has ended.</summary>
    public Login? Of(HttpRequest request) =>
        request.Cookies[Cookie] is { Length: > 0 } pass && _byPass.TryGetValue(Digest(pass), out var login) && login.Kept.Ends > _time.GetUtcNow() ? login : null;

    /// <summary>Lets a browser in, and gives it its cookie.</summary>
    /// <exception cref="StoreException">It was not let in.</exception>
    public async Task BeginAsync(HttpContext context)
    {
        var (pass, now) = (Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(PassBytes)), _time.GetUtcNow());
        var kept = new KeptLogin(Guid.CreateVersion7(now).ToString("n"), Digest(pass), _token, now, now + Lasts, context.Connection.RemoteIpAddress?.ToString() ?? "",
            Note(context.Request.Headers.UserAgent.ToString()));
        await _store.KeepAsync(kept).ConfigureAwait(false);
        _byPass[kept.Pass] = new Login(kept, new CancellationTokenSource());
        context.Response.Cookies.Append(Cookie, pass, new CookieOptions
        {
            HttpOnly = true,
            SameSite = SameSiteMode.Strict,
            Secure = context.Request.IsHttps,
            IsEssential = true,
            MaxAge = Lasts,
        });
    }

    /// <summary>Ends a login, and cuts off what it has open; false where there is none.</summary>
    /// <exception cref="StoreException">It goes on.</exception>
    public async Task<bool> EndAsync(string id)
    {
        if (_byPass.Values.FirstOrDefault(l => l.Kept.Id == id) is not { } login)
        {
            return false;
        }

        await _store.ForgetAsync(id).ConfigureAwait(false);
        _ = _byPass.TryRemove(login.Kept.Pass, out _);
        await login.Over.CancelAsync().ConfigureAwait(false);
        return true;
    }

    /// <summary>Takes the cookie back.</summary>
    public static void Forget(HttpResponse response) => response.Cookies.Delete(Cookie, new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Strict });

    public static string Digest(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes("hardy-ember/login:" + text)));

    // What a browser says of itself is anybody's text.
    private static string Note(string agent) => new([.. agent.Where(c => c is >= ' ' and < '\u007f').Take(LongestNote)]);
}
