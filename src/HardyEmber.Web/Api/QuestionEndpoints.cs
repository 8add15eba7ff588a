using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <summary>Where every control stands when the run begins: to set a real bench alike.</summary>
/// <param name="Cold">Where a cold jet has it.</param>
public sealed record StandsAt(string Control, string Label, string Link, string At, string Cold, bool Differs);

internal static class QuestionEndpoints
{
    /// <summary>Questions to a run, live as it stands or replayed to a moment of its past.</summary>
    public static void MapQuestions(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id}/why", async Task<Results<Ok<WhyAnswer>,
            ProblemHttpResult>> (string id, string target, double? at, Past past, HttpContext http) =>
            await past.AskAsync(http, id, at, m => new WillNotTake(m).For(target), "target").ConfigureAwait(false)).WithName("GetWhy");

        api.MapGet("/runs/{id}/without", async Task<Results<Ok<Drop>, ProblemHttpResult>> (string id, string source, double? at, Past past, HttpContext http) =>
            await past.AskAsync(http, id, at, m => PowerPaths.WithoutSource(m, source), "source").ConfigureAwait(false)).WithName("GetWithout");

        api.MapGet("/runs/{id}/go-or-wait", async Task<Results<Ok<GoOrWait>, ProblemHttpResult>> (string id, double? at, Past past, HttpContext http) =>
            await past.AskAsync(http, id, at, GoOrWait.For, "aircraft").ConfigureAwait(false)).WithName("GetGoOrWait");

        api.MapGet("/runs/{id}/start-position", async Task<Results<Ok<StartPosition>,
            ProblemHttpResult>> (string id, double? at, Past past, HttpContext http) =>
            await past.AskAsync(http, id, at, StartPosition.Of, "aircraft").ConfigureAwait(false)).WithName("GetStartPosition");

        api.MapPost("/positions", Results<Ok<IReadOnlyList<StandsAt>>, ProblemHttpResult> (RunHeader header, Fleet fleet) =>
        {
            try
            {
                _ = fleet.Build(header);
                return TypedResults.Ok<IReadOnlyList<StandsAt>>([.. fleet.FindAircraft(header.Aircraft).Controls
                    .Where(c => c.IsAt(header.Flight is not null, fleet.FindPlace(header.Place)) && c.Sprung.Count == 0)
                    .Select(c => Stands(c, fleet, header))]);
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("GetPositions");
    }

    private static StandsAt Stands(ControlDefinition c, Fleet fleet, RunHeader header)
    {
        var (aircraft, place) = (fleet.FindAircraft(header.Aircraft), fleet.FindPlace(header.Place));
        var (position, number) = LeftPositions.Of(c, aircraft, place, header);
        var dial = c.Kind == ControlKind.Dial;
        string Words(double value) => FormattableString.Invariant($"{value} {c.Unit}").TrimEnd();
        return new StandsAt(c.Id, c.Label, c.Link, dial ? Words(number) : position!, dial ? Words(c.DefaultNumber) : LeftPositions.RestOf(c, place)!,
            LeftPositions.IsWrong(c, aircraft, place, header));
    }
}
