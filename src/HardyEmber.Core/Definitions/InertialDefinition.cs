namespace HardyEmber.Core.Definitions;

/// <summary>An inertial set, or what the type has in its place.</summary>
public sealed record InertialDefinition
{
    public required string Selector { get; init; }
    public required string Bus { get; init; }
    public required double Watts { get; init; }
    public required double HoldUpS { get; init; }

    /// <summary>Minutes of a field alignment at 45° latitude, 15 °C.</summary>
    public required double FieldMinutes { get; init; }
    public required double WarmUpS { get; init; }
    public required double LevelS { get; init; }

    /// <summary>Heading error at the start of gyrocompassing, degrees, 1 sigma.</summary>
    public required double InitialHeadingDeg { get; init; }

    /// <summary>East gyro drift, degrees per hour.</summary>
    public required double GyroDriftDegPerH { get; init; }

    /// <summary>The certainty from which its heading is good, % (see <see cref="Systems.Alignment.CertaintyPct"/>).</summary>
    [Between(50, 99)]
    public required double GoodCertaintyPct { get; init; }

    /// <summary>The leg that is planned where the header plans none.</summary>
    public LegHeader Leg { get; init; } = new(150, 30, 1);

    /// <summary>The control by which its start position is entered; one without takes the spot's by itself.</summary>
    public string? Position { get; init; }

    /// <summary>A position shown so far off the spot is wrong, NM; of a set that is told where it stands.</summary>
    public double? WrongNm { get; init; }

    /// <summary>Taking the heading of the last shutdown, where it can.</summary>
    public StoredHeadingDefinition? Stored { get; init; }

    /// <summary>The dial that tells a gyro platform its latitude, where it has one: it turns the gyro against the earth.</summary>
    public string? LatitudeDial { get; init; }

    /// <summary>Minutes of an alignment on a ship, where it can.</summary>
    public double? ShipMinutes { get; init; }

    /// <summary>Condition: the ship feeds it with its own motion.</summary>
    public string? Feed { get; init; }

    /// <summary>Condition: satellites may aid it.</summary>
    public string? Aided { get; init; }

    /// <summary>Minutes of an alignment under way by satellites, where it can.</summary>
    public double? InFlightMinutes { get; init; }
}

/// <param name="Take">Condition: the pilot takes it.</param>
/// <param name="WindowS">How long it is offered, from the end of the self-test at the end of the warm-up.</param>
/// <param name="Seconds">The whole alignment by it, s at 15 °C.</param>
/// <param name="HeadingDeg">The error of the stored heading, degrees, 1 sigma.</param>
public sealed record StoredHeadingDefinition(string Take, double WindowS, double Seconds, double HeadingDeg);
