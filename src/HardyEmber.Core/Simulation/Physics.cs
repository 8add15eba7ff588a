namespace HardyEmber.Core.Simulation;

/// <summary>What the code computes, told apart from what the data say.</summary>
public static class Physics
{
    /// <summary>
    /// To be raised whenever the same data and the same commands give another trajectory: an equation, a constant of the code, an order of the step.
    /// A run keeps the version it was flown with. The kept runs of <c>demo/</c> tell when it has been forgotten.
    /// </summary>
    public const int Version = 12;
}
