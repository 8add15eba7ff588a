namespace HardyEmber.Core.Definitions;

/// <summary>
/// An aircraft as read from <c>fleet/aircraft/*.json</c>: what hands move, what can be read, what lights up, and the
/// parameters of its systems. Texts named "when" or "lit" are conditions (see <see cref="Conditions.ConditionParser"/>).
/// </summary>
public sealed record AircraftDefinition
{
    public required string Format { get; init; }
    public required int Version { get; init; }
    public required string Id { get; init; }
    public required string Name { get; init; }
    public required string Role { get; init; }

    /// <summary>How it starts, in three words or so; nothing in data of former times.</summary>
    public string? StartsBy { get; init; }

    /// <summary>Where a value departs from the design table and why; free text for the hangar.</summary>
    public string Notes { get; init; } = "";
    public required IReadOnlyList<LinkDefinition> Chain { get; init; }

    /// <summary>Link for signals that have no gauge: by the first word of their name, such as crew or fire.</summary>
    public IReadOnlyDictionary<string, string> Families { get; init; } = new Dictionary<string, string>();
    public required IReadOnlyList<ControlDefinition> Controls { get; init; }
    public required IReadOnlyList<GaugeDefinition> Gauges { get; init; }
    public required IReadOnlyList<LampDefinition> Lamps { get; init; }

    /// <summary>Holds while the lamp test is pressed: every powered lamp lights.</summary>
    public required string LampTest { get; init; }

    /// <summary>Holds while the master caution is being acknowledged.</summary>
    public required string Acknowledge { get; init; }
    public required ElectricsDefinition Electrics { get; init; }
    public AuxiliaryUnitDefinition? AuxiliaryUnit { get; init; }
    public required AirDefinition Air { get; init; }
    public required EngineDefinition Engine { get; init; }
    public required IReadOnlyList<EngineSideDefinition> Engines { get; init; }

    /// <summary>Other types of engine than <see cref="Engine"/>, by the name in <see cref="EngineSideDefinition.Type"/>.</summary>
    public IReadOnlyDictionary<string, EngineDefinition> EngineTypes { get; init; } = new Dictionary<string, EngineDefinition>();
    public FireDetectionDefinition? FireDetection { get; init; }

    /// <summary>Where it can burn; its zones are among those of <see cref="FireDetection"/>.</summary>
    public FireDefinition? Fire { get; init; }
    public FuelGaugesDefinition? FuelGauges { get; init; }
    public BrakeAccumulatorDefinition? BrakeAccumulator { get; init; }
    public InertialDefinition? Inertial { get; init; }
    public SightDefinition? Sight { get; init; }
    public CoolingDefinition? Cooling { get; init; }

    /// <summary>Further bays, each with a cooling of its own.</summary>
    public IReadOnlyList<CoolingDefinition> Bays { get; init; } = [];
    public CabinDefinition? Cabin { get; init; }
    public OxygenDefinition? Oxygen { get; init; }

    /// <summary>When a light of the cockpit burns by which it can be read at night; where nothing is said, it always can.</summary>
    public string? CockpitLight { get; init; }
    public SurfacesDefinition? Surfaces { get; init; }

    /// <summary>Boxes, self-tests, keys, fire lines, the words of crew and tower.</summary>
    public required IReadOnlyList<TaskDefinition> Tasks { get; init; }
    public required FlightDefinition Flight { get; init; }
    public required NumbersDefinition Numbers { get; init; }

    /// <summary>Findings of this aircraft; those that all have in common come in when the files are read.</summary>
    public IReadOnlyList<WatchDefinition> Watches { get; init; } = [];

    /// <summary>Positions that controls had in earlier versions of this file: old runs mean what stands here now.</summary>
    public IReadOnlyList<FormerPosition> Formerly { get; init; } = [];

    /// <summary>Its set can be aligned on a moving deck.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool FliesFromShips => Inertial?.ShipMinutes is not null;

    /// <summary>The parameters of one of its engines.</summary>
    /// <exception cref="FormatException">It names a type that the aircraft does not have.</exception>
    public EngineDefinition EngineOf(EngineSideDefinition side)
    {
        ArgumentNullException.ThrowIfNull(side);
        return side.Type is not { } type ? Engine : EngineTypes.TryGetValue(type, out var other) ? other
            : throw new FormatException($"engines.{side.Id}.type: there is no engine type \"{type}\"");
    }

    /// <inheritdoc cref="EngineOf(EngineSideDefinition)"/>
    /// <param name="id">Its name.</param>
    public EngineDefinition EngineOf(string id) => EngineOf(Engines.FirstOrDefault(e => e.Id == id) ?? throw new FormatException($"there is no engine \"{id}\""));
}
