using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <summary>The engine starts of a run beside what was to be expected and what this pilot did before.</summary>
/// <param name="Expected">The curve of each engine's start by the book, in the conditions of the run.</param>
/// <param name="Planned">The same in figures.</param>
/// <param name="PlannedHeld">Where the time of such a start goes.</param>
/// <param name="Earlier">This pilot's starts on this type in runs before this one, newest first.</param>
public sealed record StartsView(IReadOnlyList<StartCard> Cards, StartFigures Planned, IReadOnlyList<StartCurve> Expected, IReadOnlyList<StartRow> Earlier, double StartLimitC,
    double SettledLimitC,
    ChainSignature? PlannedHeld);

internal static class StartEndpoints
{
    private const int MostEarlier = 24;

    /// <summary>Engine starts: before they are made, and after.</summary>
    public static void MapStarts(this RouteGroupBuilder api)
    {
        api.MapPost("/start-outlook", Results<Ok<StartOutlook>, ProblemHttpResult> (RunHeader header, Fleet fleet) =>
        {
            try
            {
                return TypedResults.Ok(StartOutlook.For(fleet, header, [], 0));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("GetStartOutlook").WithHeavyWork();

        api.MapGet("/runs/{id}/start-outlook", Results<Ok<StartOutlook>, ProblemHttpResult> (string id, FleetArchive fleets, RunStore store, LiveRuns live) =>
            store.Find(id) is { } run ? TypedResults.Ok(StartOutlook.For(fleets.For(run.Log.Header), run.Log.Header, run.Log.Commands, live.StepOf(run))) : Problems.NoRun(id))
                .WithName("GetRunStartOutlook").WithHeavyWork();

        api.MapGet("/runs/{id}/starts", async Task<Results<Ok<StartsView>, ProblemHttpResult>> (string id, FleetArchive fleets, RunStore store, StartStore starts, LiveRuns live) =>
        {
            if (store.Find(id) is not { } run)
            {
                return Problems.NoRun(id);
            }

            var header = run.Log.Header;
            var fleet = fleets.For(header);
            var cards = live.Live(id) is { } flying ? await flying.ReadAsync(r => r.Starts.Cards).ConfigureAwait(false)
                : Rehearsal.Replay(fleet, run.Log, live.StepOf(run)).Starts.Cards;
            var engine = fleet.FindAircraft(header.Aircraft).Engine;
            var book = StartOutlook.ByTheBook(fleet, header);
            return TypedResults.Ok(new StartsView(cards, book.Figures, book.Curves, starts.Earlier(header.Pilot, header.Aircraft, run.Created, MostEarlier), engine.StartLimitC,
                engine.SettledLimitC, book.Held));
        }).WithName("GetStarts").WithHeavyWork();
    }
}
