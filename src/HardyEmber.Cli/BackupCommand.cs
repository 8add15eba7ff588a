using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember backup FILE</c>: a checked copy of the database, also while the server runs.</summary>
internal static class BackupCommand
{
    public static int Run(FileInfo file, string folder, TextWriter output, TextWriter error)
    {
        try
        {
            Backup.Make(folder, file.FullName);
            output.WriteLine($"{file.FullName}: copied and checked, {new FileInfo(file.FullName).Length / 1024} kB");
            return 0;
        }
        catch (DataFolderException e)
        {
            error.WriteLine(e.Message);
            return SimCommand.Bad;
        }
    }
}
