using System.Collections;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Api;

/// <summary>
/// The samples of one signal, rounded to what its instrument shows. Kept in small blocks: six hours in one array each would be large
/// objects, and every collection of those stops all live runs for as long as it takes.
/// </summary>
internal sealed class TraceColumn(SignalInfo signal) : IReadOnlyList<double>
{
    private const int Block = 2048;
    private readonly List<int[]> _blocks = [];

    public string Name => signal.Name;
    public int Count { get; private set; }
    public double this[int index] => Math.Round(_blocks[index / Block][index % Block] * signal.Quantum, 3);

    /// <summary>Takes the signal's value of now.</summary>
    public void Look(Machine machine)
    {
        if (Count % Block == 0)
        {
            _blocks.Add(new int[Block]);
        }

        _blocks[^1][Count++ % Block] = (int)Math.Clamp(Math.Round(machine.Signals.Values[signal.Index] / signal.Quantum), int.MinValue, int.MaxValue);
    }

    public IEnumerator<double> GetEnumerator()
    {
        for (var i = 0; i < Count; i++)
        {
            yield return this[i];
        }
    }

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
