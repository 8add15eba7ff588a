using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A machine under a tester's hands: set, hold, run, wait for.</summary>
internal sealed class Bench(RunHeader header, AircraftDefinition? aircraft = null, FaultCatalog? faults = null)
{
    public Machine Machine { get; } = Registry.Build(aircraft ?? Repository.Fleet.FindAircraft(header.Aircraft), Repository.Fleet.FindPlace(header.Place),
        faults ?? Repository.Fleet.Faults, header);

    public double LastCommandS { get; private set; }

    public double this[string signal] => Machine[signal];

    public static Bench WithRightRunning(RunHeader header)
    {
        var bench = new Bench(header).Set("battery", "on").Run(1);
        bench.StartRight();
        return bench;
    }

    public void StartRight()
    {
        Set("generator-right", "on").Set("aux-unit", "on");
        Until("aux.ready", 60);
        Run(2).Set("starter-air", "right");
        UntilAtLeast("right.n2", 21, 60);
        Set("throttle-right", "idle");
        Until("right.generator", 120);
        UntilAtLeast("right.n2", 65, 60);
    }

    public Bench Set(string control, string to) => Give(new RunCommand(Machine.StepIndex, CommandKind.Set, control, to));

    public Bench Dial(string control, double to) => Give(new RunCommand(Machine.StepIndex, CommandKind.Set, control, null, to));

    public Bench Hold(string control, string to) => Give(new RunCommand(Machine.StepIndex, CommandKind.Hold, control, to));

    public Bench Release(string control) => Give(new RunCommand(Machine.StepIndex, CommandKind.Release, control));

    private Bench Give(RunCommand command)
    {
        Machine.Apply(command);
        LastCommandS = Machine.Time;
        return Run(0.02);
    }

    public Bench Run(double seconds)
    {
        var until = Machine.StepIndex + (long)Math.Round(seconds / Steps.Seconds);
        while (Machine.StepIndex < until)
        {
            Machine.Step();
        }

        return this;
    }

    /// <summary>Runs until a flag is set; fails after the time given. Returns the time.</summary>
    public double Until(string flag, double within) => UntilAtLeast(flag, 0.5, within);

    public double UntilAtLeast(string signal, double level, double within)
    {
        var limit = Machine.Time + within;
        while (Machine[signal] < level)
        {
            Assert.True(Machine.Time < limit, $"{signal} is {Machine[signal]} after {within} s, not {level}");
            Machine.Step();
        }

        return Machine.Time;
    }
}
