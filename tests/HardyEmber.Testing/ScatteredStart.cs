using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Testing;

/// <summary>One start of the set on which the adviser is measured: drawn from its number alone.</summary>
/// <param name="Side">Which engine is looked at; those before it are started by the book.</param>
/// <param name="FuelN2Pct">Where fuel is given; by the book where nothing is said, and where the type gives it by itself.</param>
/// <param name="CutAfterS">A first attempt is cut off so long after its fuel and fuelled again after <paramref name="MotoredS"/> of cranking.</param>
/// <param name="SticksAfterS">The gauge sticks so long after fuel; not at all where nothing is said.</param>
public sealed record ScatteredStart(int Number, RunHeader Header, EngineSideDefinition Side, double? FuelN2Pct, double? CutAfterS, double MotoredS, double? SticksAfterS)
{
    private static readonly string[] Places = ["skerrow-main", "tarn-hollow", "dry-lantern"];

    /// <summary>By the book: no fault, fuel as it is taught, a first attempt.</summary>
    public bool ByTheBook => Header.Faults.Count == 0 && FuelN2Pct is null && CutAfterS is null && SticksAfterS is null;

    public static ScatteredStart Draw(int number)
    {
        var random = new RandomStream(number, "advice");
        var fleet = Repository.Fleet;
        var aircraft = fleet.Aircraft[number % fleet.Aircraft.Count];
        var engine = aircraft.Engine;
        var place = fleet.FindPlace(Places[(int)(random.Next() * Places.Length)]);
        var side = aircraft.Engines[aircraft.Engines.Count > 1 && random.Next() < 0.25 ? 1 : 0];
        var header = Situations.Calm with
        {
            Aircraft = aircraft.Id,
            Place = place.Id,
            Spot = place.Spots[(int)(random.Next() * place.Spots.Count)].Id,
            Seed = number,
            Conditions = new RunConditions(Math.Round(random.Between(-35, 46), 1), Math.Floor(random.Between(0, 360)), Math.Round(random.Between(0, 25), 1)),
        };
        var byHand = engine.FuelOnMaxN2Pct > engine.FuelOnMinN2Pct;
        var (kind, fuel) = (random.Next(), random.Next());
        double? fuelN2 = !byHand || fuel < 0.55 ? null
            : Math.Round(fuel < 0.8 ? random.Between(engine.FuelOnMinN2Pct, engine.FuelOnMaxN2Pct) : random.Between(engine.Gas.LightOffMinN2Pct, engine.FuelOnMinN2Pct), 1);
        double? cut = byHand && kind > 0.85 ? random.Between(0.5, 8) : null;
        double? sticks = kind is > 0.8 and < 0.85 ? random.Between(0, 6) : null;
        var fault = kind > 0.4 ? null : Fault(random, side.Id);
        return new ScatteredStart(number, header with { Faults = fault is null ? [] : [fault] }, side, fuelN2, cut, random.Between(0, 45), sticks);
    }

    private static RunFault Fault(RandomStream random, string engine)
    {
        var which = random.Next();
        RunFault Of(string code, double? level = null) => new(code, code == "weak-air" ? null : engine, 0, level is { } l ? Math.Round(l, 3) : null);
        return which switch
        {
            < 0.26 => Of("rich-control", random.Between(1.05, 1.55)),
            < 0.44 => Of("lean-control", random.Between(0.45, 0.97)),
            < 0.6 => Of("weak-air", random.Between(0.25, 0.97)),
            < 0.74 => Of("inlet-cover", random.Between(0.05, 0.45)),
            < 0.8 => Of("igniter-dead"),
            < 0.86 => Of("starter-drops", random.Between(0.56, 0.94)),
            < 0.91 => Of("starter-sticks"),
            < 0.96 => Of("oil-pump", random.Between(0, 0.5)),
            _ => Of("starter-shaft"),
        };
    }
}
