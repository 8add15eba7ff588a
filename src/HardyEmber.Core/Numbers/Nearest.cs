namespace HardyEmber.Core.Numbers;

/// <summary>What somebody probably meant.</summary>
public static class Nearest
{
    /// <summary>
    /// The name that needs the fewest letters changed, added or taken away to become <paramref name="meant"/> (Levenshtein's distance), or null
    /// where more than half of it would be another.
    /// </summary>
    public static string? To(string meant, IEnumerable<string> names)
    {
        ArgumentNullException.ThrowIfNull(meant);
        ArgumentNullException.ThrowIfNull(names);
        var (best, least) = ((string?)null, meant.Length / 2 + 1);
        foreach (var name in names)
        {
            var distance = Math.Abs(name.Length - meant.Length) < least ? Distance(meant, name) : least;
            (best, least) = distance < least ? (name, distance) : (best, least);
        }

        return best;
    }

    /// <summary>"; nearest: NAME", or nothing where no name is near.</summary>
    public static string Hint(string meant, IEnumerable<string> names) => To(meant, names) is { } name ? $"; nearest: \"{name}\"" : "";

    private static int Distance(string a, string b)
    {
        var row = Enumerable.Range(0, b.Length + 1).ToArray();
        for (var i = 1; i <= a.Length; i++)
        {
            var corner = row[0];
            row[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                var above = row[j];
                row[j] = Math.Min(Math.Min(above, row[j - 1]) + 1, corner + (a[i - 1] == b[j - 1] ? 0 : 1));
                corner = above;
            }
        }

        return row[^1];
    }
}
