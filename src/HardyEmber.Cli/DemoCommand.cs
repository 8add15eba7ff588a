using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary>
/// <c>ember demo</c>: flies those of the demo squadron's kept flights that have no run file yet, and writes <c>kept.json</c>, which tells how
/// all of them fly. To fly one anew, delete its file first.
/// </summary>
internal static class DemoCommand
{
    public static int Run(TextWriter error)
    {
        var fleet = FleetFolder.Load(FleetFolder.Find());
        var folder = DemoFolder.Find();
        var keptIn = Path.Combine(folder, KeptRun.FileName);
        var before = File.Exists(keptIn) ? KeptRun.Read(File.ReadAllText(keptIn)) : new Dictionary<string, KeptRun>();
        var (flown, kept) = (new Dictionary<string, string>(), new SortedDictionary<string, KeptRun>(StringComparer.Ordinal));
        foreach (var flight in DemoFolder.Load(folder).Flights)
        {
            if (flight.KeptAs is not { } name)
            {
                continue;
            }

            var file = Path.Combine(folder, $"{name}.ndjson");
            var text = File.Exists(file) ? File.ReadAllText(file) : flown[file] = Written(flight.Fly(fleet).Log);
            kept[name] = KeptRun.Of(fleet, text);
            if (before.GetValueOrDefault(name)?.Contradicts(kept[name]) is { } problem)
            {
                error.WriteLine($"{name}: {problem}; nothing was written");
                return SimCommand.Bad;
            }
        }

        foreach (var (file, text) in flown)
        {
            File.WriteAllText(file, text);
        }

        File.WriteAllText(keptIn, KeptRun.Write(kept));
        return 0;
    }

    private static string Written(RunLog log)
    {
        using var text = new StringWriter();
        RunFile.Write(text, log);
        return text.ToString();
    }
}
