using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Takes loads off overloaded generators in the order that the type's file gives, one at a time, and gives them back in reverse
/// once there is room. Where the file says that only the pilot does, the order is advice.
/// </summary>
public sealed class Shedding
{
    /// <summary>There is room for a load where everything would stay below this share of the ratings.</summary>
    private const double RoomBelow = 0.92;

    /// <summary>What is given back waits so much longer than what is taken.</summary>
    private const double BackAfter = 2;

    private readonly ShedDefinition _d;
    private readonly Generator[] _generators;
    private readonly int[] _shedSignals;
    private readonly int _count;
    private Load[] _order = [];
    private double _clock;
    private int _shed;
    private double[] _v = [];

    public Shedding(MachineContext context, ShedDefinition definition, Generator[] generators)
    {
        (_d, _generators) = (definition, generators);
        _shedSignals = [.. _d.Order.Select(id => context.Signals.AddFlag($"load.{id}.shed"))];
        _count = context.Signals.AddNumber("electrics.shed", "", 1);
    }

    /// <summary>What a pilot is told to take off first.</summary>
    public string Advice => $"Take loads off: {string.Join(", ", _order.Take(3).Select(l => l.Label.ToLowerInvariant()))}; or bring another source on line.";

    /// <exception cref="FormatException">The order names a load that there is not.</exception>
    public void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _order = [.. _d.Order.Select((id, i) => context.Loads.FirstOrDefault(l => l.Id == id)
            ?? throw new FormatException($"electrics.shed.order[{i}]: there is no load \"{id}\"{Nearest.Hint(id, context.Loads.Select(l => l.Id))}"))];
        foreach (var load in context.Explains ? _order : [])
        {
            context.Gate($"load.{load.Id}.shed", GateKind.Goes, "electrics.shed", $"{load.Label}: taken off an overloaded generator", Term.All(),
                "It comes back when the generators have room: take other loads off, or bring another on line.");
        }
    }

    /// <summary>When it may act next, s.</summary>
    public double NextS => _d.AfterS is { } after ? AnyOver ? Math.Max(0, after - _clock) : _shed > 0 ? Math.Max(0, BackAfter * after - _clock) : double.PositiveInfinity
        : double.PositiveInfinity;

    private bool AnyOver
    {
        get
        {
            foreach (var generator in _generators)
            {
                if (generator.Over)
                {
                    return true;
                }
            }

            return false;
        }
    }

    /// <returns>A load was taken off or given back.</returns>
    public bool Slow(double dt)
    {
        if (_d.AfterS is not { } after)
        {
            return false;
        }

        var over = AnyOver;
        var before = _shed;
        _clock = over || _shed > 0 ? _clock + dt : 0;
        if (over && _clock >= after)
        {
            _clock = 0;
            TakeOff();
        }
        else if (!over && _shed > 0 && _clock >= BackAfter * after && Room(_order[_shed - 1]))
        {
            _clock = 0;
            _shed--;
            Mark(_shed, false);
        }

        _v[_count] = _shed;
        return _shed != before;
    }

    // What is off anyway brings nothing: it goes with the next that does.
    private void TakeOff()
    {
        for (var gained = false; !gained && _shed < _order.Length; _shed++)
        {
            gained = _order[_shed].Powered;
            Mark(_shed, true);
        }
    }

    private void Mark(int i, bool shed)
    {
        _order[i].Shed = shed;
        _v[_shedSignals[i]] = shed ? 1 : 0;
    }

    private bool Room(Load load)
    {
        var (demandW, ratedW) = (load.Wanted.On ? load.Watts : 0.0, 0.0);
        foreach (var generator in _generators)
        {
            demandW += generator.Online ? generator.DemandW : 0;
            ratedW += generator.Online ? generator.RatedW : 0;
        }

        return demandW <= RoomBelow * ratedW;
    }
}
