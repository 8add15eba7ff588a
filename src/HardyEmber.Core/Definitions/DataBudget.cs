namespace HardyEmber.Core.Definitions;

/// <summary>Data are larger, deeper or more work than <see cref="DataLimits"/> allow.</summary>
/// <param name="at">Where that was seen.</param>
public sealed class DataLimitException(JsonTree at, string problem) : Exception(problem)
{
    public JsonTree At { get; } = at;
}

/// <summary>What putting the parts into one file may cost, and whether anybody still waits for it.</summary>
internal sealed class DataBudget(CancellationToken cancel)
{
    private const int LookEvery = 4096;
    private int _spent, _looked;

    /// <exception cref="DataLimitException">It is more than one file may cost.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits any more.</exception>
    public void Spend(int work, JsonTree at)
    {
        _spent = (int)Math.Min((long)_spent + work, int.MaxValue);
        if (_spent > DataLimits.MostWork)
        {
            throw new DataLimitException(at, $"the parts of this file come to more than {DataLimits.MostWork:N0} values; use fewer, or in fewer turns");
        }

        if (_spent - _looked >= LookEvery)
        {
            _looked = _spent;
            cancel.ThrowIfCancellationRequested();
        }
    }
}
