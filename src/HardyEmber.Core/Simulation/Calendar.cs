namespace HardyEmber.Core.Simulation;

/// <summary>
/// Tells what is due: which part looks at a tick, since when each has to integrate, and when the next fault sets in. In a fine
/// machine every part that is not asleep looks at every tick; in a coarse one each says how long it can wait.
/// </summary>
internal sealed class Calendar
{
    private const double TickSeconds = Steps.Seconds * Steps.PerTick;
    private const long LongestTicks = (long)(MachineSystem.Drifting / TickSeconds + 0.5);
    private const long LongestSteps = LongestTicks * Steps.PerTick;
    private readonly MachineSystem[] _systems;
    private readonly int[] _order;
    private readonly FaultSchedule _faults;
    private readonly long[] _slowAt, _dueAt;
    private long _nextTick;

    /// <param name="order">In which order they integrate.</param>
    public Calendar(MachineSystem[] systems, int[] order, FaultSchedule faults) =>
        (_systems, _order, _faults, _slowAt, _dueAt) = (systems, order, faults, new long[systems.Length], new long[systems.Length]);

    /// <summary>Something has changed since the last tick: everybody looks at the next.</summary>
    public bool Woken { get; private set; } = true;

    /// <summary>Somebody looks at this tick.</summary>
    public bool AnyDue(long step) => Woken || step >= _nextTick;

    /// <summary>A part looks at this tick; to be asked where <see cref="AnyDue"/>.</summary>
    public bool IsDue(int system) => Woken || _dueAt[system] <= _nextTick;

    /// <summary>The tick at or after <paramref name="until"/>, or the next before it at which a part or a fault wants to be heard.</summary>
    public long Next(long until) => Math.Min(Math.Min(TickFrom(until), TickFrom(_faults.NextStep)), _nextTick);

    private static long TickFrom(long step) => (step + Steps.PerTick - 1) / Steps.PerTick * Steps.PerTick;

    /// <summary>Brings whoever has lagged behind up to a step; at the next tick everybody looks.</summary>
    public void Wake(long until)
    {
        Woken = true;
        foreach (var i in _order)
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
        if (!AnyDue(step))
        {
            return;
        }

        // Those with time look together.
        var boundary = step / LongestSteps * LongestSteps + LongestSteps;
        var next = boundary;
        foreach (var i in _order)
        {
            if (IsDue(i))
            {
                var system = _systems[i];
                system.Slow((step - _slowAt[i]) * Steps.Seconds);
                _slowAt[i] = step;
                var ticks = coarse ? (long)Math.Clamp(system.PaceS / TickSeconds + 1e-6, 1, LongestTicks) : 1;
                _dueAt[i] = system.PaceS >= MachineSystem.Asleep ? long.MaxValue : ticks < LongestTicks ? step + ticks * Steps.PerTick : boundary;
            }

            next = Math.Min(next, _dueAt[i]);
        }

        (Woken, _nextTick) = (false, next);
    }
}
