namespace HardyEmber.Core.Simulation;

/// <summary>
/// The places where a fault can take hold of the machine: named factors that the systems read each step.
/// A fault (data, see <see cref="Aircraft.FaultDefinition"/>) sets one input to a value from its onset on.
/// </summary>
public sealed class FaultInputs
{
    private readonly Dictionary<string, int> _byName = new(StringComparer.Ordinal);
    private double[] _values = new double[32];

    public double[] Values => _values;

    /// <summary>Registers an input with its healthy value and returns its index.</summary>
    public int Add(string name, double healthy)
    {
        var index = _byName.Count;
        _byName.Add(name, index);
        if (index >= _values.Length)
        {
            Array.Resize(ref _values, _values.Length * 2);
        }

        _values[index] = healthy;
        return index;
    }

    /// <summary>Index of a named input, or −1.</summary>
    public int Find(string name) => _byName.GetValueOrDefault(name, -1);

    public IEnumerable<string> Names => _byName.Keys;
}
