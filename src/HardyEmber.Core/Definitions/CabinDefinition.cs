namespace HardyEmber.Core.Definitions;

/// <param name="On">Condition: its switch is on.</param>
/// <param name="TripC">Hotter, its boxes trip.</param>
/// <param name="RiseC">How much warmer than the air it becomes with all boxes on and no cooling.</param>
/// <param name="TimeConstantS">How it follows, first order.</param>
/// <param name="CooledShare">Cooled, it follows so much quicker.</param>
/// <param name="BackC">A tripped bay comes back so much cooler: not at the first dip.</param>
public sealed record CoolingDefinition(string On, double TripC, double RiseC, double TimeConstantS, double CooledShare, double BackC)
{
    /// <summary>The first word of its signals.</summary>
    public string Id { get; init; } = TaskDefinition.FirstBay;
    public string Label { get; init; } = "Avionics bay";

    /// <summary>A fan drives its air, and may die. One without is blown by the cabin's outflow.</summary>
    public bool Fan { get; init; }
}

/// <summary>Where the pilot sits: air, warmth and pressure.</summary>
/// <param name="Shut">Condition: every canopy is shut.</param>
/// <param name="Air">Condition: the pilot lets bleed air in.</param>
/// <param name="HoldsPsi">Pressure over the outside's that a sound seal holds on the ground, psi.</param>
/// <param name="LeastPsi">What must be seen of it: with less it does not seal, psi.</param>
/// <param name="BuildS">Seconds until it stands there.</param>
/// <param name="TimeConstantS">How its warmth follows with bleed air in and the canopy shut, first order.</param>
public sealed record CabinDefinition(string Shut, string Air, double HoldsPsi, double LeastPsi, double BuildS, double TimeConstantS);

/// <summary>What the mask gives: from a bottle, or from a generator, which has no end.</summary>
/// <param name="Flows">Condition: it is let into the mask.</param>
/// <param name="Shut">Condition: every canopy is shut, so that the mask is what there is to breathe.</param>
public sealed record OxygenDefinition(string Flows, string Shut)
{
    /// <summary>Condition: undiluted, which takes twice as much.</summary>
    public string? Pure { get; init; }

    /// <summary>Pressure of a full bottle, and below which its alarm comes, psi; none for a generator.</summary>
    public double? FullPsi { get; init; }

    /// <inheritdoc cref="FullPsi"/>
    public double LowPsi { get; init; }

    /// <summary>How long a full bottle lasts, minutes.</summary>
    public double Minutes { get; init; } = 240;
}
