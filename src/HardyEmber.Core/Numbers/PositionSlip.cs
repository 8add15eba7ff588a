using System.Globalization;

namespace HardyEmber.Core.Numbers;

/// <summary>What a hand most likely did wrong when it typed a position that ought to be another: the slips that are made, tried one after the other.</summary>
public static class PositionSlip
{
    // Nearer than this a half of the position is right, and a slip explains what was typed.
    private const double SameDeg = 0.02 / 60;

    /// <returns>Null where both halves are right, or where no single slip in each explains what was typed.</returns>
    public static string? Name(GeoPosition meant, GeoPosition typed)
    {
        if (Same(meant.LatitudeDeg, typed.LongitudeDeg) && Same(meant.LongitudeDeg, typed.LatitudeDeg))
        {
            return "latitude and longitude changed places";
        }

        var slips = new[] { (Name: "latitude", Meant: meant.LatitudeDeg, Typed: typed.LatitudeDeg), (Name: "longitude", Meant: meant.LongitudeDeg, Typed: typed.LongitudeDeg) }
            .Where(h => !Same(h.Meant, h.Typed))
            .Select(h => OfHalf(h.Meant, h.Typed, h.Name == "latitude" ? ("north", "south") : ("east", "west")) is { } slip ? $"{h.Name}: {slip}" : null).ToList();
        return slips.Count == 0 || slips.Contains(null) ? null : string.Join("; ", slips);
    }

    private static string? OfHalf(double meant, double typed, (string Positive, string Negative) sides)
    {
        if (Same(-meant, typed))
        {
            return $"{(typed < 0 ? sides.Negative : sides.Positive)} where it is {(meant < 0 ? sides.Negative : sides.Positive)}";
        }

        if (Math.Sign(meant) != Math.Sign(typed))
        {
            return null;
        }

        var (whole, minutes) = Parts(meant);
        if (Same(whole + minutes / 100, Math.Abs(typed)))
        {
            return "minutes taken for decimals of a degree";
        }

        if (minutes / 60 * 100 < 60 && Same(whole + minutes / 60 * 100 / 60, Math.Abs(typed)))
        {
            return "decimals of a degree typed as minutes";
        }

        return Swapped(meant, typed) is { } pair ? $"{pair[0]} and {pair[1]} changed places" : Wrong(meant, typed) is { } digit ? $"{digit.Typed} where it is {digit.Meant}" : null;
    }

    // Two neighbours among the figures of whole degrees and tenths of minutes.
    private static string? Swapped(double meant, double typed)
    {
        var (m, t) = (FiguresOf(meant), FiguresOf(typed));
        for (var i = 0; i + 1 < m.Length; i++)
        {
            if (m[i] != m[i + 1] && m[..i] + m[i + 1] + m[i] + m[(i + 2)..] == t)
            {
                return m[i..(i + 2)];
            }
        }

        return null;
    }

    private static (char Meant, char Typed)? Wrong(double meant, double typed)
    {
        var (m, t) = (FiguresOf(meant), FiguresOf(typed));
        var other = Enumerable.Range(0, m.Length).Where(i => m[i] != t[i]).ToList();
        return other is [var i] ? (m[i], t[i]) : null;
    }

    private static string FiguresOf(double degrees)
    {
        var (whole, minutes) = Parts(degrees);
        return string.Create(CultureInfo.InvariantCulture, $"{whole:000}{Math.Round(minutes * 100):0000}");
    }

    private static (double Whole, double Minutes) Parts(double degrees)
    {
        var hundredths = Math.Round(Math.Abs(degrees) * 6000);
        return (Math.Floor(hundredths / 6000), hundredths % 6000 / 100);
    }

    private static bool Same(double a, double b) => Math.Abs(a - b) < SameDeg;
}
