using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
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

/// <summary>Every method of restart from this moment, each flown ahead on the whole machine by a steady pilot, and which one is best.</summary>
/// <param name="AtS">Run time of the moment.</param>
/// <param name="BestKt">The speed to dive to that costs a windmill restart least height; null where none brings it to idle above the decision height.</param>
/// <param name="Running">The core runs: there is nothing to restart.</param>
public sealed record RelightOutlook(double AtS, IReadOnlyList<RelightMethod> Methods, double? BestKt, Recommendation Advice, bool Running)
{
    private const string Question = "method", Windmill = "windmill";
    private const double LongestS = 900, BelowFt = 3000, StepKt = 10, IdleBandPct = 2, WorthFt = 200, SureKt = 25, BriskS = 40, SamePct = 3;

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
        var answers = procedure.Schools.FirstOrDefault(q => q.Id == Question)?.Answers ?? [new SchoolAnswer(Windmill, "Windmill", "")];
        var start = Rehearsal.Replay(fleet, flown, step).Machine;
        var dead = header.RestartEngine(start.Aircraft);
        var idle = start.Aircraft.EngineOf(dead).IdleN2Pct - IdleBandPct;
        var running = start[$"{dead}.lit"] > 0.5 && start[$"{dead}.n2"] >= idle;
        var burnt = start.Aircraft.Fire is not null && start[$"fire.{dead}.had"] > 0.5;
        if (running || burnt || start["flight.airborne"] < 0.5)
        {
            var why = running ? "It runs." : burnt ? "It burnt and is shut off: it is not started again." : "On the ground.";
            return new RelightOutlook(start.Time, [], null, new Recommendation(Severity.Note, why), running);
        }

        var (now, from) = Sound(fleet, flown, step, start, dead);
        List<RelightMethod> methods = [.. answers.Select(a => Fly(fleet, now, from, a, dead, idle, procedure.Schools.Count > 0))];
        var best = BestSpeed(fleet, header, start, dead);
        return new RelightOutlook(start.Time, methods, best.Kt, Recommend(methods, best, start), false);
    }

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

    private static RelightMethod Fly(Fleet fleet, RunLog now, long step, SchoolAnswer answer, string dead, double idle, bool asked)
    {
        var school = asked ? new Dictionary<string, string>(now.Header.School) { [Question] = answer.Id } : now.Header.School;
        var rehearsal = Rehearsal.Replay(fleet, now with { Header = now.Header with { School = school } }, step);
        var m = rehearsal.Machine;
        var (from, fromS) = (m["flight.height"], m.Time);
        double litFt = -1, litS = 0;
        bool Runs() => m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= idle;
        _ = new ScriptedPilot(rehearsal).FlyUntil(() =>
        {
            if (litFt < 0 && m[$"{dead}.lit"] > 0.5)
            {
                (litFt, litS) = (m["flight.height"], m.Time);
            }

            return Runs() || m.Time > fromS + LongestS || m["flight.above-decision"] < -BelowFt || m["flight.airborne"] < 0.5;
        });
        var (height, above, seconds) = (m["flight.height"], m["flight.above-decision"], m.Time - fromS);
        var works = Runs() && above > 0;
        var tries = !works ? 0 : 1 + (int)Math.Floor(above / Math.Max(1, (litFt - height) * (1 + BetweenS / Math.Max(1, m.Time - litS))));
        if (works && answer.Id != Windmill)
        {
            tries = Math.Min(tries, Math.Max(1, (int)m["start.attempts"] + 1));
        }

        static double Tens(double ft) => Math.Round(ft / 10) * 10;
        var why = works ? null : Runs() ? "it comes to idle below the decision height" : litFt < 0 ? "it does not light above the decision height" : "it lights and does not reach idle above it";
        return new RelightMethod(answer.Id, answer.Label, works, litFt < 0 ? null : Tens(litFt), Runs() ? Tens(height) : null, Tens(from - height), Math.Round(seconds), Tens(above), tries, why);
    }

    // The speed to dive to from here which leaves most height at idle, and how much more than the taught speed does.
    private static (double? Kt, double GainFt) BestSpeed(Fleet fleet, RunHeader header, Machine now, string dead)
    {
        var place = fleet.FindPlace(header.Place);
        var trial = new RelightTrial(now.Aircraft, header, Station.Of(place, header), dead);
        var (height, eas) = (now["flight.height"], now["flight.eas"]);
        var floor = place.ElevationFt + now.Aircraft.Flight.DecisionHeightFt;
        var best = (Kt: (double?)null, Ft: floor);
        for (var kt = Math.Ceiling(eas / StepKt) * StepKt; kt <= now.Aircraft.Engine.Windmill.MaxEasKt; kt += StepKt)
        {
            // Not at the very edge: somewhat slower it has to work too, briskly and cool.
            var outcome = trial.Fly(height, eas, kt, floor);
            var sure = outcome is { Idle: true, Cool: true } && outcome.EndFt > best.Ft && outcome.EndS - outcome.LitS < BriskS && trial.Fly(height, eas, Math.Max(eas, kt - SureKt), floor) is { Idle: true, Cool: true };
            best = sure ? (kt, outcome.EndFt) : best;
        }

        var taught = trial.Fly(height, eas, Math.Max(eas, now["numbers.relight-speed"]), floor);
        return (best.Kt, taught.Idle ? best.Ft - taught.EndFt : 0);
    }

    private static Recommendation Recommend(List<RelightMethod> methods, (double? Kt, double GainFt) dive, Machine now)
    {
        static string Text(FormattableString s) => s.ToString(CultureInfo.InvariantCulture);
        if (methods.Where(m => m.Works).MaxBy(m => m.AboveFt) is not { } best)
        {
            return dive.Kt is { } kt ? new Recommendation(Severity.Caution, Text($"By the book nothing is at idle above the decision height. A dive to {kt:0} kt at once just is."))
                : new Recommendation(Severity.Warning, now["flight.above-decision"] > 0 ? "From here nothing is at idle above the decision height: do not wait, leave there." : "Below the decision height: leave.");
        }

        var faster = best.Id == Windmill && dive is { Kt: { } fast, GainFt: > WorthFt } ? Text($" At {fast:0} kt it costs {dive.GainFt:#,##0} ft less.") : "";
        var other = methods.Where(m => m.Id != best.Id).MaxBy(m => m.AboveFt);
        var than = other is null ? "" : other.Works ? Text($" {other.Label}: {best.AboveFt - other.AboveFt:#,##0} ft more.") : $" {other.Label}: {other.Why}.";
        return new Recommendation(best.Tries > 1 ? Severity.Note : Severity.Caution,
            Text($"{best.Label}: lights at {best.LitFt:#,##0} ft, idle at {best.IdleFt:#,##0} after {best.Seconds:0} s, {best.Tries} {(best.Tries == 1 ? "try" : "tries")}.{faster}{than}"));
    }
}
