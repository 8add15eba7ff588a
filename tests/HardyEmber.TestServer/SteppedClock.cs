namespace HardyEmber.TestServer;

/// <summary>A clock that stands still until a test moves it. Its timers never fall due: whoever steps it drives what they would.</summary>
internal sealed class SteppedClock : TimeProvider
{
    private long _ticks = new DateTime(2026, 1, 14, 6, 0, 0, DateTimeKind.Utc).Ticks;

    public override long TimestampFrequency => TimeSpan.TicksPerSecond;

    public override long GetTimestamp() => Interlocked.Read(ref _ticks);

    public override DateTimeOffset GetUtcNow() => new(GetTimestamp(), TimeSpan.Zero);

    public void MoveOn(TimeSpan by) => Interlocked.Add(ref _ticks, by.Ticks);

    public override ITimer CreateTimer(TimerCallback callback, object? state, TimeSpan dueTime, TimeSpan period) => new NeverDue();

    private sealed class NeverDue : ITimer
    {
        public bool Change(TimeSpan dueTime, TimeSpan period) => true;

        public void Dispose()
        {
            // Nothing runs.
        }

        public ValueTask DisposeAsync() => ValueTask.CompletedTask;
    }
}
