using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Procedures;

/// <summary>The cockpit sweep, which follows from the controls: on a turnaround each is put where a cold jet has it, then it is looked at.</summary>
public static class SweepSteps
{
    private const string OnField = "place is field", OnShip = "place is ship";
    private const string Omitted = "A control left wrong acts when power comes.";

    /// <summary>The procedure with the steps of its sweep written out.</summary>
    public static ProcedureDefinition WrittenOut(ProcedureDefinition procedure, AircraftDefinition aircraft)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(aircraft);
        return procedure with { Phases = [.. procedure.Phases.Select(p => p.Sweep ? p with { Sweep = false, Steps = [.. Of(aircraft), .. p.Steps] } : p)] };
    }

    /// <summary>What is swept always comes first.</summary>
    private static IEnumerable<StepDefinition> Of(AircraftDefinition aircraft) => aircraft.Controls.Where(c => c.Sweep is not null).OrderByDescending(c => c.Sweep!.Always)
        .SelectMany(c => c.Aboard is { } aboard ? [.. Of(c, c.Default!, OnField), .. Of(c, aboard, OnShip)] : Of(c, c.Default!, null));

    private static IEnumerable<StepDefinition> Of(ControlDefinition control, string rest, string? where)
    {
        var name = Lower(control.Label);
        if (control.LeftAt.Count > 0)
        {
            yield return new StepDefinition
            {
                Id = $"right-{control.Id}",
                Cue = $"Put {name} to {rest}",
                Why = "The last pilot may have left it elsewhere.",
                Act = new ActDefinition(Set: control.Id, To: rest),
                Done = $"{control.Id} is {rest} or seen {control.Id}",
                HandsS = 1,
                OnlyBeginning = "turnaround",
                School = where,
            };
        }

        yield return new StepDefinition
        {
            Id = $"sweep-{control.Id}",
            Cue = $"Look: {name} at {rest}",
            Why = control.Sweep!.Why,
            Act = new ActDefinition(Look: control.Id),
            Needs = $"{control.Id} is {rest}",
            OnlyBeginning = control.Sweep.Always ? null : "turnaround",
            School = where,
            IfOmitted = Omitted,
            Hazard = control.Hazard,
            Relied = $"Power came on before the {name} was looked at.",
        };
    }

    // An abbreviation stays as it is.
    private static string Lower(string label) => label.Length > 1 && char.IsUpper(label[1]) ? label : char.ToLowerInvariant(label[0]) + label[1..];
}
