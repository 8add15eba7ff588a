using CsCheck;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Hands that do anything, in any order: the same ones for every property of the machine.</summary>
internal static class RandomHands
{
    internal sealed record Act(int Control, int Position, double WaitS, double Number);

    public static Gen<Act> Any { get; } = Gen.Select(Gen.Int[0, 999], Gen.Int[0, 9], Gen.Double[0.02, 6], Gen.Double[0, 1], (c, p, w, n) => new Act(c, p, w, n));

    /// <summary>Every type of the fleet.</summary>
    public static string[] Types { get; } = [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static Gen<string> OneOf(params string[] words) => Gen.Int[0, words.Length - 1].Select(i => words[i]);

    /// <summary>Does all acts, each followed by its wait; <paramref name="look"/> is called after every step.</summary>
    public static void Play(Machine machine, IEnumerable<Act> acts, Action? look)
    {
        foreach (var act in acts)
        {
            machine.Apply(CommandFor(machine, act));
            var until = machine.StepIndex + (long)(act.WaitS / Steps.Seconds);
            while (machine.StepIndex < until)
            {
                machine.Step();
                look?.Invoke();
            }
        }
    }

    private static RunCommand CommandFor(Machine machine, Act act)
    {
        var control = machine.Aircraft.Controls[act.Control % machine.Aircraft.Controls.Count];
        if (control.Kind == ControlKind.Dial)
        {
            return new RunCommand(machine.StepIndex, CommandKind.Set, control.Id, null, control.Min + act.Number * (control.Max - control.Min));
        }

        if (control.Kind == ControlKind.Position)
        {
            var typed = new Numbers.GeoPosition(act.Number * 180 - 90, act.WaitS * 60 - 180);
            return new RunCommand(machine.StepIndex, CommandKind.Set, control.Id, act.Position < 5 ? ControlDefinition.TakesSpot : typed.ToString());
        }

        var position = control.Positions[act.Position % control.Positions.Count];
        return new RunCommand(machine.StepIndex, control.Sprung.Contains(position) ? CommandKind.Hold : CommandKind.Set, control.Id, position);
    }
}
