using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Store;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace HardyEmber.Web.Api;

/// <param name="Ranges">The least and the most of every number of a run's header, by the path of its field.</param>
public sealed record FleetView(IReadOnlyList<AircraftView> Aircraft, IReadOnlyList<PlaceDefinition> Places, IReadOnlyDictionary<string, NumberRange> Ranges);

public sealed record NumberRange(double Low, double High);

/// <param name="Leg">The leg that its inertial set is mostly wanted for; null where it has none.</param>
/// <param name="StoresHeading">Its shutdown can store the heading for the next alignment.</param>
/// <param name="StartsBy">How it starts, in three words or so.</param>
public sealed record AircraftView(string Id, string Name, string Role, IReadOnlyList<BeginningView> Beginnings, IReadOnlyList<string> Engines, double InternalFuelLb,
    double EmptyLb, IReadOnlyList<FaultView> Faults,
    LegHeader? Leg, bool FliesFromShips, bool StoresHeading, IReadOnlyList<AirDrill> Drills, string? StartsBy);

public sealed record BeginningView(string Beginning, string Title, IReadOnlyList<SchoolQuestion> Schools);

/// <summary>A fault that this aircraft can have.</summary>
/// <param name="Engine">It belongs to one engine.</param>
/// <param name="Places">The engines or parts it may sit in; empty where there is only one.</param>
public sealed record FaultView(string Code, string Label, bool Engine, IReadOnlyList<string> Places, string Signature, string Response);

/// <param name="Watts">What it draws; an electric starter at standstill.</param>
public sealed record LoadView(string Id, string Label, string Bus, double Watts);

/// <summary>An engine as keys and watch need it.</summary>
/// <param name="CutOff">The throttle's position that cuts its fuel off.</param>
/// <param name="Lateral">Where it sits across the aircraft, −1 to 1.</param>
/// <param name="Controls">The controls that its start is made with.</param>
public sealed record EngineView(string Id, string Label, string Throttle, string CutOff, double Lateral, double IdleN2Pct, double StartLimitC, IReadOnlyList<string> Controls);

/// <summary>A task as screens and voices tell of it; <c>ID.state</c> says which of the states it is in.</summary>
/// <param name="Who">Who speaks what its states say: crew, tower, voice or sound.</param>
public sealed record TaskView(string Id, string Label, string? Who, IReadOnlyList<TaskStateView> States)
{
    internal static TaskView Of(TaskDefinition task) => new(task.Id, task.Label, task.Who, [.. task.States.Select(s => new TaskStateView(s.Word, s.Says))]);
}

public sealed record TaskStateView(string? Word, string? Says);

/// <summary>What the screens draw of an aircraft.</summary>
/// <param name="Hints">What each control, reading (by its signal) and lamp (<c>lamp.ID</c>) is and rests on.</param>
/// <param name="Aloft">The controls that its procedure in the air sets, in its order.</param>
/// <param name="LampSides">The engine that a lamp belongs to, where its condition reads signals of one engine only.</param>
public sealed record PanelView(string Id, string Name, string Role, IReadOnlyList<LinkDefinition> Chain, IReadOnlyList<ControlDefinition> Controls,
    IReadOnlyList<GaugeDefinition> Gauges, IReadOnlyList<LampDefinition> Lamps, IReadOnlyList<TaskView> Tasks, EnvelopeView Envelope,
    ElectricsDefinition Electrics, IReadOnlyList<LoadView> Loads, IReadOnlyList<EngineView> Engines, IReadOnlyList<FaultView> Faults, IReadOnlyList<Advice> Advice,
    IReadOnlyList<Supposition> Beliefs,
    IReadOnlyDictionary<string, string> LampSides, SightDefinition? Sight, SurfacesDefinition? Surfaces, FireView? Fire, IReadOnlyDictionary<string, Hint> Hints,
        IReadOnlyList<string> Aloft);

/// <summary>Where it can burn and what answers it.</summary>
/// <param name="Agent">The controls that release agent.</param>
/// <param name="Bottles">How many bottles there are.</param>
public sealed record FireView(IReadOnlyList<FireZoneView> Zones, IReadOnlyList<string> Agent, int Bottles);

/// <param name="Controls">What takes its fuel away: where it is burnt, then where it comes from.</param>
public sealed record FireZoneView(string Id, string Label, IReadOnlyList<string> Controls);

/// <summary>The windmill restart envelope and the decision height.</summary>
public sealed record EnvelopeView(double MinEasKt, double MaxEasKt, double MaxAltitudeFt, double MinN2Pct, double DecisionHeightFt, double GlideEasKt);

/// <summary>What today's situation changes, before the run.</summary>
/// <param name="AlignmentFloorDeg">The heading error that no waiting beats; null where there is no inertial set.</param>
/// <param name="GoOrWait">What an alignment is good for; null in the air and where there is no inertial set.</param>
public sealed record PreviewView(CardNumbers Card, double TailwindKt, double PressureAltitudeFt, double? AlignmentFloorDeg, GoOrWait? GoOrWait);

/// <summary>What a steady scripted pilot would make of this situation: the simulator run ahead, judged, not stored.</summary>
/// <param name="HeightLostFt">From the beginning to the end of an in-flight run; 0 on the ground.</param>
public sealed record ForecastView(RunSummary Summary, double StartLimitC, double HeightLostFt, double AboveDecisionFt);

internal static class FleetEndpoints
{
    private const double ForecastSeconds = 1200;

    private static IReadOnlyList<FaultView> FaultsOf(Fleet fleet, AircraftDefinition aircraft)
    {
        string[] inputs = [.. fleet.Sample(aircraft.Id).FaultInputNames];
        return [.. fleet.Faults.Faults.Select(f => (Fault: f, Places: FaultDraw.Places(f, aircraft, inputs))).Where(x => x.Places.Count > 0)
            .Select(x => new FaultView(x.Fault.Code, x.Fault.Label, x.Fault.OfEngine, [.. x.Places.Select(p => p.Fault.Engine ?? p.Fault.Item).OfType<string>()],
                x.Fault.Signature, x.Fault.Response))];
    }

    // What conditions name, among their other words.
    private static IEnumerable<string> Words(params string?[] conditions) => conditions.SelectMany(t => (t ?? "").Split([' ', '(', ')']));

    // The throttle, and what else the data's conditions for starter, fuel and spark name; a guarded shut-off belongs to a fire.
    private static List<string> StartControls(AircraftDefinition a, EngineSideDefinition e)
    {
        var words = Words(e.StarterValve, e.FuelOn, e.Igniter).ToHashSet();
        words.UnionWith(a.Tasks.Where(t => t.States.Any(s => s.Gives.Keys.Any(words.Contains))).SelectMany(t => t.States.SelectMany(s => Words(s.While))).ToList());
        words.ExceptWith(a.Controls.Where(c => c.Kind == ControlKind.Guarded && a.Fire?.Zones.Any(z => Words(z.Shut).Contains(c.Id)) == true).Select(c => c.Id).ToList());
        return [.. a.Controls.Where(c => c.Id == e.Throttle || words.Contains(c.Id)).OrderBy(c => c.Id == e.Throttle).Select(c => c.Id)];
    }

    private static FireView? FireOf(AircraftDefinition a)
    {
        List<string> Named(params IEnumerable<string?> conditions) => [.. Words([.. conditions]).Where(w => a.Controls.Any(c => c.Id == w)).Distinct()];
        return a.Fire is not { } fire ? null : new FireView(
            [.. fire.Zones.Select(z => new FireZoneView(z.Id, z.Label, Named(a.Engines.FirstOrDefault(e => e.Id == z.Id)?.Throttle ?? a.AuxiliaryUnit?.Run, z.Shut)))],
            Named(fire.Release), fire.Release.Count);
    }

    private static List<string> Aloft(Fleet fleet, AircraftDefinition a)
    {
        var procedures = fleet.Procedures.Where(p => p.Aircraft == a.Id && p.Beginnings.Contains("air")).ToList();
        var set = procedures.SelectMany(p => p.Phases.SelectMany(x => x.Steps.Select(s => s.Act)).Concat(p.Drills.Select(d => d.Act))).Select(act => act.Set ?? act.Hold);
        return [.. set.OfType<string>().Distinct().Where(id => a.Controls.Any(c => c.Id == id))];
    }

    private static Dictionary<string, string> LampSides(AircraftDefinition a) => a.Lamps
        .Select(l => (l.Id, Sides: a.Engines.Where(e => (l.Lit ?? "").Contains($"{e.Id}.", StringComparison.Ordinal)).Select(e => e.Id).ToList()))
        .Where(l => l.Sides.Count == 1).ToDictionary(l => l.Id, l => l.Sides[0]);

    public static void MapFleet(this RouteGroupBuilder api)
    {
        api.MapGet("/fleet", (Fleet fleet) => new FleetView(
            [.. fleet.Aircraft.Select(a => new AircraftView(a.Id, a.Name, a.Role,
                [.. fleet.Procedures.Where(p => p.Aircraft == a.Id).OrderByDescending(p => p.Phases.Sum(x => x.Steps.Count))
                    .SelectMany(p => p.Beginnings, (p, beginning) => new BeginningView(beginning, p.Title, p.Schools))],
                [.. a.Engines.Select(e => e.Id)], a.Numbers.InternalFuelLb, a.Numbers.EmptyLb, FaultsOf(fleet, a), a.Inertial?.Leg, a.FliesFromShips,
                    a.Inertial?.Stored is not null, [.. fleet.Drills.Where(d => d.Aircraft == a.Id)], a.StartsBy))],
            fleet.Places, HeaderCheck.Ranges.ToDictionary(r => r.Key, r => new NumberRange(r.Value.Low, r.Value.High))))
            .WithName("GetFleet");

        api.MapGet("/aircraft/{id}", Results<Ok<PanelView>, ProblemHttpResult> (string id, string? data, FleetArchive fleets) =>
        {
            try
            {
                // A run that rests on earlier data has the controls of that time.
                var fleet = (data is null ? null : fleets.Of(data)) ?? fleets.Today;
                var a = fleet.FindAircraft(id);
                var w = a.Engine.Windmill;
                return TypedResults.Ok(new PanelView(a.Id, a.Name, a.Role, a.Chain, a.Controls, a.Gauges, a.Lamps, [.. a.Tasks.Select(TaskView.Of)],
                    new EnvelopeView(w.MinEasKt, w.MaxEasKt, w.MaxAltitudeFt, w.MinN2Pct, a.Flight.DecisionHeightFt, a.Flight.GlideEasKt),
                    a.Electrics, [.. fleet.Sample(a.Id).Loads.Select(l => new LoadView(l.Id, l.Label, l.Bus, l.Watts))],
                    [.. a.Engines.Select(e => new EngineView(e.Id, e.Label, e.Throttle, e.CutOff, e.Lateral, a.EngineOf(e).IdleN2Pct, a.EngineOf(e).StartLimitC,
                        StartControls(a, e)))],
                    FaultsOf(fleet, a), StartAdvisor.All, StartForecast.Beliefs, LampSides(a), a.Sight, a.Surfaces, FireOf(a), Hints.Of(fleet.Sample(a.Id)), Aloft(fleet, a)));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("GetAircraft").WithHeavyWork(http => http.Request.Query["data"].ToString() is { Length: > 0 } digest && !IsRead(http, digest));

        static bool IsRead(HttpContext http, string digest) => http.RequestServices.GetRequiredService<FleetArchive>().IsRead(digest);

        api.MapPost("/preview", Results<Ok<PreviewView>, ProblemHttpResult> (RunHeader header, Fleet fleet) =>
        {
            try
            {
                _ = fleet.Build(header); // what is wrong with it is said by its field
                var aircraft = fleet.FindAircraft(header.Aircraft);
                var place = fleet.FindPlace(header.Place);
                var station = Station.Of(place, header);
                var set = aircraft.Inertial;
                var alignment = set is null ? null : Alignment.Planned(set, place, header, ProcedureInForce.TakesStoredHeading(fleet.ProcedureFor(header), header));
                return TypedResults.Ok(new PreviewView(CardNumbers.For(aircraft, place, header), Math.Round(station.TailwindKt), Math.Round(station.PressureAltitudeFt),
                    alignment is null ? null : Math.Round(alignment.FloorDeg, 3),
                    alignment is null || header.Flight is not null ? null : GoOrWait.For(set!, alignment, place.LatitudeDeg, header.Leg ?? set!.Leg, null, false)));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("Preview");

        api.MapPost("/forecast", Results<Ok<ForecastView>, ProblemHttpResult> (RunHeader header, Fleet fleet) =>
        {
            try
            {
                var rehearsal = new Rehearsal(fleet, header);
                _ = new ScriptedPilot(rehearsal).Fly(ForecastSeconds);
                var m = rehearsal.Machine;
                return TypedResults.Ok(new ForecastView(RunSummary.Of(rehearsal), m.Aircraft.Engine.StartLimitC,
                    header.Flight is { } flight ? Math.Round(flight.HeightFt - m["flight.height"]) : 0, Math.Round(m["flight.above-decision"])));
            }
            catch (FormatException e)
            {
                return Problems.Bad(e);
            }
        }).WithName("Forecast").WithHeavyWork();
    }
}
