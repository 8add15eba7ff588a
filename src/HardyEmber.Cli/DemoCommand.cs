using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember demo</c>: flies the flights of the demo squadron that are kept, and writes their run files.</summary>
internal static class DemoCommand
{
    public static int Run()
    {
        var fleet = FleetFolder.Load(FleetFolder.Find());
        var folder = DemoFolder.Find();
        // All are flown before the first is written.
        foreach (var (name, log) in DemoFolder.Load(folder).Flights.Where(f => f.KeptAs is not null).Select(f => (f.KeptAs, f.Fly(fleet).Log)).ToList())
        {
            using var file = new StreamWriter(Path.Combine(folder, $"{name}.ndjson"));
            RunFile.Write(file, log);
        }

        return 0;
    }
}
