using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

internal static class RelightEndpoints
{
    /// <summary>Restarts in flight: where they succeed, and what each would cost from here.</summary>
    public static void MapRelight(this RouteGroupBuilder api)
    {
        api.MapPost("/relight-outlook", Results<Ok<RelightOutlook>, ProblemHttpResult> (RunHeader header, Fleet fleet) => Told(() => RelightOutlook.For(fleet, header, [], 0)))
            .WithName("GetRelightOutlook").WithHeavyWork();

        api.MapGet("/runs/{id}/relight-envelope", Results<Ok<RelightEnvelope>, ProblemHttpResult> (string id, FleetArchive fleets, RunStore store) =>
            store.Find(id) is { } run ? Told(() => RelightEnvelope.For(fleets.For(run.Log.Header), run.Log.Header)) : Problems.NoRun(id)).WithName("GetRelightEnvelope").WithHeavyWork();

        api.MapGet("/runs/{id}/relight-outlook", Results<Ok<RelightOutlook>, ProblemHttpResult> (string id, FleetArchive fleets, RunStore store, LiveRuns live) =>
            store.Find(id) is { } run ? Told(() => RelightOutlook.For(fleets.For(run.Log.Header), run.Log.Header, run.Log.Commands, live.StepOf(run))) : Problems.NoRun(id))
            .WithName("GetRunRelightOutlook").WithHeavyWork();
    }

    private static Results<Ok<T>, ProblemHttpResult> Told<T>(Func<T> compute)
    {
        try
        {
            return TypedResults.Ok(compute());
        }
        catch (FormatException e)
        {
            return Problems.Bad(e);
        }
    }
}
