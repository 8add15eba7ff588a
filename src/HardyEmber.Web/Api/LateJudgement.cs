using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Web.Api;

/// <summary>Judges an ended run that has no stored judgement: by a version that stored the two one after the other, and was stopped between.</summary>
internal static class LateJudgement
{
    public static async Task GiveAsync(Fleet fleet, RunStore store, string id)
    {
        try
        {
            if (store.Find(id) is { Judged: false, Log.Ended: true } run)
            {
                await store.ConcludeAsync(id, RunSummary.Of(Rehearsal.Replay(fleet, run.Log))).ConfigureAwait(false);
            }
        }
        catch (RunFileException)
        {
            // Damaged as well: whoever opens it is told.
        }
    }
}
