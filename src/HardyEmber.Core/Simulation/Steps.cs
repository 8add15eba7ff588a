namespace HardyEmber.Core.Simulation;

/// <summary>The steps in which time passes: everything fast moves with each, everything slow with the tick.</summary>
public static class Steps
{
    /// <summary>Length of a step, s.</summary>
    public const double Seconds = 0.02;

    /// <summary>Steps from one tick to the next: five ticks a second.</summary>
    public const int PerTick = 10;
}
