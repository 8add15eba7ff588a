namespace HardyEmber.Core.Definitions;

/// <summary>A field or ship as read from <c>fleet/places/*.json</c>.</summary>
public sealed record PlaceDefinition
{
    public required string Format { get; init; }
    public required int Version { get; init; }
    public required string Id { get; init; }
    public required string Name { get; init; }
    public required double LatitudeDeg { get; init; }
    public required double LongitudeDeg { get; init; }
    public required double ElevationFt { get; init; }

    /// <summary>Magnetic variation in degrees, west negative.</summary>
    public required double VariationDeg { get; init; }
    public required IReadOnlyList<RunwayDefinition> Runways { get; init; }
    public required IReadOnlyList<SpotDefinition> Spots { get; init; }
    public required double TowerMhz { get; init; }

    /// <summary>Channel of the range beacon.</summary>
    public int RangeBeacon { get; init; }

    /// <summary>Frequency of the landing aid, where it has one.</summary>
    public double LandingAidMhz { get; init; }

    /// <summary>The two beacons of its approach, where it has them.</summary>
    public BeaconsDefinition? BeaconsKhz { get; init; }

    /// <summary>The runway with the most wind from ahead; null where there is none.</summary>
    /// <param name="windFromDeg">True.</param>
    public RunwayDefinition? RunwayFor(double windFromDeg) => Runways.MaxBy(r => Math.Cos((windFromDeg - r.TrueHeadingDeg) * Math.PI / 180));

    /// <summary>It is a ship under way.</summary>
    public ShipDefinition? Ship { get; init; }

    /// <summary>The weather offered first.</summary>
    public required WeatherDefinition Usual { get; init; }
}

/// <summary>Frequencies of two beacons that know no direction, kHz.</summary>
public sealed record BeaconsDefinition(double Outer, double Inner);

public sealed record RunwayDefinition(string Id, double TrueHeadingDeg, double LengthFt)
{
    /// <summary>What its number says, degrees magnetic; 0 where its name is no number.</summary>
    public int NumberDeg => int.TryParse(Id, out var number) ? number * 10 : 0;
}

/// <param name="CourseDeg">True.</param>
public sealed record ShipDefinition([property: Between(0, 360)] double CourseDeg, [property: Between(0, 40)] double SpeedKt);

/// <param name="HeadingDeg">True heading of a parked jet's nose.</param>
public sealed record SpotDefinition(string Id, double LatitudeDeg, double LongitudeDeg, double HeadingDeg);

public sealed record WeatherDefinition(double OatC, double QnhHpa, double WindFromDeg, double WindKt);
