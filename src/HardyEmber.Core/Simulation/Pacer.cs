using System.Numerics;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// Keeps the time of the parts: which of them looks at a tick, and since when each has to integrate. In a fine machine every
/// part that is not asleep looks at every tick; in a coarse one each says how long it can wait. A set of parts is a bit for each.
/// </summary>
internal sealed class Pacer
{
    private const double TickSeconds = Steps.Seconds * Steps.PerTick;
    private const long LongestTicks = (long)(MachineSystem.Drifting / TickSeconds + 0.5);
    private const long LongestSteps = LongestTicks * Steps.PerTick;
    private readonly MachineSystem[] _systems;
    private readonly long[] _slowAt, _dueAt;
    private readonly ulong _all;
    private ulong _next;

    public Pacer(MachineSystem[] systems)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(systems.Length, 64);
        (_systems, _slowAt, _dueAt) = (systems, new long[systems.Length], new long[systems.Length]);
        _all = ulong.MaxValue >> (64 - systems.Length);
    }

    /// <summary>Something has changed since the last tick: everybody looks at the next.</summary>
    public bool Woken { get; private set; } = true;

    /// <summary>The next step at which a part wants to look; no tick after it comes before it has.</summary>
    public long NextTick { get; private set; }

    /// <summary>The parts that look at this tick.</summary>
    public ulong Due(long step) => Woken ? _all : step >= NextTick ? _next : 0;

    /// <summary>The first part of a set, which is taken out of it.</summary>
    public static int Take(ref ulong set)
    {
        var first = BitOperations.TrailingZeroCount(set);
        set &= set - 1;
        return first;
    }

    /// <summary>Brings whoever has lagged behind up to a step; at the next tick everybody looks.</summary>
    public void Wake(long until)
    {
        Woken = true;
        for (var i = 0; i < _systems.Length; i++)
        {
            var behind = until - _slowAt[i];
            if (behind > 0)
            {
                _slowAt[i] = until;
                if (_systems[i].PaceS < MachineSystem.Asleep)
                {
                    _systems[i].Slow(behind * Steps.Seconds);
                }
            }
        }
    }

    /// <summary>Lets the parts that are due integrate up to this tick, and asks each when it wants to look again.</summary>
    public void Slow(long step, bool coarse)
    {
        // Those with time look together.
        var boundary = step / LongestSteps * LongestSteps + LongestSteps;
        for (var due = Due(step); due != 0;)
        {
            var i = Take(ref due);
            var system = _systems[i];
            system.Slow((step - _slowAt[i]) * Steps.Seconds);
            _slowAt[i] = step;
            var ticks = coarse ? (long)Math.Clamp(system.PaceS / TickSeconds + 1e-6, 1, LongestTicks) : 1;
            _dueAt[i] = system.PaceS >= MachineSystem.Asleep ? long.MaxValue : ticks < LongestTicks ? step + ticks * Steps.PerTick : boundary;
        }

        Woken = false;
        var next = boundary;
        foreach (var at in _dueAt)
        {
            next = Math.Min(next, at);
        }

        NextTick = next;
        _next = 0;
        for (var i = 0; i < _dueAt.Length; i++)
        {
            _next |= (_dueAt[i] <= next ? 1UL : 0) << i;
        }
    }
}
