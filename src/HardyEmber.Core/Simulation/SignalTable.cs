namespace HardyEmber.Core.Simulation;

public enum SignalKind
{
    /// <summary>A measured value with a unit.</summary>
    Number,

    /// <summary>Yes or no, stored as 1 or 0.</summary>
    Flag,

    /// <summary>A control with named positions, stored as the position's index.</summary>
    Positions,
}

/// <summary>One entry of the signal table.</summary>
/// <param name="Index">Its place in <see cref="SignalTable.Values"/>.</param>
/// <param name="Name">Unique name, e.g. <c>right.n2</c>.</param>
/// <param name="Unit">Unit of the stored value as shown to the pilot; empty where it has none.</param>
/// <param name="Quantum">Step to which the value is rounded when it is sent or exported.</param>
public sealed record SignalInfo(int Index, string Name, SignalKind Kind, string Unit, double Quantum, IReadOnlyList<string> Positions)
{
    /// <summary>Index of a named position, or −1.</summary>
    public int PositionOf(string word)
    {
        for (var i = 0; i < Positions.Count; i++)
        {
            if (Positions[i] == word)
            {
                return i;
            }
        }

        return -1;
    }
}

/// <summary>
/// Every value that can be read, commanded or lit, in one flat array: controls, measured signals and lamps alike.
/// One table means one way to write conditions, send frames, record telemetry and compare two trajectories.
/// </summary>
public sealed class SignalTable
{
    /// <summary>Prefix of the flag that says that the pilot has looked at a control or signal.</summary>
    public const string SeenPrefix = "seen.";

    private readonly List<SignalInfo> _infos = [];
    private readonly Dictionary<string, SignalInfo> _byName = new(StringComparer.Ordinal);
    private double[] _values = new double[256];

    /// <summary>Current values by index. The array is only replaced while the machine is being built.</summary>
    public double[] Values => _values;

    public IReadOnlyList<SignalInfo> All => _infos;

    public int Count => _infos.Count;

    public SignalInfo? Find(string name) => _byName.GetValueOrDefault(name);

    /// <summary>Registers a measured value. <paramref name="quantum"/> is its rounding when shown.</summary>
    public int AddNumber(string name, string unit, double quantum, double value = 0) =>
        Add(name, SignalKind.Number, unit, quantum, [], value);

    public int AddFlag(string name, bool value = false) => Add(name, SignalKind.Flag, "", 1, [], value ? 1 : 0);

    public int AddPositions(string name, IReadOnlyList<string> positions, int value) =>
        Add(name, SignalKind.Positions, "", 1, positions, value);

    private int Add(string name, SignalKind kind, string unit, double quantum, IReadOnlyList<string> positions, double value)
    {
        var info = new SignalInfo(_infos.Count, name, kind, unit, quantum, positions);
        if (!_byName.TryAdd(name, info))
        {
            throw new FormatException($"the name \"{name}\" is used twice");
        }

        _infos.Add(info);
        if (_infos.Count > _values.Length)
        {
            Array.Resize(ref _values, _values.Length * 2);
        }

        _values[info.Index] = value;
        return info.Index;
    }
}
