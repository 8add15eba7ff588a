using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>One core on a test bench, Juniper's unless another is named: full control of air, fuel and weather, nothing else of the aircraft.</summary>
internal sealed record EngineRig(double FuelAtN2Pct, double Duct = 1, double AirC = 15, double AltitudeFt = 0, double TailwindKt = 0,
    double IgniterFromS = 0, double IgniterAfterFuelS = 0, bool IgniterDead = false, bool CutsWhenForetold = false, string Aircraft = "juniper")
{
    private const double RunS = 150;

    /// <summary>The pilot of the table gives fuel after half a minute even where the core is too slow.</summary>
    private const double PatienceS = 30;

    public sealed record Outcome(double FuelOnS, double LitS, double PeakC, double PeakS, double IdleS, double EndN2Pct, double EndGasC, double Puddle, double OilPsi,
        IReadOnlyList<double> GasC, double ForetoldC);

    /// <summary>A core that runs at idle on a standard day.</summary>
    public static Engine Idling(EngineDefinition d)
    {
        var engine = new Engine(d, 15, new RandomStream(1, "rig")) { In = new EngineInputs { FuelOn = true, AirC = 15, DensityRatio = 1 } };
        engine.StartAt(d.IdleN2Pct, lit: true);
        Follow(engine, d.IdleN2Pct, 20);
        return engine;
    }

    /// <summary>Leaves a running core to its governor at <paramref name="n2Pct"/> for so many seconds.</summary>
    public static void Follow(Engine engine, double n2Pct, double seconds)
    {
        engine.In.TargetN2Pct = n2Pct;
        for (var step = 0; step < seconds * 50; step++)
        {
            if (step % 10 == 0)
            {
                engine.Slow(0.2);
            }

            engine.Step();
        }
    }

    public Outcome Run()
    {
        var d = Repository.Fleet.FindAircraft(Aircraft).Engine;
        var engine = new Engine(d, AirC, new RandomStream(1, "rig"));
        engine.In = new EngineInputs
        {
            Duct = Duct,
            StarterValve = true,
            TargetN2Pct = d.IdleN2Pct,
            AirC = AirC,
            DensityRatio = Atmosphere.DensityRatio(Atmosphere.PressureRatio(AltitudeFt), AirC + Atmosphere.ZeroCelsiusK),
            TailwindKt = TailwindKt,
        };
        double fuelOn = -1, lit = -1, peak = AirC, peakAt = 0, idle = -1, over = -1, foretold = AirC, oil = 0;
        var (cut, forecast) = (false, new StartForecast(d, AirC));
        var gas = new List<double>();
        for (var step = 0; step < RunS * 50; step++)
        {
            var t = step * 0.02;
            if (fuelOn < 0 && (engine.N2Pct >= FuelAtN2Pct || t > PatienceS))
            {
                fuelOn = t;
            }

            engine.In.Igniter = !IgniterDead && fuelOn >= 0 && t >= IgniterFromS && t >= fuelOn + IgniterAfterFuelS;
            engine.In.FuelOn = fuelOn >= 0 && !cut;
            engine.In.StarterValve = engine.N2Pct < d.Starter.CutoutN2Pct && engine.In.StarterValve;
            if (step % 10 == 0)
            {
                engine.Slow(0.2);
            }

            engine.Step();
            lit = lit < 0 && engine.Lit ? t : lit;
            (peak, peakAt) = engine.GasC > peak ? (engine.GasC, t) : (peak, peakAt);
            idle = idle < 0 && engine.N2Pct >= d.IdleN2Pct - 1 ? t : idle;
            if (step % 10 == 0 && idle < 0)
            {
                forecast.Look(new StartSeen(engine.N2Pct, engine.N1Pct, engine.GaugeC, engine.Fuel, engine.In.FuelOn, engine.In.StarterValve, Duct, engine.OilC, d.IdleN2Pct),
                    engine.In, step == 0 ? 0 : 0.2);
                forecast.Foresee();
            }

            foretold = forecast.LitS > 1 && idle < 0 ? Math.Max(foretold, forecast.PeakC) : foretold;
            oil = Math.Max(oil, engine.OilPsi);
            over = over < 0 && forecast.Lit && forecast.Comes && forecast.LastMoment ? t : over;
            cut |= CutsWhenForetold && over >= 0 && t >= over + StartForecast.ReactionS;
            if (step % 50 == 0)
            {
                gas.Add(engine.GasC);
            }
        }

        return new Outcome(fuelOn, lit, peak, peakAt, idle, engine.N2Pct, engine.GasC, engine.Puddle, oil, gas, foretold);
    }
}
