using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>What one method of restart would come to from here, flown ahead. Heights in ft, times in s from now.</summary>
/// <param name="Id">The school's answer; windmill where the procedure knows no other.</param>
/// <param name="Works">The core is at idle above the decision height.</param>
/// <param name="LitFt">Height at the light; null where it never lights.</param>
/// <param name="IdleFt">Height at idle; null where it never gets there.</param>
/// <param name="CostFt">Height from here to idle; to where it was given up, where it fails.</param>
/// <param name="AboveFt">Left above the decision height; negative below it.</param>
/// <param name="Tries">Attempts, this one counted, that fit above the decision height; 0 where it fails.</param>
/// <param name="Why">Why it fails.</param>
public sealed record RelightMethod(string Id, string Label, bool Works, double? LitFt, double? IdleFt, double CostFt, double Seconds, double AboveFt, int Tries, string? Why);

/// <summary>A point of a flight: equivalent airspeed in kt, height above the pressure datum in ft.</summary>
public sealed record FlightPoint(double EasKt, double HeightFt);

/// <summary>Whether home is in reach without another engine, and where one that runs would hold its height.</summary>
/// <param name="Place">The nearest place.</param>
/// <param name="DistanceNm">How far it is over the ground.</param>
/// <param name="ReachNm">How far the best glide goes from here down to its height, against today's wind.</param>
/// <param name="ArrivesFt">Height over it on arrival, or over the high ground before it where that is less; negative where the glide ends short.</param>
/// <param name="HeadwindKt">Wind on the way there; negative from behind.</param>
/// <param name="LevelsOffFt">What one engine at full power holds at the best glide; null on types with a single one, and where none runs.</param>
/// <param name="FuelLb">What that engine burns at full power and best glide speed on the way there; null where it does not get there: too high a ground, too much wind.</param>
/// <param name="AboardLb">The fuel that the sortie began with.</param>
public sealed record WayHome(string Place, double DistanceNm, double ReachNm, double ArrivesFt, double HeadwindKt, double? LevelsOffFt, double? FuelLb, double AboardLb);

/// <summary>Every method of restart from this moment, each flown ahead on the whole machine by a steady pilot, and which one is best.</summary>
/// <param name="AtS">Run time of the moment.</param>
/// <param name="BestKt">The speed to dive to that costs a windmill restart least height; null where none brings it to idle above the decision height.</param>
/// <param name="Running">The core runs: there is nothing to restart.</param>
/// <param name="Path">Where the path or speed that is asked for leads within a minute, a point every two seconds; empty on the ground.</param>
/// <param name="Home">Null on the ground.</param>
public sealed record RelightOutlook(double AtS, IReadOnlyList<RelightMethod> Methods, double? BestKt, Recommendation Advice, bool Running, IReadOnlyList<FlightPoint> Path,
    WayHome? Home)
{
    /// <summary>The school's question about it.</summary>
    public const string Question = "method";

    internal const string Windmill = "windmill";
    private const string Starter = "starter", CrossBleed = "cross-bleed", Immediate = "immediate";
    internal const double IdleBandPct = 2;
    private const double StepKt = 10, WorthFt = 200, SureKt = 25, BriskS = 40, SamePct = 3;

    /// <summary>Between two tries the core is blown dry, s.</summary>
    private const double BetweenS = 12;

    /// <summary>Looks ahead from the moment just before <paramref name="step"/>.</summary>
    /// <param name="soFar">The commands given until then.</param>
    /// <exception cref="FormatException">The header is not of an in-flight run, or names something that does not exist.</exception>
    public static RelightOutlook For(Fleet fleet, RunHeader header, IReadOnlyList<RunCommand> soFar, long step)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        var flight = header.Flight ?? throw new FormatException("flight: only an in-flight run has restarts to look ahead to");
        _ = fleet.Build(header); // what is wrong with it is said by its field
        var flown = new RunLog(header, [.. soFar.Where(c => c.Kind is not (CommandKind.End or CommandKind.Report))]);
        var procedure = fleet.ProcedureFor(header);
        var start = Rehearsal.Replay(fleet, flown, step).Machine;
        var dead = header.RestartEngine(start.Aircraft);
        var idle = start.Aircraft.EngineOf(dead).IdleN2Pct - IdleBandPct;
        var running = Runs(start, start.Aircraft.Engines.First(e => e.Id == dead));
        var burnt = start.Aircraft.Fire is not null && start[$"fire.{dead}.had"] > 0.5;
        if (running || burnt || start["flight.airborne"] < 0.5)
        {
            var left = start.Signals.Find("flight.left") is { } signal && start.Signals.Values[signal.Index] > 0.5;
            var why = running ? "It runs." : burnt ? "It burnt and is shut off: it is not started again." : left ? "It was left." : "On the ground.";
            return new RelightOutlook(start.Time, [], null, new Recommendation(Severity.Note, why), running, AheadOf(start), HomeOf(fleet, header, start));
        }

        var (now, from) = Sound(fleet, flown, step, start, dead);
        var anotherRuns = start.Aircraft.Engines.Any(e => e.Id != dead && Runs(start, e));
        List<RelightMethod> methods = [.. Answers(procedure, anotherRuns)
            .Select(a => Told(a, MethodFlight.By(fleet, now, from, procedure.Schools.Count > 0 ? a.Id : null, dead, idle)))];
        if (start.Signals.Find($"{dead}.flamed-out") is { } gone && start.Signals.Values[gone.Index] > 0.5 && start[$"{dead}.n2"] > Engine.SparksShare * idle)
        {
            methods.Insert(0, Told(new SchoolAnswer(Immediate, "Left at idle, at once", ""), MethodFlight.By(fleet, now, from, null, dead, idle, handsOff: true)));
        }

        var best = BestSpeed(fleet, header, start, dead);
        var home = HomeOf(fleet, header, start);
        return new RelightOutlook(start.Time, methods, best.Kt, Recommend(methods, best, start, OnOne(home, start)), false, AheadOf(start), home);
    }

    // The ways of turning a core; air of another engine is only had where one runs.
    internal static IEnumerable<SchoolAnswer> Answers(ProcedureDefinition procedure, bool anotherRuns) =>
        (procedure.Schools.FirstOrDefault(q => q.Id == Question)?.Answers ?? [new SchoolAnswer(Windmill, "Windmill", "")]).Where(a => a.Id != CrossBleed || anotherRuns);

    // The jet alone, on what is asked for and with the thrust that it has now.
    private static List<FlightPoint> AheadOf(Machine m)
    {
        const double StepS = 0.1, PointS = 2, AheadS = 60;
        var points = new List<FlightPoint>();
        if (m["flight.airborne"] < 0.5)
        {
            return points;
        }

        var jet = FlightState.JetOf(m.Aircraft, m.Header, Station.Of(m.Place, m.Header));
        jet.Begin(m["flight.height"], m["flight.eas"], m["flight.path"]);
        var (keeps, pitch, speed) = (m["flight.keeps-speed"] > 0.5, m[m.Aircraft.Flight.PitchControl], m.Aircraft.Flight.SpeedControl is { } control ? m[control] : 0);
        var thrust = FlightState.ThrustOf(m);
        for (var i = 0; i <= AheadS / StepS && jet.HeightFt > m.Header.Flight!.GroundAt(m.Place, m["flight.home"]); i++)
        {
            if (i % (int)(PointS / StepS) == 0)
            {
                points.Add(new FlightPoint(Math.Round(jet.EasKt, 1), Math.Round(jet.HeightFt)));
            }

            jet.StickShare = FlightState.StickShareOf(m, jet.Mach);
            jet.Step(StepS, keeps ? jet.PathFor(speed, thrust) : pitch, thrust);
        }

        return points;
    }

    private static WayHome? HomeOf(Fleet fleet, RunHeader header, Machine m)
    {
        if (m["flight.airborne"] < 0.5)
        {
            return null;
        }

        var flight = header.Flight!;
        var bearing = flight.BearingDeg ?? 0;
        var own = new GeoPosition(m.Place.LatitudeDeg, m.Place.LongitudeDeg);
        var here = GreatCircle.Towards(own, bearing, m["flight.home"]);
        var (place, distance, course) = fleet.Places.Select(p => (Place: p, At: new GeoPosition(p.LatitudeDeg, p.LongitudeDeg)))
            .Select(p => (p.Place, Nm: GreatCircle.DistanceNm(here, p.At), p.Place.Id == m.Place.Id ? bearing + 180 : GreatCircle.CourseDeg(here, p.At)))
            .MinBy(p => p.Nm);
        var wind = header.Conditions.WindKt * Math.Cos((header.Conditions.WindFromDeg - course) * Math.PI / 180);
        var jet = FlightState.JetOf(m.Aircraft, header, Station.Of(m.Place, header));
        var reach = jet.ReachNm(m["flight.height"], place.ElevationFt, wind);
        var over = m["flight.height"] - place.ElevationFt;
        var engines = m.Aircraft.Engines.Count;
        var lives = engines > 1 ? m.Aircraft.Engines.FirstOrDefault(e => Runs(m, e)) : null;
        var levelsOff = lives is null ? (double?)null : jet.LevelsOffFt(m.Aircraft.Flight.ThrustRatio(FullShare) / engines);
        // High ground on the way has to be cleared before the place’s own begins.
        double Left(double nm, double groundFt) => reach <= 0 ? 0 : m["flight.height"] - groundFt - over * nm / reach;
        var arrives = Math.Min(Left(distance, place.ElevationFt), distance > RunFlight.OwnGroundNm ? Left(distance - RunFlight.OwnGroundNm, flight.GroundAt(place, distance))
            : double.PositiveInfinity);
        return new WayHome(place.Name, Math.Round(distance, 1), Math.Round(reach, 1), Math.Round(arrives / 50) * 50, Math.Round(wind),
            levelsOff is { } ft ? Math.Round(ft / 100) * 100 : null,
            lives is null ? null : FuelFor(distance, wind, m, jet, m.Aircraft.EngineOf(lives), left => flight.GroundAt(place, left)),
            header.Loading?.FuelLb ?? m.Aircraft.Numbers.InternalFuelLb);
    }

    // The way is flown on one engine: down to where it holds its height, or up to there. The ground is that so far from the place.
    private static double? FuelFor(double nm, double headwindKt, Machine m, PointMass jet, EngineDefinition engine, Func<double, double> groundFt)
    {
        const double StepS = 0.5, LongestS = 4 * 3600, SecondsPerHour = 3600;
        if (engine.Full is not { } full)
        {
            return null;
        }

        jet.Begin(m["flight.height"], m["flight.eas"]);
        var thrust = m.Aircraft.Flight.ThrustRatio(FullShare) / m.Aircraft.Engines.Count;
        var (flown, lb) = (0.0, 0.0);
        for (var t = 0.0; flown < nm; t += StepS)
        {
            if (t > LongestS || jet.HeightFt <= groundFt(nm - flown))
            {
                return null;
            }

            jet.Step(StepS, jet.PathFor(jet.GlideEasKt, thrust), thrust);
            flown += StepS / SecondsPerHour * (jet.TrueKt * Math.Cos(jet.PathDeg * Math.PI / 180) - headwindKt);
            lb += StepS / SecondsPerHour * full.Fuel * engine.IdleFuelLbPerH * Math.Pow(jet.DensityRatio, engine.Fuel.DensityExponent);
        }

        return Math.Round(lb / 10) * 10;
    }

    /// <summary>An engine at full throttle turns so far above idle, 1 at its full speed.</summary>
    private const double FullShare = 0.94;

    // What the pilot cannot know is no part of the outlook: it is flown on without the faults. Where they have shown, a sound jet begins anew from this height and speed.
    private static (RunLog Now, long Step) Sound(Fleet fleet, RunLog flown, long step, Machine real, string dead)
    {
        var header = flown.Header with { Faults = [], Surprises = 0 };
        var sound = Rehearsal.Replay(fleet, flown with { Header = header }, step).Machine;
        var (lit, n2) = ($"{dead}.lit", $"{dead}.n2");
        if (sound[lit] == real[lit] && Math.Abs(sound[n2] - real[n2]) < SamePct)
        {
            return (flown with { Header = header }, step);
        }

        var others = real.Aircraft.Engines.Where(e => e.Id != dead).ToList();
        var here = header.Flight! with
        {
            Dead = dead,
            Other = others.Count > 0 && others.TrueForAll(e => real[$"{e.Id}.lit"] > 0.5) ? RunFlight.IdleOther : RunFlight.LostOther,
            HeightFt = real["flight.height"],
            EasKt = real["flight.eas"],
            CoreN2Pct = real[n2],
            FromNm = real["flight.home"],
        };
        return (new RunLog(header with { Flight = FlightCheck.Nearest(here, real.Aircraft, fleet.FindPlace(header.Place), header) }, []), 0);
    }

    private static RelightMethod Told(SchoolAnswer answer, MethodFlight flown)
    {
        var tries = flown.Tries(BetweenS);
        if (flown.Works && answer.Id is Starter or Immediate)
        {
            tries = answer.Id == Immediate ? Math.Min(tries, 1) : Math.Min(tries, Math.Max(1, flown.AttemptsLeft + 1));
        }

        static double Tens(double ft) => Math.Round(ft / 10) * 10;
        return new RelightMethod(answer.Id, answer.Label, flown.Works, flown.LitFt is { } lit ? Tens(lit) : null, flown.Runs ? Tens(flown.EndFt) : null,
            Tens(flown.FromFt - flown.EndFt), Math.Round(flown.Seconds), Tens(flown.AboveFt), tries, flown.Why);
    }

    // The speed to dive to from here which leaves most height at idle, and how much more than the taught speed does.
    private static (double? Kt, double GainFt) BestSpeed(Fleet fleet, RunHeader header, Machine now, string dead)
    {
        var place = fleet.FindPlace(header.Place);
        var trial = new RelightTrial(now.Aircraft, header, Station.Of(place, header), dead);
        var (height, eas) = (now["flight.height"], now["flight.eas"]);
        var floor = header.Flight!.GroundAt(place, now["flight.home"]) + now.Aircraft.Flight.DecisionHeightFt;
        var best = (Kt: (double?)null, Ft: floor);
        for (var kt = Math.Ceiling(eas / StepKt) * StepKt; kt <= now.Aircraft.Engine.Windmill.MaxEasKt; kt += StepKt)
        {
            // Not at the very edge: somewhat slower it has to work too, briskly and cool.
            var outcome = trial.Fly(height, eas, kt, floor);
            var sure = outcome is { Idle: true, Cool: true } && outcome.EndFt > best.Ft && outcome.EndS - outcome.LitS < BriskS
                && trial.Fly(height, eas, Math.Max(eas, kt - SureKt), floor) is { Idle: true, Cool: true };
            best = sure ? (kt, outcome.EndFt) : best;
        }

        var taught = trial.Fly(height, eas, Math.Max(eas, now["numbers.relight-speed"]), floor);
        return (best.Kt, taught.Idle ? best.Ft - taught.EndFt : 0);
    }

    // A core that burns and hangs brings nobody home.
    private static bool Runs(Machine m, EngineSideDefinition e) => m[$"{e.Id}.lit"] > 0.5 && m[$"{e.Id}.n2"] >= m.Aircraft.EngineOf(e).IdleN2Pct - IdleBandPct;

    /// <summary>An engine that is to bring it home alone holds so much over the ground, ft.</summary>
    private const double ClearFt = 500;

    // What an engine that runs, and does not burn, holds at full throttle; null where that does not clear the ground on the way.
    private static double? OnOne(WayHome? home, Machine now)
    {
        var sound = now.Aircraft.Engines.Any(e => Runs(now, e) && (now.Aircraft.Fire is null || now[$"fire.{e.Id}.alarm"] < 0.5));
        var ground = now["flight.height"] - now["flight.above-decision"] - now.Aircraft.Flight.DecisionHeightFt;
        return sound && home is { LevelsOffFt: { } holds, FuelLb: not null } && holds > ground + ClearFt ? holds : null;
    }

    private static Recommendation Recommend(List<RelightMethod> methods, (double? Kt, double GainFt) dive, Machine now, double? onOneFt)
    {
        static string Text(FormattableString s) => s.ToString(CultureInfo.InvariantCulture);
        if (methods.Where(m => m.Works).MaxBy(m => m.AboveFt) is not { } best)
        {
            if (onOneFt is { } holds)
            {
                return new Recommendation(Severity.Caution,
                    Text($"Nothing is at idle above the decision height from here. Home on the engine that runs: at full throttle and best glide it holds {holds:#,##0} ft."));
            }

            return dive.Kt is { } kt ? new Recommendation(Severity.Caution, Text($"By the book nothing is at idle above the decision height. A dive to {kt:0} kt at once just is."))
                : new Recommendation(Severity.Warning, now["flight.above-decision"] > 0 ? "From here nothing is at idle above the decision height: do not wait, leave there."
                    : "Below the decision height: leave.");
        }

        var faster = best.Id == Windmill && dive is { Kt: { } fast, GainFt: > WorthFt } ? Text($" At {fast:0} kt it costs {Math.Round(dive.GainFt / 10) * 10:#,##0} ft less.") : "";
        var other = methods.Where(m => m.Id != best.Id).MaxBy(m => m.AboveFt);
        var than = other is null ? "" : other.Works ? Text($" {other.Label}: {best.AboveFt - other.AboveFt:#,##0} ft more.") : $" {other.Label}: {other.Why}.";
        var tries = best.Tries == 1 ? "1 try" : Text($"up to {best.Tries} tries");
        return new Recommendation(best.Tries > 1 ? Severity.Note : Severity.Caution,
            Text($"{best.Label}: lights at {best.LitFt:#,##0} ft, idle at {best.IdleFt:#,##0} after {best.Seconds:0} s, {tries}.{faster}{than}"));
    }
}
