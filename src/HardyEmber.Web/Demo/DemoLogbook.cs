using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Web.Demo;

/// <summary>
/// The demo logbook: the detachment's last weeks of rehearsals, each flown by a scripted pilot through the real simulator
/// and judged by the real judge. No row is invented; the same seed flies the same run.
/// </summary>
internal static class DemoLogbook
{
    /// <summary>Fills an empty logbook; leaves any other as it is.</summary>
    public static async Task FillAsync(Fleet fleet, RunStore store, DateTimeOffset now)
    {
        if (store.Count() > 0)
        {
            return;
        }

        foreach (var flight in DemoFolder.Load(DemoFolder.Find()).Flights)
        {
            var (log, flown) = flight.Fly(fleet);
            _ = await store.CreateAsync(log with { Header = flown.AsFlown }, now.AddDays(-flight.DaysAgo), outcome: RunOutcome.Of(flown), data: flown.Data).ConfigureAwait(false);
        }
    }
}
