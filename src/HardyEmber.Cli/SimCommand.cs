using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember sim FILE</c>: simulate, judge, print. Exit 0, or 2 with one line that names line and field.</summary>
internal static class SimCommand
{
    public const int Bad = 2;

    public static int Run(FileInfo file, FileInfo? telemetry, FileInfo? findings, FileInfo? withData, TextWriter output, TextWriter error)
    {
        try
        {
            var run = Read(file);
            var fleet = run.Data?.Load() ?? FleetFolder.Load(FleetFolder.Find());
            var table = telemetry is null ? null : new StringBuilder();
            var rehearsal = Rehearsal.Replay(fleet, run, 0, table is null ? null : m => TelemetryCsv.Row(table, m));
            // Everything is computed before the first file is opened: bad input leaves nothing behind.
            if (table is not null)
            {
                File.WriteAllText(telemetry!.FullName, TelemetryCsv.Header(rehearsal.Machine.Signals) + table);
            }

            if (findings is not null)
            {
                File.WriteAllText(findings.FullName, JsonSerializer.Serialize(rehearsal.Conclude(), FleetJson.Options) + "\n");
            }

            if (withData is not null)
            {
                using var writer = new StreamWriter(withData.FullName);
                RunFile.Write(writer, run with { Header = rehearsal.AsFlown, Data = rehearsal.Data });
            }

            if (run.Header.Data is { } flown && flown != rehearsal.Data.Digest)
            {
                error.WriteLine($"{file.Name}: it was flown with other data ({flown}); this is what today's make of it");
            }

            output.WriteLine(JsonSerializer.Serialize(RunSummary.Of(rehearsal), FleetJson.Options));
            return 0;
        }
        catch (RunFileException e)
        {
            error.WriteLine($"{file.Name}: {e.Message}");
        }
        catch (Exception e) when (e is FormatException or IOException or UnauthorizedAccessException)
        {
            error.WriteLine(e.Message);
        }

        return Bad;
    }

    public static RunLog Read(FileInfo file)
    {
        if (!file.Exists)
        {
            throw new FileNotFoundException($"{file.Name}: there is no such file");
        }

        if (file.Length > RunFile.MaxBytes)
        {
            throw new RunFileException(1, "line", $"the file has {file.Length >> 20} MB, more than the {RunFile.MaxBytes >> 20} MB of the longest run");
        }

        using var reader = file.OpenText();
        return RunFile.Read(reader);
    }
}
