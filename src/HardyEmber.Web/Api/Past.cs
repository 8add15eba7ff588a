using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <summary>Questions to the machine of a run: as it stands where it is live, else replayed in the workshop to a moment of its past.</summary>
internal sealed class Past(FleetArchive fleets, RunStore store, LiveRuns live, Workshop workshop)
{
    /// <param name="at">Time in the run, s; now where nothing is said.</param>
    /// <param name="field">The field that is named where the question cannot be answered.</param>
    public async Task<Results<Ok<T>, ProblemHttpResult>> AskAsync<T>(HttpContext http, string id, double? at, Func<Machine, T> question, string field)
    {
        if (at is < 0 or > RunHeader.MaxSeconds or double.NaN)
        {
            return Problems.Bad("at", "a time within the run is needed");
        }

        try
        {
            if (at is null && live.Live(id) is { } run)
            {
                return TypedResults.Ok(await run.ReadAsync(r => question(r.Machine)).ConfigureAwait(false));
            }

            if (store.Find(id) is not { } stored)
            {
                return Problems.NoRun(id);
            }

            var until = at is { } t ? (long)Math.Round(t / Steps.Seconds) : stored.ProgressStep;
            var before = stored.Log with { Commands = [.. stored.Log.Commands.Where(c => c.Step <= until && c.Kind != CommandKind.End)] };
            return TypedResults.Ok(await workshop.DoAsync(http, gone =>
                question(Rehearsal.Replay(fleets.For(stored.Log.Header), before, until, cancel: gone).Machine)).ConfigureAwait(false));
        }
        catch (ArgumentException e)
        {
            return Problems.Bad(field, e.Message);
        }
    }
}
