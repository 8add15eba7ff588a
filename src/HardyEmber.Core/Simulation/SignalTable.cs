using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// Every value that can be read, commanded or lit, in one flat array: controls, measured signals and lamps alike.
/// One table means one way to write conditions, send frames, record telemetry and compare two trajectories.
/// </summary>
public sealed class SignalTable : INameKeeper, IVocabulary
{
    /// <summary>Prefix of the flag that says that the pilot has looked at a control or signal.</summary>
    public const string SeenPrefix = "seen.";

    /// <summary>Prefix of a fault's level, for the conditions of tasks; no instrument shows it.</summary>
    public const string FaultPrefix = "fault.";

    private readonly List<SignalInfo> _infos;
    private readonly Dictionary<string, SignalInfo> _byName;
    private readonly bool _shared;
    private double[] _values;

    /// <param name="like">The table of another machine of the same aircraft: its names are shared, the values are its own.</param>
    public SignalTable(SignalTable? like = null)
    {
        _shared = like is not null;
        _infos = like?._infos ?? [];
        _byName = like?._byName ?? new(StringComparer.Ordinal);
        _values = new double[like?.Count ?? 256];
    }

    /// <summary>Current values by index. The array is only replaced while the machine is being built.</summary>
    public double[] Values => _values;

    public IReadOnlyList<SignalInfo> All => _infos;

    /// <summary>How many have been registered.</summary>
    public int Count { get; private set; }

    IEnumerable<string> IVocabulary.Names => _infos.Select(i => i.Name).Where(n => !n.StartsWith(SeenPrefix, StringComparison.Ordinal));

    public SignalInfo? Find(string name) => _byName.GetValueOrDefault(name);

    bool INameKeeper.KnowsNames => _shared;

    /// <summary>Registers a measured value. <paramref name="quantum"/> is its rounding when shown.</summary>
    public int AddNumber(string name, string unit, double quantum, double value = 0, bool byHand = false, bool hidden = false) =>
        Add(name, SignalKind.Number, unit, quantum, [], value, byHand, hidden);

    /// <inheritdoc cref="AddNumber(string,string,double,double,bool,bool)"/>
    public int AddNumber([InterpolatedStringHandlerArgument("")] ref NewName name, string unit, double quantum, double value = 0, bool hidden = false) =>
        Add(name.Take(), SignalKind.Number, unit, quantum, [], value, byHand: false, hidden);

    public int AddFlag(string name, bool value = false) => Add(name, SignalKind.Flag, "", 1, [], value ? 1 : 0, byHand: false);

    public int AddFlag([InterpolatedStringHandlerArgument("")] ref NewName name, bool value = false) =>
        Add(name.Take(), SignalKind.Flag, "", 1, [], value ? 1 : 0, byHand: false);

    public int AddPositions(string name, IReadOnlyList<string> positions, int value, bool byHand = false) =>
        Add(name, SignalKind.Positions, "", 1, positions, value, byHand);

    public int AddPositions([InterpolatedStringHandlerArgument("")] ref NewName name, IReadOnlyList<string> positions, int value) =>
        Add(name.Take(), SignalKind.Positions, "", 1, positions, value, byHand: false);

    /// <summary>Adds the flag that says whether it was seen to every entry that can be.</summary>
    internal void Close()
    {
        if (_shared)
        {
            var before = _infos.FindIndex(i => i.Name.StartsWith(SeenPrefix, StringComparison.Ordinal));
            if (Count != before)
            {
                throw new InvalidOperationException($"{Count} signals, and {before} on another machine of this aircraft");
            }

            Count = _infos.Count;
            return;
        }

        foreach (var info in _infos.Where(i => !i.Hidden).ToArray())
        {
            Add(SeenPrefix + info.Name, SignalKind.Flag, "", 1, [], 0, byHand: true);
        }
    }

    // A name that is known by its place is not given.
    private int Add(string? name, SignalKind kind, string unit, double quantum, IReadOnlyList<string> positions, double value, bool byHand, bool hidden = false)
    {
        var index = Count++;
        if (_shared)
        {
            if (index >= _infos.Count || _infos[index].Kind != kind || name is not null && _infos[index].Name != name)
            {
                throw new InvalidOperationException($"the signal {name} stands elsewhere on another machine of this aircraft");
            }
        }
        else
        {
            var info = new SignalInfo(index, name!, kind, unit, quantum, positions, byHand, hidden);
            if (!_byName.TryAdd(name!, info))
            {
                throw new FormatException($"the name \"{name}\" is used twice");
            }

            _infos.Add(info);
            if (Count > _values.Length)
            {
                Array.Resize(ref _values, _values.Length * 2);
            }
        }

        _values[index] = value;
        return index;
    }
}
