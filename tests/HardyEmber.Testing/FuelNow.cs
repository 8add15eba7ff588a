using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Testing;

/// <summary>Fuel given at once in the air on the whole machine, the speed held: what an envelope says is held against this.</summary>
public static class FuelNow
{
    private const double LongestS = 200, SoonS = 6;

    /// <summary>A point of height and speed over the range of a type, by its number.</summary>
    public static (double HeightFt, double EasKt) Point(AircraftDefinition aircraft, double decisionFt, int number)
    {
        var random = new RandomStream(number, "relight");
        var w = aircraft.Engine.Windmill;
        return (Math.Round(random.Between(decisionFt, w.MaxAltitudeFt + 4000)), Math.Round(random.Between(0.8 * aircraft.Flight.GlideEasKt, w.MaxEasKt)));
    }

    /// <summary>It lit soon, stayed cool and came to idle above the decision height.</summary>
    public static bool Works(RunHeader header)
    {
        var m = Repository.Fleet.Build(header);
        var (aircraft, dead) = (m.Aircraft, header.Flight!.Dead);
        void Set(string control, string to) => m.Apply(new RunCommand(m.StepIndex, CommandKind.Set, control, to));
        m.Apply(new RunCommand(m.StepIndex, CommandKind.Set, aircraft.Flight.SpeedControl!, Number: header.Flight.EasKt));
        foreach (var bleed in aircraft.Controls.Where(c => c.Id is "bleed" or "cooling-air" || c.Id == $"bleed-{dead}"))
        {
            Set(bleed.Id, bleed.Positions[0]);
        }

        var side = aircraft.Engines.First(e => e.Id == dead);
        var engine = aircraft.EngineOf(side);
        double lit = -1;
        while (m.Time < LongestS && m["flight.above-decision"] > 0)
        {
            m.Step();
            lit = lit < 0 && m[$"{dead}.lit"] > 0.5 ? m.Time : lit;
            if (lit < 0 && m.Time > SoonS || m[$"{dead}.egt-true"] > engine.StartLimitC)
            {
                return false;
            }

            if (m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= engine.IdleN2Pct - 2)
            {
                return true;
            }
        }

        return false;
    }
}
