using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>What a start by the book would be. Times in seconds, temperatures in °C.</summary>
/// <param name="Reached">Every engine came to idle.</param>
/// <param name="ReadyS">Run time at which everything was done; null where it never was.</param>
/// <param name="PeakC">The hottest of all its engine starts.</param>
/// <param name="IdleS">The longest of its times from crank to idle.</param>
/// <param name="StarterS">Seconds that starters worked, all engines together.</param>
/// <param name="Battery">What it asks of the battery; null where nothing hangs on one.</param>
public sealed record StartFigures(bool Reached, double? ReadyS, double PeakC, double MarginC, double? IdleS, double StarterS, BatteryFigures? Battery);

/// <summary>What a start asks of the battery, and what it has.</summary>
/// <param name="LastsS">From now, with what is on before the first start.</param>
/// <param name="NeededS">Time that it carries the jet until a machine does.</param>
/// <param name="Attempts">Start attempts left when the first is about to be made: the least of battery, accumulator or bottles, and duty.</param>
/// <param name="FellOut">Its contactor falls out before that.</param>
public sealed record BatteryFigures(double LastsS, double NeededS, int Attempts, bool FellOut);

/// <summary>The same start done otherwise.</summary>
/// <param name="Kind">school (another answer to a question of the school), turn (the jet into the wind) or clean (fuel and heat blown out first).</param>
/// <param name="GivesUp">The checks that it leaves out, each with what that may cost and the faults it would have shown.</param>
public sealed record StartOption(string Kind, string? Question, string? Answer, string Label, StartFigures Figures, IReadOnlyList<string> GivesUp);

/// <summary>A start over time from its crank, five points a second.</summary>
public sealed record StartCurve(string Engine, IReadOnlyList<double> N2Pct, IReadOnlyList<double> GasC)
{
    public const double Hz = 5;
}

/// <summary>What is advised before the start.</summary>
public sealed record Recommendation(Severity Severity, string Text);

/// <summary>
/// The start before it is made: the simulator run ahead from this moment with a steady pilot, in today's conditions, and
/// once more for every choice that is open. It knows nothing of the faults a run carries.
/// </summary>
/// <param name="Held">Where the time of the start as planned goes; null where none is flown to its end.</param>
public sealed record StartOutlook(StartFigures AsPlanned, IReadOnlyList<StartCurve> Curves, IReadOnlyList<StartOption> Options, Recommendation Advice, ChainSignature? Held = null)
{
    private const double AheadS = 1200;
    private const double TailKt = 3;
    private const double CloseC = 60;

    /// <summary>With less of a reserve than this the battery is not trusted.</summary>
    private const double ShortBattery = 1.15;
    private const double WorthC = 20;
    private const double DirtyPuddle = 0.1, HotCoreC = 180;

    /// <summary>Looks ahead from the moment just before <paramref name="step"/>.</summary>
    /// <param name="soFar">The commands given until then.</param>
    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    public static StartOutlook For(Fleet fleet, RunHeader header, IReadOnlyList<RunCommand> soFar, long step)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        _ = fleet.Build(header); // what is wrong with it is said by its field
        var sound = header with { Faults = [], Surprises = 0 };
        var now = new RunLog(sound, [.. soFar.Where(c => c.Kind is not (CommandKind.End or CommandKind.Report))]);
        var curves = new List<StartCurve>();
        var planned = Fly(fleet, now, step, out var held, curves);
        var options = new List<StartOption>();
        var procedure = fleet.ProcedureFor(sound);
        foreach (var question in procedure.Schools)
        {
            foreach (var answer in question.Answers.Where(a => a.IsOffered(sound) && a.Id != ProcedureInForce.Answer(procedure, sound.School, question.Id)))
            {
                var otherwise = now with { Header = sound with { School = new Dictionary<string, string>(sound.School) { [question.Id] = answer.Id } } };
                options.Add(new StartOption("school", question.Id, answer.Id, $"{question.Question}: {answer.Label}", Fly(fleet, otherwise, step),
                    GivenUp(fleet, sound, otherwise.Header)));
            }
        }

        var place = fleet.FindPlace(sound.Place);
        if (sound.Flight is null && Station.Of(place, sound).TailwindKt > TailKt)
        {
            var heading = place.Spots.First(s => s.Id == sound.Spot).HeadingDeg;
            var turned = now with { Header = sound with { Conditions = sound.Conditions with { WindFromDeg = heading } } };
            options.Add(new StartOption("turn", null, null, "Have the jet turned into the wind", Fly(fleet, turned, step), []));
        }

        if (sound.Flight is null && Dirty(Rehearsal.Replay(fleet, now, step).Machine))
        {
            options.Add(new StartOption("clean", null, null, "Motor the core first, until fuel and heat are out", Fly(fleet, new RunLog(sound, []), 0), []));
        }

        return new StartOutlook(planned, curves, options, Recommend(planned, options), held);
    }

    /// <summary>A whole start by the book in the conditions of a header, without its faults.</summary>
    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    public static (StartFigures Figures, IReadOnlyList<StartCurve> Curves, ChainSignature? Held) ByTheBook(Fleet fleet, RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        _ = fleet.Build(header);
        var curves = new List<StartCurve>();
        return (Fly(fleet, new RunLog(header with { Faults = [], Surprises = 0 }, []), 0, out var held, curves), curves, held);
    }

    // What one school looks at and the other does not; a check that stands in both, in other words, is given up by nobody.
    private static List<string> GivenUp(Fleet fleet, RunHeader planned, RunHeader otherwise)
    {
        IReadOnlyList<StepInForce> Steps(RunHeader header) => ProcedureInForce.Of(fleet.ProcedureFor(header), fleet.FindAircraft(header.Aircraft),
            fleet.FindPlace(header.Place), header).Steps;
        var kept = Steps(otherwise);
        return [.. Steps(planned).Where(s => s.Definition.Catches.Count > 0 && kept.All(k => k.Id != s.Id))
            .Select(s => string.Join(" ", new[] { $"{s.Definition.Cue}.", s.Definition.IfOmitted, Shown(fleet, s.Definition) }.OfType<string>()))];
    }

    private static string? Shown(Fleet fleet, StepDefinition step) => step.Catches.Count == 0 ? null
        : $"It shows: {string.Join(", ", step.Catches.Select(code => fleet.Faults.Faults.First(f => f.Code == code).Label)).ToLowerInvariant()}.";

    private static bool Dirty(Machine m) =>
        m.Aircraft.Engines.Any(e => m[$"{e.Id}.lit"] < 0.5 && (m[$"{e.Id}.puddle"] > DirtyPuddle || m[$"{e.Id}.egt-true"] > HotCoreC));

    private static StartFigures Fly(Fleet fleet, RunLog log, long step, List<StartCurve>? curves = null) => Fly(fleet, log, step, out _, curves);

    private static StartFigures Fly(Fleet fleet, RunLog log, long step, out ChainSignature? held, List<StartCurve>? curves = null)
    {
        var rehearsal = Rehearsal.Replay(fleet, log, step);
        var before = rehearsal.Starts.Cards.Count(c => c.Outcome != StartOutcome.Open);
        var m = rehearsal.Machine;
        var tracks = m.Aircraft.Engines.ToDictionary(e => e.Id, e => (N2: new List<double>(), Gas: new List<double>()));
        var pilot = new ScriptedPilot(rehearsal, new PilotTraits(LetsItBurn: true));
        var until = m.Time + AheadS;
        var battery = new BatteryTrack(m);
        var finished = pilot.FlyUntil(() =>
        {
            if (m.StepIndex % Steps.PerTick == 0)
            {
                battery.Look();
            }

            if (curves is not null && m.StepIndex % Steps.PerTick == 0)
            {
                foreach (var (id, track) in tracks)
                {
                    if (rehearsal.Starts.Cards.Any(c => c.Engine == id))
                    {
                        track.N2.Add(Math.Round(m[$"{id}.n2"], 1));
                        track.Gas.Add(Math.Round(m[$"{id}.egt-true"]));
                    }
                }
            }

            return m.Time >= until;
        });
        curves?.AddRange(tracks.Where(t => t.Value.N2.Count > 0).Select(t => new StartCurve(t.Key, Short(t.Value.N2), Short(t.Value.Gas))));
        var made = rehearsal.Starts.Cards.Skip(before).ToList();
        var limit = m.Aircraft.Engine.StartLimitC;
        var peak = made.Where(c => c.Outcome != StartOutcome.Motored).Select(c => c.PeakC).DefaultIfEmpty(m.Header.Conditions.OatC).Max();
        // Of what is planned, not of every choice beside it.
        held = finished && curves is not null ? ChainSignature.Of(fleet, log.Header, RunSummary.MilestonesOf(rehearsal.Tracker)) : null;
        var idle = m.Aircraft.Engines.All(e => m[$"{e.Id}.n2"] > m.Aircraft.EngineOf(e).IdleN2Pct - 2);
        return new StartFigures(idle, finished ? Math.Round(m.Time, 1) : null, peak, limit - peak, made.Select(c => c.IdleS).Max(), Math.Round(made.Sum(c => c.StarterS), 1),
            battery.Figures);
    }

    // Looks on at each tick while nobody else carries the jet.
    private sealed class BatteryTrack(Machine m)
    {
        private const double DrawsA = 0.5;
        private readonly bool _has = m.Header.Flight is null && m.Aircraft.Electrics.Battery is not null;
        private double _neededS, _lastsS = double.PositiveInfinity;
        private int _attempts;
        private bool _carried, _fell, _turned;

        public void Look()
        {
            if (!_has || _carried)
            {
                return;
            }

            _fell |= m["battery.holds"] < 0.5;
            _carried = m.Aircraft.Engines.Any(e => m[$"{e.Id}.generator"] > 0.5);
            _turned |= m.Aircraft.Engines.Any(e => m[$"{e.Id}.starter-valve"] > 0.5) || m.Aircraft.AuxiliaryUnit is not null && m["aux.running"] > 0.5;
            if (m["battery.amps"] > DrawsA)
            {
                _neededS += Steps.PerTick * Steps.Seconds;
                if (!_turned)
                {
                    (_lastsS, _attempts) = (_neededS + m["battery.left"], (int)m["start.attempts"]);
                }
            }
        }

        public BatteryFigures? Figures => double.IsPositiveInfinity(_lastsS) ? null : new BatteryFigures(Math.Round(_lastsS), Math.Round(_neededS), _attempts, _fell);
    }

    private static List<double> Short(List<double> values) => values[..Math.Min(values.Count, (int)(120 * StartCurve.Hz))];

    private static Recommendation Recommend(StartFigures planned, List<StartOption> options)
    {
        var best = options.Where(o => o.Figures.Reached).MaxBy(o => o.Figures.MarginC);
        var better = best is not null && best.Figures.MarginC > Math.Max(planned.MarginC, 0) + WorthC ? $" {best.Label}: {best.Figures.PeakC:0} °C." : "";
        if (planned.Battery is { } battery && (battery.FellOut || battery.LastsS < ShortBattery * battery.NeededS || battery.Attempts < 1))
        {
            return new Recommendation(Severity.Warning,
                FormattableString.Invariant($"The battery does not pay for it: {battery.LastsS / 60:0} min, you need {battery.NeededS / 60:0}. ")
                + "Ask for ground power first, or load later.");
        }

        if (planned.MarginC < 0)
        {
            return new Recommendation(Severity.Warning, $"Not like this: {planned.PeakC:0} °C is {-planned.MarginC:0} over the start limit."
                + (better.Length > 0 ? better : best is { Figures.MarginC: >= 0 } some ? $" {some.Label}: {some.Figures.PeakC:0} °C."
                    : " No choice that is open here stays below it: wait for wind or temperature to change."));
        }

        if (!planned.Reached)
        {
            return new Recommendation(Severity.Warning, "By the book this start does not come to idle."
                + (best is not null ? $" {best.Label} does." : " Ask for help before the first try is spent."));
        }

        return planned.MarginC < CloseC
            ? new Recommendation(Severity.Caution, $"Close: {planned.PeakC:0} °C leaves {planned.MarginC:0} to the start limit.{better}")
            : new Recommendation(Severity.Note, $"Start as planned: {planned.PeakC:0} °C leaves {planned.MarginC:0} to the start limit.");
    }
}
