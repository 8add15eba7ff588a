using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
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

        api.MapPost("/before-launch", Results<Ok<BeforeLaunch>, ProblemHttpResult> (RunHeader header, Fleet fleet, RunStore store) =>
            Told(() => BeforeLaunch.For(fleet, header, store.DrillsFlown(header.Pilot, header.Aircraft, DateTimeOffset.UtcNow)))).WithName("GetBeforeLaunch").WithHeavyWork();

        api.MapGet("/runs/{id}/relight-envelope", Results<Ok<RelightEnvelope>, ProblemHttpResult> (string id, FleetArchive fleets, RunStore store) =>
            store.Find(id) is { } run ? Told(() => RelightEnvelope.For(fleets.For(run.Log.Header), run.Log.Header)) : Problems.NoRun(id)).WithName("GetRelightEnvelope")
                .WithHeavyWork();

        api.MapGet("/runs/{id}/last-chances", Results<Ok<IReadOnlyList<LastChance>>, ProblemHttpResult> (string id, FleetArchive fleets, RunStore store) =>
            store.Find(id) is { } run ? Told(() => LastChance.For(fleets.For(run.Log.Header), run.Log.Header)) : Problems.NoRun(id)).WithName("GetLastChances").WithHeavyWork();

        // Now, or at a moment of what has been flown.
        api.MapGet("/runs/{id}/relight-outlook", Results<Ok<RelightOutlook>, ProblemHttpResult> (string id, double? at, FleetArchive fleets, RunStore store, LiveRuns live) =>
        {
            if (store.Find(id) is not { } run)
            {
                return Problems.NoRun(id);
            }

            var reached = Math.Max(live.StepOf(run), run.ProgressStep);
            if (at is { } seconds && !(seconds >= 0 && seconds <= reached * Steps.Seconds))
            {
                return Problems.Bad("at", FormattableString.Invariant($"a time within the run is needed: 0 to {reached * Steps.Seconds:0.##} s"));
            }

            var step = at is { } asked ? (long)Math.Round(asked / Steps.Seconds) : reached;
            return Told(() => RelightOutlook.For(fleets.For(run.Log.Header), run.Log.Header, [.. run.Log.Commands.Where(c => c.Step <= step)], step));
        }).WithName("GetRunRelightOutlook").WithHeavyWork();
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
