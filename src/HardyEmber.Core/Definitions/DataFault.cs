namespace HardyEmber.Core.Definitions;

/// <summary>One thing that is wrong in a data file.</summary>
/// <param name="Line">Counted from 1; 0 where it stands nowhere.</param>
/// <param name="At">JSON pointer (RFC 6901) of the value.</param>
/// <param name="Where">The same in the words of the data: names instead of numbers.</param>
public sealed record DataFault(string File, int Line, string At, string Where, string Problem)
{
    public override string ToString() => $"{File}{(Line > 0 ? $":{Line}" : "")}: {(At.Length > 0 ? $"{At}: " : "")}{Problem}";
}

/// <summary>Data files are unsound; every fault that was found is in it.</summary>
public sealed class DataFaultException(IReadOnlyList<DataFault> faults) : FormatException(Text(faults))
{
    public IReadOnlyList<DataFault> Faults { get; } = faults;

    private static string Text(IReadOnlyList<DataFault> faults)
    {
        var first = faults[0];
        return $"{first.File}: {(first.Where.Length > 0 ? $"{first.Where}: " : "")}{first.Problem}"
            + $"{(faults.Count > 1 ? $" (and {faults.Count - 1} more: ./ember check lists them)" : "")}";
    }
}

/// <summary>What is found wrong while something is built from one file, each thing once.</summary>
/// <param name="cancel">Nobody waits for it any more.</param>
public sealed class DataProblems(CancellationToken cancel = default)
{
    /// <summary>How a problem is told that no check foresaw. In the fleet's own data, or in what a test draws, it is a fault of the program.</summary>
    public const string Unforeseen = "what stands here cannot be used, and no check says why";

    private readonly HashSet<(string Where, string Problem)> _known = [];
    private readonly List<(string Where, string Problem)> _found = [];

    public IReadOnlyList<(string Where, string Problem)> Found => _found;

    public void Add(string where, string problem)
    {
        cancel.ThrowIfCancellationRequested();
        if (_found.Count < DataLimits.MostProblems && _known.Add((where, problem)))
        {
            _found.Add((where, problem));
        }
    }

    /// <summary>Does what may throw: a message "where: what is wrong" becomes a problem.</summary>
    public void Try(Action check)
    {
        ArgumentNullException.ThrowIfNull(check);
        cancel.ThrowIfCancellationRequested();
        try
        {
            check();
        }
        catch (FormatException e)
        {
            var colon = e.Message.IndexOf(": ", StringComparison.Ordinal);
            Add(colon > 0 ? e.Message[..colon] : "", e.Message[(colon > 0 ? colon + 2 : 0)..]);
        }
#pragma warning disable CA1031 // data that a run carries may be anything, and what nobody has thought of must not be an error of the server
        catch (Exception e) when (e is not (OperationCanceledException or OutOfMemoryException))
#pragma warning restore CA1031
        {
            Add("", $"{Unforeseen} ({e.GetType().Name} in {e.TargetSite?.DeclaringType?.Name}.{e.TargetSite?.Name})");
        }
    }
}
