using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The kinds of parts that an aircraft may have. A new one is a line here and a file beside this.</summary>
public static class Registry
{
    public static IReadOnlyList<SystemKind> Kinds { get; } =
    [
        c => [new Electrics(c)],
        c => c.Aircraft.Engines.Select(e => new EngineBay(c, e)),
        c => Where(c.Aircraft.AuxiliaryUnit, d => new AuxiliaryUnit(c, d)),
        c => [new AirSupply(c)],
        c => Where(c.Aircraft.Air.Bottles, d => new StarterBottles(c, d)),
        c => [new FlightState(c)],
        c => [new StartAttempts(c)],
        c => [new StartAdvisor(c)],
        c => Where(c.Aircraft.Fire, d => new Fires(c, d)),
        c => Where(c.Aircraft.FireDetection, d => new FireDetection(c, d)),
        c => Where(c.Aircraft.Inertial, d => new InertialSet(c, d)),
        c => Where(c.Aircraft.FuelGauges, d => new FuelGauges(c, d)),
        c => Where(c.Aircraft.BrakeAccumulator, d => new BrakeAccumulator(c, d)),
        c => [new Tasks(c)],
        c => Where(c.Aircraft.Sight, d => new HelmetSight(c, d)),
        c => Where(c.Aircraft.Cooling, d => new Cooling(c, d)),
        c => c.Aircraft.Bays.Select(d => new Cooling(c, d)),
        c => Where(c.Aircraft.Cabin, d => new Cabin(c, d)),
        c => Where(c.Aircraft.Oxygen, d => new Oxygen(c, d)),
        c => Where(c.Aircraft.Surfaces, d => new Surfaces(c, d)),
        c => Where(c.Aircraft.CockpitLight, d => new CockpitLight(c, d)),
        c => [new Lamps(c)],
        c => [new ChainLinks(c)],
        c => [new CardSignals(c)],
    ];

    /// <summary>Builds an aircraft in the state the header describes.</summary>
    /// <inheritdoc cref="Machine(AircraftDefinition,PlaceDefinition,FaultCatalog,RunHeader,IEnumerable{SystemKind},DataProblems)"/>
    public static Machine Build(AircraftDefinition aircraft, PlaceDefinition place, FaultCatalog faults, RunHeader header, DataProblems? problems = null, bool coarse = false) =>
        new(aircraft, place, faults, header, Kinds, problems) { Coarse = coarse };

    private static IEnumerable<MachineSystem> Where<T>(T? data, Func<T, MachineSystem> make)
        where T : class => data is null ? [] : [make(data)];
}
