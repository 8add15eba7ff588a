using HardyEmber.Core.Definitions;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember check [FOLDER]</c>: every fault of the data files, each on a line.</summary>
internal static class CheckCommand
{
    public static int Run(string? folder, TextWriter output, TextWriter error)
    {
        try
        {
            var fleet = FleetFolder.Load(folder ?? FleetFolder.Find());
            output.WriteLine($"sound: {fleet.Aircraft.Count} aircraft, {fleet.Procedures.Count} procedures, {fleet.Places.Count} places, "
                + $"{fleet.Faults.Faults.Count} kinds of fault");
            return 0;
        }
        catch (DataFaultException e)
        {
            foreach (var fault in e.Faults)
            {
                error.WriteLine(fault);
            }

            error.WriteLine($"{e.Faults.Count} {(e.Faults.Count == 1 ? "fault" : "faults")}");
        }
        catch (Exception e) when (e is FormatException or IOException or UnauthorizedAccessException)
        {
            error.WriteLine(e.Message);
        }

        return SimCommand.Bad;
    }
}
