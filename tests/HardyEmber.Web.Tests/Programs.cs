using System.Diagnostics;
using System.Globalization;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Our programs, run to their end.</summary>
internal static class Programs
{
    public static async Task<(int Code, string Error)> RunAsync(string program, params string[] arguments)
    {
        var (code, error, _) = await RunForOutputAsync(program, arguments);
        return (code, error);
    }

    public static async Task<(int Code, string Error, string Output)> RunForOutputAsync(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [Repository.Program(program), .. arguments]) { RedirectStandardError = true, RedirectStandardOutput = true };
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEndAsync();
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(40));
        await process.WaitForExitAsync(limit.Token);
        return (process.ExitCode, (await error).Replace("\r", "", StringComparison.Ordinal), (await output).ToString(CultureInfo.InvariantCulture));
    }
}
