using HardyEmber.Core.Runs;

namespace HardyEmber.Store;

/// <summary>Reads the fleet's data files from a folder.</summary>
public static class FleetFolder
{
    /// <exception cref="FormatException">The folder is missing or a file is unsound; the message names it.</exception>
    public static Fleet Load(string folder)
    {
        if (!Directory.Exists(folder))
        {
            throw new FormatException($"fleet folder {folder}: it does not exist");
        }

        return Fleet.Load(Read(folder));
    }

    /// <summary>The data files of a folder; schemas are none.</summary>
    public static IEnumerable<FleetFile> Read(string folder) => Directory.EnumerateFiles(folder, "*.json", SearchOption.AllDirectories)
        .Where(f => !f.EndsWith(".schema.json", StringComparison.Ordinal))
        .Select(f => new FleetFile(Path.GetRelativePath(folder, f), File.ReadAllText(f)));

    /// <summary>The folder named <c>fleet</c> beside the program or above it.</summary>
    public static string Find() => Above("fleet", "aircraft");

    /// <summary>A folder beside the program or above it, known by something that is in it.</summary>
    internal static string Above(string name, string holds)
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
        {
            var candidate = Path.Combine(at.FullName, name);
            if (Path.Exists(Path.Combine(candidate, holds)))
            {
                return candidate;
            }
        }

        return Path.Combine(AppContext.BaseDirectory, name);
    }
}
