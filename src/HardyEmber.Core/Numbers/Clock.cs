using System.Globalization;

namespace HardyEmber.Core.Numbers;

/// <summary>Seconds as pilots say them.</summary>
public static class Clock
{
    /// <summary>A moment of a run, by the last full second: 75.8 s is "01:15".</summary>
    /// <param name="seconds">Since its beginning, s; never negative.</param>
    public static string At(double seconds) => Written((long)Math.Max(0, seconds), "00");

    /// <summary>A span, to the nearest second: 75.8 s is "1:16".</summary>
    /// <param name="seconds">s; never negative.</param>
    public static string Span(double seconds) => Written((long)Math.Round(Math.Max(0, seconds)), "0");

    private static string Written(long seconds, string minutes) =>
        $"{(seconds / 60).ToString(minutes, CultureInfo.InvariantCulture)}:{(seconds % 60).ToString("00", CultureInfo.InvariantCulture)}";
}
