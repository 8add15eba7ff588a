using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>
/// A run being flown or replayed: the machine, the procedure's tracker and the judge, stepped together. A live run and
/// its debrief are the same code on the same log, so they cannot disagree.
/// </summary>
public sealed class Rehearsal
{
    private readonly Fleet _fleet;

    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    /// <param name="coarse">For an estimate: see <see cref="Machine.Coarse"/>.</param>
    public Rehearsal(Fleet fleet, RunHeader header, bool coarse = false)
    {
        _fleet = fleet ?? throw new ArgumentNullException(nameof(fleet));
        var procedure = fleet.ProcedureFor(header);
        Machine = fleet.Build(header, coarse);
        Tracker = new ProcedureTracker(procedure, Machine);
        Judge = new Judge(Machine, Tracker, fleet.Faults);
        Starts = new StartRecorder(Machine);
        Flight = header.Flight is { } flight ? new FlightSeen(Machine, flight) : null;
    }

    public Machine Machine { get; }

    /// <summary>The data that it rests on.</summary>
    public DataVersion Data => _fleet.VersionFor(Machine.Header.Aircraft, Machine.Header.Place);

    /// <summary>Its header with what it rests on: the data, the physics, and the faults that were drawn.</summary>
    public RunHeader AsFlown => Machine.Header with
    {
        Data = Data.Digest,
        Physics = Physics.Version,
        Drawn = Machine.Header.Surprises > 0 ? [.. Machine.Faults.Skip(Machine.Header.Faults.Count)] : null,
    };

    public ProcedureTracker Tracker { get; }
    public Judge Judge { get; }

    /// <summary>The card of every attempt to start an engine.</summary>
    public StartRecorder Starts { get; }

    /// <summary>Its flight; null on the ground.</summary>
    public FlightSeen? Flight { get; }

    /// <summary>Applies a command at the present step.</summary>
    /// <exception cref="CommandException">It cannot be obeyed; nothing was changed.</exception>
    public void Apply(RunCommand command)
    {
        Machine.Check(command);
        Judge.Hear(command);
        Machine.Obey(command);
        Tracker.Update(Machine.Time);
    }

    /// <summary>The judgement as the run stands now; of a flight with what only a flight ahead can tell.</summary>
    public Judgement Conclude() => Judge.Conclude(Flight is null ? null : FlightFindings.Of(_fleet, Machine, Flight));

    /// <summary>The judgement for who looks at the run as it stands: of one that goes on, only what its pilot may know.</summary>
    public Judgement ToShow() => Machine.Ended ? Conclude() : Judge.SoFar();

    /// <summary>Advances 20 ms; tracker and judge look with the slow tick.</summary>
    public void Step()
    {
        Machine.Step();
        if (Machine.StepIndex % Steps.PerTick == 1)
        {
            Tracker.Update(Machine.Time);
            Judge.Look();
            Starts.Look();
            Flight?.Look();
        }
    }

    /// <summary>Steps until just before <paramref name="step"/>.</summary>
    public void AdvanceTo(long step)
    {
        while (Machine.StepIndex < step)
        {
            Step();
        }
    }

    /// <summary>Replays a log to its last command, or to <paramref name="untilStep"/> where that is later.</summary>
    /// <param name="sample">Called before every fifth step (10 Hz), to record a trajectory.</param>
    /// <param name="damage">Where given, takes the first command that cannot be obeyed, and the replay ends there instead of failing.</param>
    /// <param name="cancel">Nobody waits for it any more.</param>
    /// <exception cref="RunFileException">A command cannot be obeyed; its line in the run's file is named.</exception>
    /// <exception cref="OperationCanceledException">It was cancelled.</exception>
    public static Rehearsal Replay(Fleet fleet, RunLog run, long untilStep = 0, Action<Machine>? sample = null, ICollection<RunFileException>? damage = null,
        CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(run);
        Rehearsal rehearsal;
        try
        {
            rehearsal = new Rehearsal(fleet, run.Header);
        }
        catch (FormatException e)
        {
            var colon = e.Message.IndexOf(": ", StringComparison.Ordinal);
            throw colon > 0 ? new RunFileException(1, e.Message[..colon], e.Message[(colon + 2)..]) : new RunFileException(1, "header", e.Message);
        }

        var machine = rehearsal.Machine;
        for (var i = 0; i <= run.Commands.Count; i++)
        {
            var until = i < run.Commands.Count ? run.Commands[i].Step : Math.Max(untilStep, machine.StepIndex);
            while (machine.StepIndex < until)
            {
                if (machine.StepIndex % 5 == 0)
                {
                    cancel.ThrowIfCancellationRequested();
                    sample?.Invoke(machine);
                }

                rehearsal.Step();
            }

            if (i == run.Commands.Count)
            {
                break;
            }

            try
            {
                foreach (var command in FormerNames.Today(machine.Aircraft, run.Commands[i]))
                {
                    rehearsal.Apply(command);
                }
            }
            catch (CommandException e)
            {
                var bad = new RunFileException(i + 2 + (run.Data?.Files.Count ?? 0), e.Field, e.Message);
                if (damage is null)
                {
                    throw bad;
                }

                damage.Add(bad);
                break;
            }
        }

        return rehearsal;
    }
}
