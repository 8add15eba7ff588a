using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Testing;

/// <summary>Where things are in the checkout.</summary>
public static class Repository
{
    private static readonly Lazy<Fleet> Loaded = new(() => FleetFolder.Load(FleetFolder.Find()));

    public static string Root { get; } = Path.GetDirectoryName(FleetFolder.Find())!;

    /// <summary>The fleet as shipped.</summary>
    public static Fleet Fleet => Loaded.Value;

    /// <summary>The program of a project of ours, as built with the tests.</summary>
    public static string Program(string name)
    {
        var configuration = AppContext.BaseDirectory.Contains("/Release/", StringComparison.Ordinal) ? "Release" : "Debug";
        var folder = Directory.Exists(Path.Combine(Root, "src", name)) ? "src" : "tests";
        return Path.Combine(Root, folder, name, "bin", configuration, "net10.0", name + ".dll");
    }

    /// <summary>The texts of the fleet's data files, to be changed by a test.</summary>
    public static List<FleetFile> FleetFiles() => [.. FleetFolder.Read(Path.Combine(Root, "fleet"))];

    /// <summary>A new folder with data files, for a server of its own.</summary>
    public static string FolderOf(IEnumerable<FleetFile> files)
    {
        var folder = TemporaryFolder();
        foreach (var file in files)
        {
            var path = Path.Combine(folder, file.Path);
            _ = Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllText(path, file.Text);
        }

        return folder;
    }

    /// <summary>A new empty folder, in the system's place for such.</summary>
    public static string TemporaryFolder() => Directory.CreateTempSubdirectory("hardy-ember-").FullName;
}
