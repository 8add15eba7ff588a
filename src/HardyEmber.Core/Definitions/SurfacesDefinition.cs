namespace HardyEmber.Core.Definitions;

/// <summary>What moves outside: surfaces that follow stick and pedals, and parts that go out and in.</summary>
/// <param name="Sweep">Condition: stick and pedals are led round their corners.</param>
/// <param name="WarmsCPerS">How much the fluid warms while all of them swing, °C/s.</param>
/// <param name="ColdC">Colder, the fluid is too stiff for a self-test, °C.</param>
/// <param name="StiffC">Colder, everything moves slower, down to a third at 40 °C less.</param>
/// <param name="Pumped">Condition: a pump moves the fluid, which warms it by and by.</param>
public sealed record SurfacesDefinition(string Sweep, string Pumped, double WarmsCPerS, double ColdC, double StiffC, IReadOnlyList<SurfaceDefinition> Items)
{
    /// <summary>What else draws on the pumps, where anything does.</summary>
    public UtilityDefinition? Utility { get; init; }
}

/// <summary>Gear, brakes and flaps: their valves draw, whether anything moves or not.</summary>
/// <param name="On">Condition: they are fed.</param>
/// <param name="Draw">What they take, as a share of what one pump gives at idle.</param>
public sealed record UtilityDefinition(string On, [property: Between(0, 2)] double Draw);

/// <summary>One of them.</summary>
public sealed record SurfaceDefinition
{
    public required string Id { get; init; }
    public required string Label { get; init; }

    /// <summary>Side on which it is drawn: left, right, or none for the middle.</summary>
    public string? Side { get; init; }

    /// <summary>Condition: it has the pressure to move.</summary>
    public required string Moves { get; init; }

    /// <summary>From one end to the other at full rate, s.</summary>
    public required double Seconds { get; init; }

    /// <summary>It swings with stick or pedals: pitch, roll or yaw.</summary>
    public string? Axis { get; init; }

    /// <summary>Condition under which it rightly stays where it is in a sweep: ailerons of folded wings.</summary>
    public string? Still { get; init; }

    /// <summary>Or it goes where a control stands: its positions, each with how far out, 0 to 100 %.</summary>
    public string? Control { get; init; }

    /// <inheritdoc cref="Control"/>
    public IReadOnlyDictionary<string, double> At { get; init; } = new Dictionary<string, double>();

    /// <summary>Condition that takes its power: what runs away is stopped by it.</summary>
    public string? Cut { get; init; }
}
