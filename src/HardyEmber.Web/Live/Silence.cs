namespace HardyEmber.Web.Live;

/// <summary>How long the server and a page bear each other's silence. The connection is looked at once a second, so it ends within a second more.</summary>
public sealed record Silence(TimeSpan Longest)
{
    /// <summary>A setting in seconds, for tests on a machine that may halt for longer.</summary>
    public const string Setting = "silence";

    private const double UsualS = 4, LeastS = 2, MostS = 600;

    /// <exception cref="FormatException">The setting is no such time.</exception>
    public static Silence Of(IConfiguration settings)
    {
        var seconds = settings.GetValue<double?>(Setting) ?? UsualS;
        return seconds is >= LeastS and <= MostS ? new Silence(TimeSpan.FromSeconds(seconds)) : throw new FormatException($"{Setting}: {LeastS} to {MostS} s");
    }
}
