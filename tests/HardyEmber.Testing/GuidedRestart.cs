using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Testing;

/// <summary>A restart by one method from a height and a speed, flown to its end by a pilot who does as the guide says: what a last chance says is held against this.</summary>
public static class GuidedRestart
{
    private const double LongestS = 900;

    /// <summary>A point of height and speed where a last chance says something, by its number.</summary>
    public static FlightPoint Point(LastChance chance, AircraftDefinition aircraft, double decisionFt, int number)
    {
        var random = new RandomStream(number, "last-chance");
        var height = Math.Round(random.Between(decisionFt, aircraft.Engine.Windmill.MaxAltitudeFt + 4000));
        return new FlightPoint(Math.Round(random.Between(chance.Points[0].EasKt + 1, chance.Points[^1].EasKt - 1)), height);
    }

    /// <summary>Whether a last chance says that the method succeeds from a point: above the line, straight between two of its speeds.</summary>
    public static bool Told(LastChance chance, FlightPoint from)
    {
        var at = chance.Points.TakeWhile(p => p.EasKt < from.EasKt).Count();
        var (a, b) = (chance.Points[at - 1], chance.Points[at]);
        return from.HeightFt >= a.HeightFt + (from.EasKt - a.EasKt) / (b.EasKt - a.EasKt) * (b.HeightFt - a.HeightFt);
    }

    /// <summary>The core came to idle above the decision height.</summary>
    /// <param name="method">The school's answer.</param>
    public static bool Works(RunHeader header, string method, FlightPoint from)
    {
        var asked = Repository.Fleet.ProcedureFor(header).Schools.Any(q => q.Id == "method");
        var rehearsal = new Rehearsal(Repository.Fleet, header with
        {
            Flight = header.Flight! with { HeightFt = from.HeightFt, EasKt = from.EasKt },
            School = asked ? new Dictionary<string, string> { ["method"] = method } : header.School
        });
        var m = rehearsal.Machine;
        var dead = header.RestartEngine(m.Aircraft);
        var idle = m.Aircraft.EngineOf(dead).IdleN2Pct - 2;
        bool Runs() => m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= idle;
        _ = new ScriptedPilot(rehearsal).FlyUntil(() => Runs() || m["flight.airborne"] < 0.5 || m["flight.above-decision"] < 0 || m.Time > LongestS);
        return Runs() && m["flight.above-decision"] > 0;
    }
}
