using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Store;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.Net.Http.Headers;

namespace HardyEmber.Web.Api;

public sealed record CreatedRun(string Id);

public sealed record RunPage(IReadOnlyList<RunRow> Runs, int Total);

/// <param name="At">Seconds into the run.</param>
/// <param name="Method">Another way of turning a dead core, tried from there; the run's own where nothing is said.</param>
public sealed record ForkRequest(double At, string? Method = null);

/// <summary>A run, replayed and judged.</summary>
/// <param name="Labels">The traces' columns, and the readings that findings rest on, in words.</param>
/// <param name="Damage">What of the stored log cannot be read; null where all can.</param>
/// <param name="Recomputed">Why the curves may not be those that were flown; null where they are. The verdict of a run that has ended is the one that was given.</param>
/// <param name="Parent">The run that it was forked from, and when.</param>
/// <param name="Flight">What a flight came to; null on the ground.</param>
/// <param name="Held">Where the time of a start went; null in the air.</param>
/// <param name="Leg">Where the planned leg would have ended; null until the run has, and where no inertial set navigates.</param>
public sealed record DebriefView(string Id, RunHeader Header, string Title, string Aircraft, bool Ended, double Seconds, Judgement Judgement,
    IReadOnlyList<DebriefStep> Steps, IReadOnlyList<ActionView> Actions, TraceView Traces, RunSummary Summary,
    IReadOnlyDictionary<string, string> Labels, string? Damage, string? Recomputed, LegFlown? Leg, string? Parent, double? ParentAt, FlightFlown? Flight, ChainSignature? Held);

/// <param name="Target">The control or signal that its act is about.</param>
public sealed record DebriefStep(string Id, string Phase, string Cue, double FirstDone, bool WasSo, bool Done, bool Optional, string? Target);

/// <summary>Signals over time: one column each, sampled at <paramref name="Hz"/>.</summary>
/// <param name="Scales">The least and the most of a signal's gauge, where it has one.</param>
/// <param name="DashFrom">From this value on a signal means nothing, where its gauge says so.</param>
public sealed record TraceView(double Hz, IReadOnlyDictionary<string, IReadOnlyList<double>> Columns, IReadOnlyDictionary<string, IReadOnlyList<double>> Scales,
    IReadOnlyDictionary<string, double> DashFrom);

internal static class RunEndpoints
{
    private const int TraceEverySteps = 25;
    private static readonly string[] RunFileTypes = ["application/x-ndjson", "application/jsonl", "text/plain"];

    public static void MapRuns(this RouteGroupBuilder api)
    {
        api.MapGet("/runs", Results<Ok<RunPage>, ProblemHttpResult> (RunStore store, string? pilot, string? verdict, string? aircraft, string? beginning, int? limit,
            DateTimeOffset? before, string? beforeId) =>
        {
            if (before is null != beforeId is null)
            {
                return Problems.Bad("beforeId", "the next page needs time and id of the last row: before and beforeId");
            }

            var (rows, total) = store.List(new RunFilter(pilot, verdict, aircraft, beginning, limit ?? 50, before is { } time ? new RunKey(time, beforeId!) : null));
            return TypedResults.Ok(new RunPage(rows, total));
        }).WithName("ListRuns");

        api.MapGet("/pilots", (RunStore store) => store.Pilots()).WithName("ListPilots");

        api.MapPost("/runs", async Task<Results<Created<CreatedRun>, ProblemHttpResult>> (RunHeader header, Fleet fleet, RunStore store) =>
        {
            try
            {
                // What is drawn is drawn here and written down, and drills are counted here, whatever the page says.
                var flown = header.Flight is null && header.Pilot.Length > 0 ? store.DrillsFlown(header.Pilot, header.Aircraft, DateTimeOffset.UtcNow) : [];
                var drilled = BeforeLaunch.DoneOf(fleet, flown);
                var rehearsal = new Rehearsal(fleet, header with { Drawn = null, Drilled = drilled > 0 ? drilled : null });
                var id = await store.CreateAsync(new RunLog(rehearsal.AsFlown, []), DateTimeOffset.UtcNow, data: rehearsal.Data).ConfigureAwait(false);
                return TypedResults.Created($"/api/runs/{id}", new CreatedRun(id));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("CreateRun");

        api.MapGet("/runs/{id}/debrief", async Task<Results<Ok<DebriefView>,
            ProblemHttpResult>> (string id, FleetArchive fleets, RunStore store, JudgementStore judgements, LiveRuns live, CancellationToken gone) =>
            await LateJudgement.FoundAsync(fleets, store, id).ConfigureAwait(false) is { } run
                ? TypedResults.Ok(Debrief(fleets, run, judgements.Find(id), live.Live(id)?.StepIndex ?? 0, gone)) : Problems.NoRun(id)).WithName("GetDebrief").WithHeavyWork();

        api.MapGet("/runs/{id}/file", Results<FileContentHttpResult, ProblemHttpResult> (string id, bool? data, RunStore store, FleetArchive fleets) =>
        {
            if (store.Find(id) is not { } run)
            {
                return Problems.NoRun(id);
            }

            using var text = new StringWriter(CultureInfo.InvariantCulture);
            RunFile.Write(text, run.Log with
            {
                Header = Shown(run),
                Data = data is true ? fleets.Of(run.Log.Header)?.VersionFor(run.Log.Header.Aircraft, run.Log.Header.Place)
                : null
            });
            return TypedResults.File(System.Text.Encoding.UTF8.GetBytes(text.ToString()), "application/x-ndjson", $"run-{run.Id}.ndjson");
        }).WithName("GetRunFile").WithHeavyWork(http => http.Request.Query["data"] == "true");

        api.MapPost("/runs/import", async Task<Results<Created<CreatedRun>, ProblemHttpResult>> (HttpRequest request, FleetArchive fleets, RunStore store) =>
        {
            if (MediaTypeHeaderValue.TryParse(request.ContentType, out var type) is false || !RunFileTypes.Contains(type!.MediaType.ToString(), StringComparer.OrdinalIgnoreCase))
            {
                return TypedResults.Problem($"a run file is sent as {RunFileTypes[0]}", statusCode: StatusCodes.Status415UnsupportedMediaType, title: "Nothing was changed.");
            }

            try
            {
                // Read whole first: the body's size is bounded by the server, and the reader is synchronous.
                using var body = new StreamReader(request.Body);
                var text = await body.ReadToEndAsync(request.HttpContext.RequestAborted).ConfigureAwait(false);
                using var reader = new StringReader(text);
                var run = RunFile.Read(reader);
                // With the data of its digest where they are kept here, else with those that it carries; else with today's, which it is then said to rest on.
                var kept = fleets.Of(run.Header);
                var gone = request.HttpContext.RequestAborted;
                var rehearsal = kept is null && run.Data is { } carried ? CarriedData.Fly(run, carried, gone: gone) : Rehearsal.Replay(kept ?? fleets.Today, run, cancel: gone);
                var header = rehearsal.AsFlown with { Physics = run.Header.Physics ?? Physics.Version };
                var outcome = run.Ended ? RunOutcome.Of(rehearsal) : null;
                var id = await store.CreateAsync(run with { Header = header }, DateTimeOffset.UtcNow, outcome: outcome, data: rehearsal.Data).ConfigureAwait(false);
                return TypedResults.Created($"/api/runs/{id}", new CreatedRun(id));
            }
            catch (RunFileException e)
            {
                return Problems.Bad(e.Field, $"line {e.Line}: {e.Problem}");
            }
            catch (DataFaultException e)
            {
                var more = e.Faults.Count > 1 ? $" (and {e.Faults.Count - 1} more)" : "";
                return Problems.Bad("data", $"the data that the run carries are not sound: {e.Faults[0]}{more}");
            }
            catch (CarriedDataException e)
            {
                return Problems.Bad("data", $"the data that the run carries cannot be taken: {e.Message}");
            }
        }).WithName("ImportRun").WithHeavyWork();

        api.MapPost("/runs/{id}/fork", async Task<Results<Created<CreatedRun>, ProblemHttpResult>> (
            string id, ForkRequest fork, RunStore store, FleetArchive fleets, LiveRuns live, Workshop workshop, HttpContext http) =>
        {
            if (store.Find(id) is not { } run)
            {
                return Problems.NoRun(id);
            }

            var reached = Math.Max(live.Live(id)?.StepIndex ?? 0, run.ProgressStep) * Steps.Seconds;
            if (!(fork.At >= 0 && fork.At <= reached))
            {
                return Problems.Bad("at", string.Create(CultureInfo.InvariantCulture, $"a time within the run is needed: 0 to {reached:0.##} s"));
            }

            var step = (long)Math.Round(fork.At / Steps.Seconds);
            var commands = run.Log.Commands.Where(c => c.Step <= step && c.Kind != CommandKind.End).ToList();
            var header = run.Log.Header;
            if (fork.Method is { } method)
            {
                try
                {
                    header = header with { School = new Dictionary<string, string>(header.School) { [RelightOutlook.Question] = method } };
                    _ = await workshop.DoAsync(http, _ => fleets.For(header).ProcedureFor(header)).ConfigureAwait(false);
                }
                catch (FormatException e)
                {
                    return Problems.Bad("method", e.Message);
                }
            }

            var copy = await store.CreateAsync(new RunLog(header, commands), DateTimeOffset.UtcNow, id, step).ConfigureAwait(false);
            return TypedResults.Created($"/api/runs/{copy}", new CreatedRun(copy));
        }).WithName("ForkRun");
    }

    // What was drawn stays hidden until the run has ended; a run that goes on draws it again.
    private static RunHeader Shown(StoredRun run) => run.Ended ? run.Log.Header : run.Log.Header with { Drawn = null };

    private static string? Recomputed(RunHeader header, StoredJudgement? judged, bool known, string digest) => FlownAnew.Why(header, known, "the curves are")
        ?? (judged is not null && judged.Physics == Physics.Version && judged.Digest != digest
            ? "The curves are computed anew, by another build or processor: the last digits differ." : null);

    private static DebriefView Debrief(FleetArchive fleets, StoredRun run, StoredJudgement? judged, long liveStep, CancellationToken gone)
    {
        var known = fleets.Of(run.Log.Header);
        List<TraceColumn>? columns = null;
        var damage = new List<RunFileException>();
        var rehearsal = Rehearsal.Replay(known ?? fleets.Today, run.Log, run.Ended ? 0 : Math.Max(run.ProgressStep, liveStep), m =>
        {
            columns ??= [.. m.Aircraft.Gauges.Select(g => g.Signal).Concat(m.Aircraft.Engines.Select(e => $"{e.Id}.egt-true")).Distinct()
                .Select(n => new TraceColumn(m.Signals.Find(n)!))];
            if (m.StepIndex % TraceEverySteps == 0)
            {
                columns.ForEach(c => c.Look(m));
            }
        }, damage, gone);
        var tracker = rehearsal.Tracker;
        var goesOn = rehearsal.Flight is not null && !rehearsal.Machine.Ended;
        var judgement = judged?.Judgement ?? rehearsal.ToShow();
        var summary = RunSummary.Of(rehearsal, judgement);
        double FirstDone(TrackedStep step) => judged?.Milestones.GetValueOrDefault(step.Id, step.FirstDone) ?? step.FirstDone;
        var words = new SignalWords(rehearsal.Machine);
        var named = (columns ?? []).Select(c => c.Name).Concat(judgement.Findings.Select(f => f.Evidence?.Signal).OfType<string>());
        // What is no reading is the time that the answer to a fault took.
        string LabelOf(string name) => rehearsal.Machine.Signals.Find(name) is null ? "Time to the answer" : words.LabelOf(name);
        var gauges = rehearsal.Machine.Aircraft.Gauges.DistinctBy(g => g.Signal).ToList();
        return new DebriefView(run.Id, Shown(run), tracker.Definition.Title, rehearsal.Machine.Aircraft.Name, rehearsal.Machine.Ended, Math.Round(rehearsal.Machine.Time, 2),
            judgement,
            // The steps of a flight that goes on name the engine that its pilot is to find.
            goesOn ? [] : [.. tracker.Steps.Select(s =>
                new DebriefStep(s.Id, s.Phase, s.Definition.Cue, Math.Round(FirstDone(s), 1), s.WasSo, s.Done, s.Definition.Optional, s.Definition.Act.Target))],
            [.. run.Log.Commands.Select(Views.Of)],
            new TraceView(1 / (TraceEverySteps * Steps.Seconds), (columns ?? []).ToDictionary(c => c.Name, c => (IReadOnlyList<double>)c),
                gauges.ToDictionary(g => g.Signal, g => (IReadOnlyList<double>)[g.Min, g.Max]),
                gauges.Where(g => g.DashFrom is not null).ToDictionary(g => g.Signal, g => g.DashFrom!.Value)),
            summary, named.Distinct().ToDictionary(n => n, LabelOf),
            damage is [var first, ..] ? $"{first.Message}; the run is shown up to there" : run.Damage,
            Recomputed(run.Log.Header, judged, known is not null, summary.Digest), rehearsal.Machine.Ended ? LegFlown.Of(rehearsal.Machine) : null,
            run.Parent, run.Parent is null ? null : run.ParentStep * Steps.Seconds,
            FlightFlown.Of(known ?? fleets.Today, rehearsal, run.Log),
            ChainSignature.Of(known ?? fleets.Today, run.Log.Header, judged?.Milestones ?? summary.Milestones));
    }
}
