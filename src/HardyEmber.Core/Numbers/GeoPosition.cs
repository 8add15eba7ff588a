using System.Globalization;
using System.Text.RegularExpressions;

namespace HardyEmber.Core.Numbers;

/// <summary>A position on the earth, degrees; north and east are positive. Written in degrees and minutes: 61°24.25′N 018°12.78′W.</summary>
public readonly partial record struct GeoPosition(double LatitudeDeg, double LongitudeDeg)
{
    /// <summary>Longer, it is no position.</summary>
    private const int LongestText = 60;

    /// <summary>In degrees and hundredths of a minute.</summary>
    public override string ToString() => $"{Half(LatitudeDeg, 2, 'N', 'S')} {Half(LongitudeDeg, 3, 'E', 'W')}";

    /// <summary>Reads degrees and minutes, latitude first: "61°24.3′N 018°12.7′W", "61 24.3 N, 18 12.7 W", "N61 24.3 W018 12.7".</summary>
    /// <exception cref="FormatException">It is not a position; the message begins with latitude or longitude.</exception>
    public static GeoPosition Parse(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (string.IsNullOrWhiteSpace(text))
        {
            throw new FormatException("latitude: it is missing");
        }

        // What is longer, or holds other letters, is no position.
        var upper = text.Length > LongestText ? "X" : text.ToUpperInvariant();
        if (upper.Any(c => char.IsLetter(c) && !"NSEW".Contains(c, StringComparison.Ordinal)))
        {
            throw new FormatException("latitude: write degrees and minutes, latitude first, such as 61°24.3′N 018°12.7′W");
        }

        var north = upper.IndexOfAny(['N', 'S']);
        var figure = upper.AsSpan().IndexOfAnyInRange('0', '9');
        var behind = north < 0 || figure >= 0 && figure < north;
        var east = upper.IndexOfAny(['E', 'W']);
        var cut = behind ? north + 1 : east < 0 ? upper.Length : east;
        return new GeoPosition(Read(north < 0 ? upper : upper[..cut], "latitude", 90, 'N', 'S'), Read(north < 0 ? "" : upper[cut..], "longitude", 180, 'E', 'W'));
    }

    private static double Read(string half, string name, int most, char positive, char negative)
    {
        if (string.IsNullOrWhiteSpace(half))
        {
            throw new FormatException($"{name}: it is missing");
        }

        var side = half.IndexOfAny([positive, negative]);
        var numbers = Figures().Matches(half).Select(m => double.Parse(m.Value, CultureInfo.InvariantCulture)).ToList();
        return side < 0 ? throw new FormatException($"{name}: {positive} or {negative} is missing")
            : numbers.Count == 0 ? throw new FormatException($"{name}: degrees and minutes are missing")
            : numbers.Count != 2 || numbers[0] != Math.Floor(numbers[0])
                ? throw new FormatException($"{name}: whole degrees and minutes are needed, such as {(most == 90 ? "61°24.3′N" : "018°12.7′W")}")
            : numbers[1] >= 60 ? throw new FormatException($"{name}: minutes go to 59.99, not {numbers[1].ToString(CultureInfo.InvariantCulture)}")
            : numbers[0] + numbers[1] / 60 > most
                ? throw new FormatException($"{name}: degrees go to {most}, not "
                    + $"{numbers[0].ToString(CultureInfo.InvariantCulture)}°{numbers[1].ToString(CultureInfo.InvariantCulture)}′")
            : (half[side] == negative ? -1 : 1) * (numbers[0] + numbers[1] / 60);
    }

    private static string Half(double degrees, int digits, char positive, char negative)
    {
        var hundredths = (long)Math.Round(Math.Abs(degrees) * 6000);
        var (whole, minutes) = (hundredths / 6000, hundredths % 6000 / 100.0);
        return string.Create(CultureInfo.InvariantCulture,
            $"{whole.ToString(CultureInfo.InvariantCulture).PadLeft(digits, '0')}°{minutes:00.00}′{(degrees < 0 ? negative : positive)}");
    }

    [GeneratedRegex(@"\d+(\.\d+)?", RegexOptions.None, 200)]
    private static partial Regex Figures();
}
