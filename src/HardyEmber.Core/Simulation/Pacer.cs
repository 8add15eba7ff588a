namespace HardyEmber.Core.Simulation;

/// <summary>
/// Keeps the time of the parts: which of them looks at a tick, and since when each has to integrate. In a fine machine every
/// part that is not asleep looks at every tick; in a coarse one each says how long it can wait.
/// </summary>
internal sealed class Pacer(MachineSystem[] systems)
{
    private const double TickSeconds = Machine.StepSeconds * Machine.SlowEvery;
    private const long LongestTicks = (long)(MachineSystem.Drifting / TickSeconds + 0.5);
    private const long LongestSteps = LongestTicks * Machine.SlowEvery;
    private readonly long[] _slowAt = new long[systems.Length], _dueAt = new long[systems.Length];

    /// <summary>Something has changed since the last tick: everybody looks at the next.</summary>
    public bool Woken { get; private set; } = true;

    /// <summary>The next step at which a part wants to look.</summary>
    public long NextTick { get; private set; }

    /// <summary>Whether a part looks at this tick.</summary>
    public bool Due(int system, long step) => Woken || step >= _dueAt[system];

    /// <summary>Brings whoever has lagged behind up to a step; at the next tick everybody looks.</summary>
    public void Wake(long until)
    {
        Woken = true;
        for (var i = 0; i < systems.Length; i++)
        {
            var behind = until - _slowAt[i];
            if (behind > 0)
            {
                _slowAt[i] = until;
                if (systems[i].PaceS < MachineSystem.Asleep)
                {
                    systems[i].Slow(behind * Machine.StepSeconds);
                }
            }
        }
    }

    /// <summary>Lets the parts that are due integrate up to this tick, and asks each when it wants to look again.</summary>
    public void Slow(long step, bool coarse)
    {
        // Those with time look together.
        var boundary = step / LongestSteps * LongestSteps + LongestSteps;
        NextTick = boundary;
        for (var i = 0; i < systems.Length; i++)
        {
            if (Due(i, step))
            {
                var system = systems[i];
                system.Slow((step - _slowAt[i]) * Machine.StepSeconds);
                _slowAt[i] = step;
                var ticks = coarse ? (long)Math.Clamp(system.PaceS / TickSeconds + 1e-6, 1, LongestTicks) : 1;
                _dueAt[i] = system.PaceS >= MachineSystem.Asleep ? long.MaxValue : ticks < LongestTicks ? step + ticks * Machine.SlowEvery : boundary;
            }

            NextTick = Math.Min(NextTick, _dueAt[i]);
        }

        Woken = false;
    }
}
