using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Testing;

/// <summary>What a type's stores of energy are asked for, by a flight of the guide and by everything that can be switched on.</summary>
public sealed class EnergyOf
{
    private EnergyOf(Machine machine) => Machine = machine;

    public Machine Machine { get; }
    public string Id => Machine.Aircraft.Id;

    /// <summary>What hangs on the battery when the first start's energy is about to be asked for, W; and when that is, s.</summary>
    public double FirstPowerW { get; private set; }
    public double FirstPowerAtS { get; private set; } = -1;
    public double Attempts { get; private set; }
    public IReadOnlyList<Load> FirstLoads { get; private set; } = [];

    /// <summary>The most that one generator carried alone, and together, as shares of the rating.</summary>
    public double MostAlone { get; private set; }
    public double MostShared { get; private set; }

    /// <summary>What was on when one generator carried most.</summary>
    public IReadOnlyList<Load> AloneLoads { get; private set; } = [];

    /// <summary>Everything that can be switched on, starters and igniters aside, on one generator.</summary>
    public double EverythingOn { get; private set; }

    /// <summary>By the guide to the end.</summary>
    public static EnergyOf Fly(string aircraft, double oatC) => Fly(aircraft, oatC, cart: true, _ => false);

    /// <summary>By the guide until the first start's energy is asked for.</summary>
    /// <param name="cart">Whether the pilot may ask for ground power.</param>
    public static EnergyOf ToTheFirstStart(string aircraft, double oatC, bool cart = true) => Fly(aircraft, oatC, cart, made => made.FirstPowerAtS >= 0);

    /// <summary>The same, a second before that, and on the battery.</summary>
    public static Machine ShortOfTheFirstStart(string aircraft, double oatC)
    {
        var at = ToTheFirstStart(aircraft, oatC, cart: false).FirstPowerAtS;
        return Fly(aircraft, oatC, cart: false, made => made.Machine.Time >= at - 1).Machine;
    }

    private static EnergyOf Fly(string aircraft, double oatC, bool cart, Func<EnergyOf, bool> enough)
    {
        var header = Situations.Calm with { Aircraft = aircraft, Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0) };
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var m = rehearsal.Machine;
        var made = new EnergyOf(m);
        var demandW = 0.0;
        _ = new ScriptedPilot(rehearsal, cart ? null : new PilotTraits(Forgets: ["ask-cart", "cart-on"])).FlyUntil(() =>
        {
            // The guide's last act before it: its own draw is not yet counted.
            if (made.FirstPowerAtS < 0 && !m.Aircraft.Engines.Any(e => m[$"{e.Id}.starter-valve"] > 0.5) && (m.Aircraft.AuxiliaryUnit is null || m["aux.running"] < 0.5))
            {
                demandW = m["battery.amps"] > 0 ? m["battery.amps"] * m["battery.volts"] : demandW;
                (made.FirstLoads, made.Attempts) = (m.StepIndex % Steps.PerTick == 0 ? [.. m.Loads.Where(l => l.Powered)] : made.FirstLoads, m["start.attempts"]);
            }
            else if (made.FirstPowerAtS < 0)
            {
                (made.FirstPowerW, made.FirstPowerAtS) = (demandW, m.Time);
            }

            made.Look(m.StepIndex % Steps.PerTick == 0 ? [.. m.Aircraft.Engines.Where(e => m[$"{e.Id}.generator"] > 0.5
                && m.Aircraft.Engines.All(o => m[$"{o.Id}.starter-valve"] < 0.5)).Select(e => e.Id)] : []);
            return m.Time > 2400 || enough(made);
        });
        made.EverythingOn = (AllW(m) + (m.Aircraft.Electrics.Battery is { } d ? d.ChargeLimitA * d.NominalV : 0)) / m.Aircraft.EngineOf(m.Aircraft.Engines[0]).Generator.RatedW;
        return made;
    }

    // Not while a starter turns: that is short.
    private void Look(IReadOnlyList<string> working)
    {
        foreach (var load in working.Select(id => Machine[$"{id}.generator-load"] / 100))
        {
            if (working.Count == 1 && load > MostAlone)
            {
                (MostAlone, AloneLoads) = (load, [.. Machine.Loads.Where(l => l.Powered)]);
            }
            else if (working.Count > 1)
            {
                MostShared = Math.Max(MostShared, load);
            }
        }
    }

    /// <summary>Seconds for which the full battery carries what is on before the first start.</summary>
    public double LastsS => FullLastsS(Machine.Header.Conditions.OatC);

    /// <summary>The same load, at another temperature.</summary>
    public double FullLastsS(double oatC) => Battery.FullLastsS(Machine.Aircraft.Electrics.Battery!, oatC, FirstPowerW);

    private static double AllW(Machine m) => m.Loads.Where(l => !l.Id.EndsWith("starter", StringComparison.Ordinal) && l.Id != "igniters").Sum(l => l.Watts);
}
