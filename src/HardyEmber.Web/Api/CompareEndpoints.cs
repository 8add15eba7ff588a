using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

internal static class CompareEndpoints
{
    private const int MostSignatures = 100;

    /// <summary>Runs beside one another: their signatures, and two of them in full.</summary>
    public static void MapCompare(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/held", Results<Ok<Dictionary<string, IReadOnlyList<LinkHeld>>>,
            ProblemHttpResult> (string[] id, RunStore runs, JudgementStore judgements, FleetArchive fleets) =>
        {
            var asked = id.Distinct().ToList();
            return asked.Count > MostSignatures
                ? Problems.Bad("id", $"{asked.Count} runs are asked for at once; at most {MostSignatures} are answered")
                : TypedResults.Ok(asked.Select(i => (Id: i, Held: HeldOf(i, runs, judgements, fleets))).Where(x => x.Held is not null).ToDictionary(x => x.Id, x => x.Held!.Links));
        }).WithName("GetSignatures").WithHeavyWork();

        api.MapGet("/runs/{id}/comparison", async Task<Results<Ok<Comparison>,
            ProblemHttpResult>> (string id, string with, FleetArchive fleets, RunStore store, JudgementStore judgements, LiveRuns live) =>
        {
            async Task<ComparedRun?> Find(string field, string run) =>
                await LateJudgement.FoundAsync(fleets, store, run).ConfigureAwait(false) is { } found
                    ? Compared(field, fleets, found, judgements.Find(run), live.StepOf(found)) : null;
            try
            {
                if (await Find(nameof(id), id).ConfigureAwait(false) is not { } here)
                {
                    return Problems.NoRun(id);
                }

                if (await Find(nameof(with), with).ConfigureAwait(false) is not { } there)
                {
                    return Problems.Bad("with", $"there is no run \"{with}\"");
                }

                return TypedResults.Ok(Comparison.Of(here, there));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("CompareRuns").WithHeavyWork();
    }

    // A run that has ended is compared as it was judged; one that goes on, as it stands now.
    private static ComparedRun Compared(string field, FleetArchive fleets, StoredRun run, StoredJudgement? judged, long liveStep)
    {
        var (header, fleet) = (run.Log.Header, fleets.For(run.Log.Header));
        if (judged is not null)
        {
            return new ComparedRun(fleet, header, judged.Judgement, judged.Milestones);
        }

        var rehearsal = Rehearsal.Replay(fleet, run.Log, run.Ended ? 0 : liveStep, damage: []);
        if (rehearsal.Flight is not null && !rehearsal.Machine.Ended)
        {
            throw new FormatException($"{field}: a flight that goes on is compared once it has ended");
        }

        return new ComparedRun(fleet, header, rehearsal.ToShow(), RunSummary.MilestonesOf(rehearsal.Tracker));
    }

    private static ChainSignature? HeldOf(string id, RunStore runs, JudgementStore judgements, FleetArchive fleets)
    {
        try
        {
            return runs.HeaderOf(id) is { Flight: null } header && judgements.MilestonesOf(id) is { } milestones ? ChainSignature.Of(fleets.For(header), header, milestones) : null;
        }
        catch (Exception e) when (e is FormatException or RunFileException)
        {
            return null;
        }
    }
}
