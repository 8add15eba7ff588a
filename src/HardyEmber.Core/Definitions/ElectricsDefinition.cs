namespace HardyEmber.Core.Definitions;

/// <summary>Sources, buses and loads. Feeds name sources by <c>battery</c>, <c>source.ID</c>, <c>inverter.ID</c>, <c>gen.SIDE</c>, <c>gen.aux</c> or an earlier bus.</summary>
public sealed record ElectricsDefinition(IReadOnlyList<BusDefinition> Buses, IReadOnlyList<LoadDefinition> Loads)
{
    public BatteryDefinition? Battery { get; init; }

    /// <summary>What is let through to the buses, and when what fell out comes back.</summary>
    public required GuardDefinition Guard { get; init; }
    public IReadOnlyList<SourceDefinition> Sources { get; init; } = [];
    public IReadOnlyList<InverterDefinition> Inverters { get; init; } = [];

    /// <summary>What leaves when the generators have too much; none in older data.</summary>
    public ShedDefinition? Shed { get; init; }
}

/// <param name="Order">Loads, by their ids, the first to leave first.</param>
/// <param name="AfterS">A generator overloaded for so long sheds the next of them by itself; missing where only the pilot does.</param>
public sealed record ShedDefinition(IReadOnlyList<string> Order, double? AfterS = null);

/// <param name="ResistanceOhm">Internal resistance at 20 °C, full charge.</param>
/// <param name="DropOutV">Contactors fall out below this voltage.</param>
/// <param name="AttemptW">What one start attempt draws from it, watts.</param>
/// <param name="AttemptS">How long one start attempt draws it, seconds.</param>
/// <param name="Peukert">Peukert's exponent: what is drawn faster than in an hour takes more charge than it gives, I·(I/I₁ₕ)^(k − 1).</param>
/// <param name="RestS">Time between two attempts, in which it goes on carrying what is on, seconds.</param>
public sealed record BatteryDefinition(double NominalV, double CapacityAh, double ResistanceOhm, double ChargeLimitA, double DropOutV, double AttemptW, double AttemptS,
    double RestS = 0, double Peukert = 1)
{
    /// <summary>Voltage under its starter below which an attempt does not bring the core to its fuel, V; the drop-out where nothing is said.</summary>
    public double? AttemptV { get; init; }
}

/// <param name="LowestPerUnit">Lowest voltage of a source or generator that is let through, as a share of what it should be.</param>
/// <param name="HighestPerUnit">The highest.</param>
/// <param name="ReturnV">What fell out for low volts comes back so much above that mark, V.</param>
public sealed record GuardDefinition(double LowestPerUnit, double HighestPerUnit, double ReturnV);

/// <summary>A source outside the aircraft, such as a ground cart.</summary>
/// <param name="Volts">Its voltage, regulated, at no load.</param>
/// <param name="SagPerUnit">How far it sags at rated power, as a share of that.</param>
/// <param name="Present">Condition: it is plugged in and runs.</param>
public sealed record SourceDefinition(string Id, string Label, double Volts, double RatedW, double SagPerUnit, string Present);

/// <summary>Makes alternating from direct current.</summary>
/// <param name="Bus">The bus it draws from.</param>
/// <param name="CutOutV">It drops out below this voltage of its bus.</param>
public sealed record InverterDefinition(string Id, string Label, string Bus, double Volts, double RatedW, double Efficiency, double CutOutV, string When);

/// <param name="Volts">Voltage when fed by a machine (a rectifier or a generator); a battery gives its own.</param>
/// <param name="Feeds">Where it is fed from, in order of priority.</param>
/// <param name="Parallel">Its generators carry it together, by their ratings.</param>
public sealed record BusDefinition(string Id, string Label, double Volts, IReadOnlyList<FeedDefinition> Feeds, bool Parallel = false);

public sealed record FeedDefinition(string From, string? When = null);

/// <param name="MinV">It drops out below this voltage of its bus; 0 where it does not mind.</param>
public sealed record LoadDefinition(string Id, string Label, string Bus, double Watts, string? When = null, double MinV = 0);
