using System.Runtime.InteropServices;

namespace HardyEmber.Web.Work;

/// <summary>
/// What a thread has used of a processor. A limit on work goes by this and not by the clock on the wall: a busy machine must not make
/// sound work look endless.
/// </summary>
internal static partial class ThreadTime
{
    private const int OwnThread = 3; // CLOCK_THREAD_CPUTIME_ID

    /// <summary>The processor time of the calling thread.</summary>
    public static TimeSpan Now => Of(OwnThread);

    /// <summary>A clock of the calling thread that other threads may read.</summary>
    public static int Clock => (~GetThread() << 3) | 6; // CPUCLOCK_PERTHREAD | CPUCLOCK_SCHED, as clock_getcpuclockid makes them

    /// <summary>What <see cref="Clock"/> says; the last said where the thread has ended.</summary>
    public static TimeSpan Of(int clock) => GetTime(clock, out var t) == 0 ? new TimeSpan((t.Seconds * TimeSpan.TicksPerSecond) + (t.Nanoseconds / 100)) : TimeSpan.Zero;

    [LibraryImport("libc", EntryPoint = "clock_gettime")]
    private static partial int GetTime(int clock, out Timespec time);

    [LibraryImport("libc", EntryPoint = "gettid")]
    private static partial int GetThread();

    [StructLayout(LayoutKind.Sequential)]
    private readonly struct Timespec
    {
        public readonly long Seconds;
        public readonly long Nanoseconds;
    }
}

/// <summary>Ends work of the calling thread that takes too much of a processor, or that nobody waits for any more.</summary>
internal sealed class WorkLimit : IDisposable
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(50);
    private readonly CancellationTokenSource _end;
    private readonly Timer _watch;
    private readonly TimeSpan _until;
    private readonly int _clock = ThreadTime.Clock;

    /// <param name="most">Processor time that it may take from now on.</param>
    /// <param name="gone">The request was cancelled.</param>
    public WorkLimit(TimeSpan most, CancellationToken gone)
    {
        _end = CancellationTokenSource.CreateLinkedTokenSource(gone);
        _until = ThreadTime.Of(_clock) + most;
        _watch = new Timer(_ =>
        {
            if (IsExceeded)
            {
                _end.Cancel();
            }
        }, null, LookEvery, LookEvery);
    }

    public CancellationToken Token => _end.Token;

    /// <summary>It has taken more than it may.</summary>
    public bool IsExceeded => ThreadTime.Of(_clock) > _until;

    public void Dispose()
    {
        using var over = new ManualResetEvent(false);
        if (_watch.Dispose(over))
        {
            _ = over.WaitOne(); // a look that is under way must not find the source gone
        }

        _end.Dispose();
    }
}
