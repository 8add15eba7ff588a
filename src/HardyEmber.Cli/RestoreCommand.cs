using System.Globalization;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember restore FILE</c>: a copy of the database in the place of the one that is there, which is kept aside.</summary>
internal static class RestoreCommand
{
    public static int Run(FileInfo file, string folder, TextWriter output, TextWriter error)
    {
        try
        {
            var back = Restore.From(file.FullName, folder, DateTimeOffset.UtcNow);
            var newest = back.Newest is { } day ? day.ToString("', the newest of 'yyyy-MM-dd HH:mm'Z'", CultureInfo.InvariantCulture) : "";
            output.WriteLine($"{back.Runs} runs came back{newest}");
            if (back.Aside is { } aside)
            {
                output.WriteLine($"what was there before is kept as {aside}");
            }

            return 0;
        }
        catch (DataFolderException e)
        {
            error.WriteLine(e.Message);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            error.WriteLine($"the data folder {folder} could not be written: {e.Message}");
        }

        return SimCommand.Bad;
    }
}
