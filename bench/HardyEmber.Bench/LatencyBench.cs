namespace HardyEmber.Bench;

internal static class LatencyBench
{
    public static Task RunAsync() => Task.CompletedTask;
}
