using System.Runtime.CompilerServices;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// The places where a fault can take hold of the machine: named factors that the systems read each step.
/// A fault (data, see <see cref="Definitions.FaultDefinition"/>) sets one input to a value from its onset on.
/// </summary>
public sealed class FaultInputs : INameKeeper
{
    private readonly Dictionary<string, int> _byName;
    private readonly bool _shared;
    private int _count;
    private double[] _values;

    /// <param name="like">The inputs of another machine of the same aircraft: their names are shared, the values are its own.</param>
    public FaultInputs(FaultInputs? like = null)
    {
        _shared = like is not null;
        _byName = like?._byName ?? new(StringComparer.Ordinal);
        _values = new double[like?._count ?? 32];
    }

    public double[] Values => _values;

    bool INameKeeper.KnowsNames => _shared;

    /// <summary>Registers an input with its healthy value and returns its index.</summary>
    public int Add(string name, double healthy) => Register(name, healthy);

    /// <inheritdoc cref="Add(string,double)"/>
    public int Add([InterpolatedStringHandlerArgument("")] ref NewName name, double healthy) => Register(name.Take(), healthy);

    private int Register(string? name, double healthy)
    {
        var index = _count++;
        if (!_shared)
        {
            _byName.Add(name!, index);
            if (index >= _values.Length)
            {
                Array.Resize(ref _values, _values.Length * 2);
            }
        }
        else if (index >= _byName.Count || name is not null && Find(name) != index)
        {
            throw new InvalidOperationException($"the fault input {name} stands elsewhere on another machine of this aircraft");
        }

        _values[index] = healthy;
        return index;
    }

    /// <summary>Index of a named input, or −1.</summary>
    public int Find(string name) => _byName.GetValueOrDefault(name, -1);

    public IReadOnlyCollection<string> Names => _byName.Keys;
}
