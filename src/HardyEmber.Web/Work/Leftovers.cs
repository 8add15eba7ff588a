namespace HardyEmber.Web.Work;

/// <summary>
/// Looks after what is dead and old. The runtime goes over old memory only once a good part as much has died as lives: with 300 live runs that is
/// a hundred kilobytes a run, of cues and buffers that outlived a second or two. Here it is asked for earlier, beside the work and without moving anything.
/// </summary>
internal sealed class Leftovers : BackgroundService
{
    private const long Enough = 6 << 20;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every);
        var (times, left) = (-1, 0L);
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false))
        {
            var (gone, now) = (GC.CollectionCount(GC.MaxGeneration), GC.GetTotalMemory(false));
            if (gone != times)
            {
                (times, left) = (gone, now);
            }
            else if (now > left + Enough)
            {
                GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: false, compacting: false);
            }
        }
    }
}
