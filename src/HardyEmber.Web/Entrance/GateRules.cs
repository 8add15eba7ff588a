using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;

namespace HardyEmber.Web.Entrance;

/// <summary>Who may ask this server anything, and under which names.</summary>
/// <param name="Hosts">Names it answers to.</param>
/// <param name="Token">What a page must know; null where the server is reached from this machine only.</param>
internal sealed partial record GateRules(IReadOnlySet<string> Hosts, string? Token)
{
    public const string HostsSetting = "EMBER_HOSTS", TokenSetting = "EMBER_TOKEN";

    /// <summary>A shorter token can be guessed.</summary>
    public const int ShortestToken = 16;

    private static readonly string[] Loopback = ["localhost", "127.0.0.1", "[::1]"];

    /// <summary>What the server is bound to has been looked at, and may be answered on; until then nobody is answered.</summary>
    public bool Open { get; set; }

    /// <summary>Reads the rules from the environment.</summary>
    /// <exception cref="FormatException">The token is too short.</exception>
    public static GateRules Of(IConfiguration settings)
    {
        var token = settings[TokenSetting] is { Length: > 0 } given ? given : null;
        if (token is { Length: < ShortestToken })
        {
            throw new FormatException($"{TokenSetting}: at least {ShortestToken} characters are needed, better from a generator of passwords");
        }

        var hosts = (settings[HostsSetting] ?? "").Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries);
        return new GateRules(Loopback.Concat(hosts).ToHashSet(StringComparer.OrdinalIgnoreCase), token);
    }

    /// <summary>Addresses that other machines reach need a token. What is asked for can be looked at before; what is bound, only then.</summary>
    /// <exception cref="FormatException">One is open to others without a token, or is no address.</exception>
    public void ThrowIfOpen(IEnumerable<string> addresses)
    {
        foreach (var address in addresses)
        {
            if (!IsLoopback(address) && Token is null)
            {
                throw new FormatException($"{TokenSetting}: {address} can be reached from other machines; set a token that its pages must know");
            }
        }
    }

    private static bool IsLoopback(string url)
    {
        if (url.StartsWith("http://unix:/", StringComparison.OrdinalIgnoreCase))
        {
            return true;
        }

        return Address().Match(url) is { Success: true } parts && (!parts.Groups["port"].Success || int.Parse(parts.Groups["port"].Value, CultureInfo.InvariantCulture) <= MostPort)
            ? string.Equals(parts.Groups["host"].Value, "localhost", StringComparison.OrdinalIgnoreCase)
                || IPAddress.TryParse(parts.Groups["host"].Value.Trim('[', ']'), out var ip) && IPAddress.IsLoopback(ip)
            : throw new FormatException($"urls: \"{url}\" is no address like http://127.0.0.1:5173");
    }

    private const int MostPort = 65_535;

    [GeneratedRegex(@"^https?://(?<host>\[[0-9a-fA-F:]+\]|[A-Za-z0-9.*+-]+)(:(?<port>[0-9]{1,5}))?/?$", RegexOptions.IgnoreCase)]
    private static partial Regex Address();
}
