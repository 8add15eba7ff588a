using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Web.Api;

/// <summary>Judges an ended run that has no stored judgement: by a version that stored the two one after the other, and was stopped between.</summary>
internal static class LateJudgement
{
    /// <summary>Judges it if that is due and possible; a damaged run stays as it is, and whoever opens it is told.</summary>
    public static async Task GiveAsync(FleetArchive fleets, RunStore store, string id)
    {
        try
        {
            _ = await FoundAsync(fleets, store, id).ConfigureAwait(false);
        }
        catch (RunFileException)
        {
            // Told when it is opened.
        }
    }

    /// <summary>A stored run, judged now if it has ended and was not.</summary>
    /// <exception cref="RunFileException">Its header is damaged.</exception>
    public static async Task<StoredRun?> FoundAsync(FleetArchive fleets, RunStore store, string id)
    {
        var run = store.Find(id);
        if (run is { Judged: false, Damage: null, Log.Ended: true })
        {
            var damage = new List<RunFileException>();
            var rehearsal = Rehearsal.Replay(fleets.For(run.Log.Header), run.Log, damage: damage);
            if (damage.Count == 0)
            {
                await store.ConcludeAsync(id, RunOutcome.Of(rehearsal)).ConfigureAwait(false);
                return store.Find(id);
            }
        }

        return run;
    }
}
