using System.Runtime.CompilerServices;

namespace HardyEmber.Core.Simulation;

/// <summary>A keeper of names. One that shares those of another machine of the aircraft needs none: the order says them all.</summary>
public interface INameKeeper
{
    bool KnowsNames { get; }
}

/// <summary>
/// A name put together from parts, in the place of a string, and only where its keeper does not know it yet: a machine has
/// some hundred of them, and writing them out again would take a quarter of the time in which it is built.
/// </summary>
[InterpolatedStringHandler]
public ref struct NewName
{
    private DefaultInterpolatedStringHandler _text;

    public NewName(int literalLength, int formattedCount, INameKeeper keeper, out bool isNew)
    {
        ArgumentNullException.ThrowIfNull(keeper);
        isNew = IsNew = !keeper.KnowsNames;
        _text = IsNew ? new DefaultInterpolatedStringHandler(literalLength, formattedCount) : default;
    }

    public bool IsNew { get; }

    public void AppendLiteral(string value) => _text.AppendLiteral(value);

    public void AppendFormatted(string? value) => _text.AppendFormatted(value);

    public void AppendFormatted(int value) => _text.AppendFormatted(value);

    /// <summary>The name; null where it is known.</summary>
    internal string? Take() => IsNew ? _text.ToStringAndClear() : null;
}
