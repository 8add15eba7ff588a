using HardyEmber.Core.Runs;

namespace HardyEmber.Store;

/// <summary>The folder <c>demo</c>: the demo squadron's flights, and a few of them as run files.</summary>
public static class DemoFolder
{
    private const string SquadronFile = "squadron.json";

    /// <exception cref="FormatException">It is missing or unsound; the message names it.</exception>
    public static Squadron Load(string folder)
    {
        var file = Path.Combine(folder, SquadronFile);
        return File.Exists(file) ? Squadron.Read(new FleetFile(file, File.ReadAllText(file))) : throw new FormatException($"{file}: it does not exist");
    }

    /// <summary>The folder named <c>demo</c> beside the program or above it.</summary>
    public static string Find() => FleetFolder.Above("demo", SquadronFile);
}
