using System.Globalization;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember procedure</c>: the procedure of an aircraft as a situation and a school leave it.</summary>
internal static class ProcedureCommand
{
    /// <summary>A step as it is printed as JSON.</summary>
    private sealed record Printed(string Id, string Phase, string Cue, string Why, ActDefinition Act, string? Needs, string Done, double HandsS,
        IReadOnlyList<string> Occupies, string? Waits, StepWindow? Window, IReadOnlyList<Precedes> Before, bool Optional, string? Hazard, string? IfOmitted);

    public static int Run(string aircraft, string beginning, string[] school, bool json, TextWriter output, TextWriter error)
    {
        ArgumentNullException.ThrowIfNull(school);
        try
        {
            var fleet = FleetFolder.Load(FleetFolder.Find());
            var header = new RunHeader
            {
                Aircraft = aircraft,
                Place = fleet.Places[0].Id,
                Spot = fleet.Places[0].Spots[0].Id,
                Seed = 1,
                Beginning = beginning,
                Conditions = new RunConditions(15, 0, 0),
                School = Answers(school)
            };
            var procedure = ProcedureInForce.Of(fleet.ProcedureFor(header), fleet.FindAircraft(aircraft), fleet.FindPlace(header.Place), header);
            var machine = fleet.Sample(aircraft);
            var before = Precedence.Of(procedure, machine.Signals, machine.Gates).ToLookup(p => p.After);
            var steps = procedure.Steps.Select(s => new Printed(s.Id, s.Phase, s.Definition.Cue, s.Definition.Why, s.Definition.Act, s.Definition.Needs, s.Definition.Done,
                s.HandsS,
                [.. Enum.GetValues<Occupies>().Where(o => o != Occupies.None && s.Occupies.HasFlag(o)).Select(o => o.ToString().ToLowerInvariant())],
                s.Waits, s.Window, [.. before[s.Id]], s.Definition.Optional, s.Definition.Hazard, s.Definition.IfOmitted)).ToList();
            if (json)
            {
                output.WriteLine(JsonSerializer.Serialize(steps, FleetJson.Options));
            }
            else
            {
                Write(procedure, steps, output);
            }

            return 0;
        }
        catch (FormatException e)
        {
            error.WriteLine(e.Message);
            return 2;
        }
    }

    private static Dictionary<string, string> Answers(string[] school)
    {
        var answers = new Dictionary<string, string>();
        foreach (var pair in school.SelectMany(s => s.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)))
        {
            if (pair.Split('=') is not [var question, var answer])
            {
                throw new FormatException($"school: \"{pair}\" is not question=answer");
            }

            answers[question] = answer;
        }

        return answers;
    }

    private static void Write(ProcedureInForce procedure, List<Printed> steps, TextWriter output)
    {
        output.WriteLine(procedure.Definition.Title);
        if (procedure.School.Count > 0)
        {
            output.WriteLine(string.Join(", ", procedure.School.Select(s => $"{s.Key}={s.Value}")));
        }

        var number = 0;
        foreach (var phase in procedure.Definition.Phases)
        {
            output.WriteLine();
            output.WriteLine(phase.Title);
            foreach (var step in steps.Where(s => s.Phase == phase.Id))
            {
                number++;
                output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{number,4}  {step.Cue}{(step.Optional ? " (where it is needed)" : "")}"));
                output.WriteLine($"      {step.Why}");
            }
        }
    }
}
