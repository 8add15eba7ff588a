using System.Diagnostics;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember sim FILE --repeat N</c>: the header flown N times, scattered; chances as JSON, progress on standard error.</summary>
internal static class ChanceCommand
{
    public const int Cancelled = 130;
    private const int Most = 1_000_000;

    public static int Run(FileInfo file, int times, double wear, TextWriter output, TextWriter error, CancellationToken cancel)
    {
        if (times is < 1 or > Most)
        {
            error.WriteLine($"--repeat: 1 to {Most} starts, not {times}");
            return SimCommand.Bad;
        }

        if (!(wear is >= 0 and <= 1))
        {
            error.WriteLine(FormattableString.Invariant($"--wear: 0 to 1, not {wear}"));
            return SimCommand.Bad;
        }

        try
        {
            var header = SimCommand.Read(file).Header;
            var fleet = FleetFolder.Load(FleetFolder.Find());
            var clock = Stopwatch.StartNew();
            var bar = new Bar(times, error, clock);
            var chance = ChanceEstimate.Run(fleet, header, times, new Scatter(Wear: wear), bar, cancel);
            bar.End();
            output.WriteLine(JsonSerializer.Serialize(chance, FleetJson.Options));
            return 0;
        }
        catch (OperationCanceledException)
        {
            error.WriteLine();
            error.WriteLine("cancelled: nothing was written");
            return Cancelled;
        }
        catch (Exception e) when (e is RunFileException or FormatException or IOException or UnauthorizedAccessException)
        {
            error.WriteLine($"{file.Name}: {e.Message}");
            return SimCommand.Bad;
        }
    }

    /// <summary>One line that is written over: how many, how fast, how long still.</summary>
    private sealed class Bar(int times, TextWriter error, Stopwatch clock) : IProgress<int>
    {
        private readonly Lock _gate = new();
        private int _shown;

        public void Report(int value)
        {
            lock (_gate)
            {
                if (value <= _shown)
                {
                    return;
                }

                _shown = value;
                var left = clock.Elapsed.TotalSeconds / value * (times - value);
                error.Write(FormattableString.Invariant($"\r{value} of {times} starts, {value / clock.Elapsed.TotalSeconds:0} a second, {left:0} s left   "));
            }
        }

        public void End()
        {
            Report(times);
            error.WriteLine();
        }
    }
}
