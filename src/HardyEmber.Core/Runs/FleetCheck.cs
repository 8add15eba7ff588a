using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>Holds what the data files say against each other.</summary>
/// <param name="cancel">Nobody waits for it any more.</param>
internal sealed class FleetCheck(Fleet fleet, CancellationToken cancel)
{
    /// <summary>An aircraft is sound when a machine can be built from it, and what it names exists.</summary>
    public void Aircraft(AircraftDefinition a, DataProblems problems)
    {
        var machine = Registry.Build(a, fleet.Places[0], fleet.Faults, fleet.SampleHeader(a, "first"), problems);
        void Known(string name, string where) => problems.Try(() => _ = machine.Signals.Find(name)
            ?? throw new FormatException($"{where}: there is no signal \"{name}\"{Nearest.Hint(name, machine.Signals.All.Select(i => i.Name))}"));
        foreach (var gauge in a.Gauges)
        {
            foreach (var name in new[] { gauge.Signal, gauge.Peak, gauge.Ahead }.OfType<string>())
            {
                Known(name, $"gauges.{gauge.Signal}");
            }
        }

        foreach (var link in a.Chain)
        {
            Known(link.Number, $"chain.{link.Id}.number");
        }

        problems.Try(() => _ = new ChainHanded(machine));

        // Gates are made of what has been looked at by now; where that was wrong, they would only repeat it.
        foreach (var gate in problems.Found.Count == 0 ? machine.Gates : [])
        {
            _ = machine.Compile(gate.Text, gate.Where);
            Known(gate.Signal, gate.Where);
        }

        foreach (var (definition, fault) in fleet.Faults.Faults.SelectMany(f => FaultDraw.Places(f, a, [.. machine.FaultInputNames]), (f, place) => (f, place.Fault)))
        {
            _ = machine.Compile(FaultSchedule.Named(definition.Sign, fault), $"faults.{definition.Code}.sign");
            _ = machine.Compile(FaultSchedule.Named(definition.Answer, fault), $"faults.{definition.Code}.answer");
        }

        foreach (var watch in a.Watches)
        {
            Judge.Check(watch, machine);
        }

        foreach (var former in a.Formerly)
        {
            foreach (var (control, position) in former.Now)
            {
                if (a.Controls.FirstOrDefault(c => c.Id == control)?.Positions.Contains(position) != true)
                {
                    problems.Add("formerly", $"there is no \"{control}\" with a position \"{position}\"");
                }
            }
        }

        // What a header may say of the pressure the altimeter can be set to, and to the lower one of a high field.
        var qnh = HeaderCheck.RangeOf(typeof(RunConditions), nameof(RunConditions.QnhHpa));
        foreach (var dial in a.Controls.Where(c => c.Kind == ControlKind.Dial && c.Unit == "hPa" && (c.Min > qnh.Low || c.Max < qnh.High)))
        {
            problems.Add($"controls.{dial.Id}", $"a dial in hPa covers {qnh.Low} to {qnh.High}, as conditions.qnhHpa does");
        }

        var links = a.Chain.Select(c => c.Id).ToHashSet();
        var linked = a.Controls.Select(c => (Where: $"controls.{c.Id}.link", c.Link)).Concat(a.Gauges.Select(g => (Where: $"gauges.{g.Signal}.link", g.Link)))
            .Concat(a.Lamps.Select(l => (Where: $"lamps.{l.Id}.link", l.Link))).Concat(a.Families.Select(f => (Where: $"families.{f.Key}", Link: f.Value)));
        foreach (var (where, link) in linked.Where(l => !links.Contains(l.Link)))
        {
            problems.Add(where, $"the chain has no link \"{link}\"{Nearest.Hint(link, links)}");
        }
    }

    /// <summary>A procedure is when every condition of it compiles, whatever is taught.</summary>
    public void Procedure(ProcedureDefinition p, DataProblems problems)
    {
        if (fleet.Aircraft.FirstOrDefault(a => a.Id == p.Aircraft) is not { } aircraft)
        {
            problems.Add("aircraft", $"there is no aircraft \"{p.Aircraft}\"{Nearest.Hint(p.Aircraft, fleet.Aircraft.Select(a => a.Id))}");
            return;
        }

        foreach (var (question, answer) in p.Schools.SelectMany(q => q.Answers, (q, a) => (q, a)).Where(x => x.a.Needs is not (null or SchoolAnswer.HeadingStored)))
        {
            problems.Add($"schools.{question.Id}.{answer.Id}.needs", $"\"{answer.Needs}\" is not {SchoolAnswer.HeadingStored}");
        }

        var known = problems.Found.Count;
        foreach (var questions in p.Schools.GroupBy(q => q.Id).Where(g => g.Count() > 1 || g.First().Answers.Count == 0))
        {
            problems.Add($"schools.{questions.Key}", questions.Count() > 1 ? "there are two questions of this name" : "a question needs an answer at least");
        }

        if (problems.Found.Count > known)
        {
            return; // no school can be chosen to look at the rest with
        }

        foreach (var (step, code) in p.Phases.SelectMany(x => x.Steps).SelectMany(x => x.Catches, (x, c) => (x, c)).Where(x => fleet.Faults.Faults.All(f => f.Code != x.c)))
        {
            problems.Add($"steps.{step.Id}.catches", $"there is no fault \"{code}\"{Nearest.Hint(code, fleet.Faults.Faults.Select(f => f.Code))}");
        }

        var bases = fleet.Places.Where(place => place.Ship is null || aircraft.FliesFromShips).DistinctBy(place => place.Ship is null).ToList();
        foreach (var ((answers, beginning), place) in SchoolChoices(p).SelectMany(x => p.Beginnings.Select(beginning => (x, beginning)))
            .SelectMany(_ => bases, (x, place) => (x, place)))
        {
            // What is wrong with the aircraft is said of the aircraft.
            var problem = new DataProblems(cancel);
            var header = fleet.SampleHeader(aircraft, beginning) with { Place = place.Id, Spot = place.Spots[0].Id, School = answers };
            var machine = Registry.Build(aircraft, place, fleet.Faults, header, problem);
            var before = problem.Found.Count;
            problem.Try(() => new ProcedureTracker(p, machine).Definition.Watches.ToList().ForEach(w => Judge.Check(w, machine)));
            foreach (var (where, text) in problem.Found.Skip(before))
            {
                problems.Add(where, text);
            }
        }
    }

    /// <summary>A place is sound when a jet can stand on it.</summary>
    public static void Place(PlaceDefinition p, DataProblems problems)
    {
        if (p.Spots.Count == 0)
        {
            problems.Add("spots", "a place needs a spot at least");
        }
    }

    /// <summary>A drill is when its flight could begin.</summary>
    public void Drill(string where, AirDrill drill, DataProblems problems)
    {
        var wrong = new DataProblems(cancel);
        wrong.Try(() =>
        {
            var header = drill.At(fleet.Places.First(p => p.Ship is null), 1);
            _ = new ProcedureTracker(fleet.ProcedureFor(header), fleet.Build(header));
        });
        if (!AirDrill.Endings.Contains(drill.Ends))
        {
            wrong.Add("ends", $"\"{drill.Ends}\" is none of {string.Join(", ", AirDrill.Endings)}");
        }

        foreach (var (field, problem) in wrong.Found)
        {
            problems.Add($"{where}.{field}", problem);
        }
    }

    private static IEnumerable<Dictionary<string, string>> SchoolChoices(ProcedureDefinition p)
    {
        var widest = p.Schools.Count == 0 ? 1 : p.Schools.Max(s => s.Answers.Count);
        for (var i = 0; i < widest; i++)
        {
            yield return p.Schools.ToDictionary(s => s.Id, s => s.Answers[Math.Min(i, s.Answers.Count - 1)].Id);
        }
    }
}
