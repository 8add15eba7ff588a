namespace HardyEmber.Core.Simulation;

public enum CommandKind
{
    /// <summary>Move a control to a position, or dial a number.</summary>
    Set,

    /// <summary>Hold a sprung position.</summary>
    Hold,

    /// <summary>Let a held control go.</summary>
    Release,

    /// <summary>Look at a control, signal or lamp and confirm it.</summary>
    Look,

    /// <summary>Report a fault by its code, with the engine or part it is in.</summary>
    Report,

    /// <summary>The run is over.</summary>
    End,
}

/// <summary>One entry of the command log.</summary>
/// <param name="Step">The 20 ms step before which it is applied.</param>
/// <param name="Target">Control; for a look any signal; for a report the fault's code; empty for the end.</param>
/// <param name="Position">Named position, where the control has them; for a report the engine or part.</param>
/// <param name="Number">Dialled number, for a dial.</param>
public sealed record RunCommand(long Step, CommandKind Kind, string Target = "", string? Position = null, double? Number = null)
{
    /// <summary>Seconds since the beginning of the run.</summary>
    public double Time => Math.Round(Step * Steps.Seconds, 2);
}

/// <summary>A command that cannot be obeyed; nothing was changed. <see cref="Field"/> names what is wrong with it.</summary>
public sealed class CommandException(string field, string message) : Exception(message)
{
    public string Field { get; } = field;
}
