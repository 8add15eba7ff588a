using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember fly FILE</c>: a scripted pilot flies the header of a run file; the run goes to standard output.</summary>
internal static class FlyCommand
{
    public static int Run(FileInfo file, double reactionS, TextWriter output, TextWriter error)
    {
        try
        {
            var header = SimCommand.Read(file).Header;
            var rehearsal = new Rehearsal(FleetFolder.Load(FleetFolder.Find()), header);
            RunFile.Write(output, new ScriptedPilot(rehearsal, new PilotTraits(reactionS)).Fly() with { Header = rehearsal.AsFlown });
            return 0;
        }
        catch (Exception e) when (e is RunFileException or FormatException or IOException)
        {
            error.WriteLine($"{file.Name}: {e.Message}");
            return SimCommand.Bad;
        }
    }
}
