using System.Runtime.CompilerServices;
using System.Text;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <summary>A sortie that is kept.</summary>
/// <param name="Code">What an address carries to hand it on: <c>/?sortie=CODE</c>.</param>
/// <param name="Trouble">Why it cannot be flown with today's data; null where it can.</param>
public sealed record SortieView(string Id, string Name, DateTimeOffset Created, RunHeader Header, string Code, string? Trouble);

/// <summary>How a type starts by the book on a calm day at its usual weather.</summary>
public sealed record BookStart(string Aircraft, double? ReadyS, ChainSignature? Held);

internal static class SortieEndpoints
{
    private static readonly ConditionalWeakTable<Fleet, Lazy<IReadOnlyList<BookStart>>> Books = [];

    /// <summary>Situations with a name, and what each type's start comes to.</summary>
    public static void MapSorties(this RouteGroupBuilder api)
    {
        api.MapGet("/sorties", (string? pilot, SortieStore sorties, Fleet fleet) => sorties.Of(pilot ?? "").Select(k => View(fleet, k)).ToList()).WithName("ListSorties");

        api.MapPost("/sorties", async Task<Results<Ok<SortieView>, ProblemHttpResult>> (Sortie sortie, SortieStore sorties, Fleet fleet) =>
        {
            try
            {
                var sound = SortieFile.Checked(fleet, sortie);
                return await sorties.KeepAsync(sound, DateTimeOffset.UtcNow).ConfigureAwait(false) is { } id && sorties.Find(id) is { } kept
                    ? TypedResults.Ok(View(fleet, kept))
                    : Problems.Bad("name", $"a callsign keeps at most {SortieStore.Most} sorties: forget one first");
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("KeepSortie");

        api.MapDelete("/sorties/{id}", async (string id, SortieStore sorties) =>
        {
            await sorties.ForgetAsync(id).ConfigureAwait(false);
            return TypedResults.NoContent();
        }).WithName("ForgetSortie");

        api.MapGet("/sorties/{id}/file", Results<FileContentHttpResult, ProblemHttpResult> (string id, SortieStore sorties) => sorties.Find(id) is { } kept
            ? TypedResults.File(Encoding.UTF8.GetBytes(SortieFile.Write(kept.Sortie)), "application/json", $"sortie-{kept.Id}.json")
            : TypedResults.Problem($"there is no sortie \"{id}\"", statusCode: StatusCodes.Status404NotFound, title: "Not found.")).WithName("GetSortieFile");

        api.MapPost("/sorties/read", async Task<Results<Ok<Sortie>, ProblemHttpResult>> (HttpRequest request, Fleet fleet) =>
        {
            using var body = new StreamReader(request.Body);
            var text = new char[SortieFile.MaxBytes + 1];
            var length = await body.ReadBlockAsync(text, request.HttpContext.RequestAborted).ConfigureAwait(false);
            return Read(() => SortieFile.Read(fleet, new string(text, 0, length)));
        }).Accepts<Sortie>("application/json").WithName("ReadSortie");

        api.MapGet("/sorties/read", (string sortie, Fleet fleet) => Read(() => SortieFile.Decode(fleet, sortie))).WithName("DecodeSortie");

        api.MapGet("/runs/{id}/sortie", Results<Ok<Sortie>, ProblemHttpResult> (string id, RunStore runs, Fleet fleet) =>
            runs.Find(id) is { } run ? Read(() => SortieFile.Checked(fleet, new Sortie("Flown again", run.Log.Header))) : Problems.NoRun(id)).WithName("GetRunSortie");

        api.MapGet("/fleet/starts", (Fleet fleet) => Books.GetValue(fleet, f => new Lazy<IReadOnlyList<BookStart>>(() => [.. f.Aircraft.Select(a => ByTheBook(f, a))])).Value)
            .WithName("GetBookStarts").WithHeavyWork();
    }

    private static Results<Ok<Sortie>, ProblemHttpResult> Read(Func<Sortie> read)
    {
        try
        {
            return TypedResults.Ok(read());
        }
        catch (FormatException e)
        {
            return Problems.Bad(e);
        }
    }

    private static SortieView View(Fleet fleet, KeptSortie kept)
    {
        string? trouble = null;
        try
        {
            _ = SortieFile.Checked(fleet, kept.Sortie);
        }
        catch (FormatException e)
        {
            trouble = e.Message;
        }

        return new SortieView(kept.Id, kept.Sortie.Name, kept.Created, kept.Sortie.Header, SortieFile.Code(kept.Sortie), trouble);
    }

    private static BookStart ByTheBook(Fleet fleet, AircraftDefinition aircraft)
    {
        var place = fleet.Places.First(p => p.Ship is null);
        var spot = place.Spots[0];
        var header = new RunHeader
        {
            Aircraft = aircraft.Id,
            Place = place.Id,
            Spot = spot.Id,
            Seed = 1,
            Beginning = "first",
            Conditions = new RunConditions(15, spot.HeadingDeg, 0),
            Loading = new LoadingHeader(aircraft.Numbers.InternalFuelLb, 0),
        };
        var outlook = StartOutlook.ByTheBook(fleet, header);
        return new BookStart(aircraft.Id, outlook.Figures.ReadyS, outlook.Held);
    }
}
