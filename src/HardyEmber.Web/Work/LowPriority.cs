using System.Collections.Concurrent;
using System.Runtime.InteropServices;

namespace HardyEmber.Web.Work;

/// <summary>Threads that give way to all others.</summary>
internal static partial class LowPriority
{
    private const int OfAThread = 0, Niceness = 10;

    public static void Begin(string name, Action work) => new Thread(() =>
    {
        _ = SetPriority(OfAThread, 0, Niceness);
        work();
    })
    { IsBackground = true, Name = name }.Start();

    // The priority of .NET's threads does nothing on Linux; there each thread has a niceness of its own.
    [LibraryImport("libc", EntryPoint = "setpriority")]
    private static partial int SetPriority(int which, uint who, int niceness);
}

/// <summary>
/// One thread of low priority for live runs whose data are not today's: a run's file may carry data that make each step slow, and the threads
/// that all runs share must not wait for it.
/// </summary>
public sealed class SideThread : TaskScheduler, IDisposable
{
    private readonly BlockingCollection<Task> _tasks = [];
    private Thread? _thread;

    public SideThread() => LowPriority.Begin("runs with data of their own", () =>
    {
        _thread = Thread.CurrentThread;
        foreach (var task in _tasks.GetConsumingEnumerable())
        {
            _ = TryExecuteTask(task);
        }
    });

    protected override void QueueTask(Task task) => _tasks.Add(task);

    protected override bool TryExecuteTaskInline(Task task, bool taskWasPreviouslyQueued) => Thread.CurrentThread == _thread && TryExecuteTask(task);

    protected override IEnumerable<Task> GetScheduledTasks() => [.. _tasks];

    public void Dispose() => _tasks.CompleteAdding();
}
