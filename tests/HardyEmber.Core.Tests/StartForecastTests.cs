using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>How often the watch is right, on a part of the set of <c>bench advice</c>, and what it does with gauges that say nothing.</summary>
public sealed class StartForecastTests
{
    private const int Starts = 700;

    [Fact]
    public void On_scattered_starts_of_all_types_the_word_is_right_and_nothing_is_missed()
    {
        var all = new WatchedStart?[Starts];
        _ = Parallel.For(0, Starts, i => all[i] = WatchedStart.Fly(i));
        List<WatchedStart> said = [.. all.OfType<WatchedStart>()];
        Assert.Equal(7, said.Select(s => s.Start.Header.Aircraft).Distinct().Count());
        string Told(IEnumerable<WatchedStart> of) => string.Join("; ", of.Where(s => s.Wrong() is not null).Select(s => $"{s.Start.Number} {s.Wrong()}"));
        Assert.True(said.Count(s => s.Wrong() is null) >= 0.99 * said.Count, Told(said));
        List<WatchedStart> book = [.. said.Where(s => s.Start.ByTheBook)];
        Assert.True(book.Count > 150 && book.Count(s => s.Wrong() is null) >= 0.995 * book.Count, Told(book));
        Assert.DoesNotContain(said, s => s.Wrong() is "missed" or "stay while it dies");
        Assert.DoesNotContain(said, s => s.Wrong() == "false hot" && s.LimitC - s.PeakC > 40);
        List<WatchedStart> obeyed = [.. said.Where(s => s.Hot && !double.IsNaN(s.CutPeakC))];
        Assert.True(obeyed.Count > 100 && obeyed.Count(s => s.CutPeakC <= s.LimitC + 30) >= 0.97 * obeyed.Count,
            string.Join(' ', obeyed.Where(s => s.CutPeakC > s.LimitC + 30).Select(s => s.Start.Number)));
        List<WatchedStart> known = [.. said.Where(s => s.Truth is not null && s.Belief.Length > 0)];
        Assert.True(known.Count(s => s.Truth!.Contains(s.Belief)) >= 0.8 * known.Count);
    }

    public static TheoryData<string> Types => [.. RandomHands.Types];

    [Theory]
    [MemberData(nameof(Types))]
    public void A_covered_inlet_shows_on_the_fan_before_fuel_is_given(string type)
    {
        var d = Repository.Fleet.FindAircraft(type).Engine;
        double AirSeen(double covered)
        {
            var (engine, watch) = (new Engine(d, 15, new RandomStream(1, "rig")), new StartForecast(d, 15));
            engine.In = new EngineInputs { Duct = 1, StarterValve = true, AirC = 15, DensityRatio = 1 };
            engine.Faults.InletBlockage = covered;
            for (var look = 0; look < 25 || engine.N2Pct < d.FuelOnMinN2Pct; look++)
            {
                for (var step = 0; step < Steps.PerTick; step++)
                {
                    engine.Step();
                }

                engine.Slow(0.2);

                watch.Look(new StartSeen(engine.N2Pct, engine.N1Pct, engine.GaugeC, 0, false, true, 1, engine.OilC, d.IdleN2Pct), engine.In, 0.2);
            }

            Assert.True(watch.FanTells);
            return watch.Air;
        }

        Assert.InRange(AirSeen(0), 0.96, 1);
        Assert.InRange(AirSeen(0.3), 0.67, 0.73);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Gauges_that_say_nothing_leave_defined_numbers(string type)
    {
        var d = Repository.Fleet.FindAircraft(type).Engine;
        foreach (var gauge in new[] { double.NaN, double.PositiveInfinity, -1e9, 0 })
        {
            var watch = new StartForecast(d, 15);
            var air = new EngineInputs { AirC = 15, DensityRatio = 1 };
            for (var i = 0; i < 100; i++)
            {
                // Fuel at 2 %, and a lever slammed to and fro.
                watch.Look(new StartSeen(i % 13 == 5 ? gauge : 2 + 0.2 * i, i % 23 == 4 ? gauge : 0.1 * i, i % 7 == 3 ? 15 : gauge, i % 17 == 9 ? gauge : i % 5 == 0 ? 0 : 0.6,
                    i % 5 != 0, true, i % 11 == 0 ? double.NaN : 1, i % 19 == 7 ? gauge : 15, d.IdleN2Pct), air, 0.2);
                watch.Foresee();
                Assert.True(double.IsFinite(watch.PeakC) && double.IsFinite(watch.CutPeakC) && double.IsFinite(watch.SoonC) && double.IsFinite(watch.BeliefShare),
                    $"{gauge} at {i}");
                Assert.InRange(watch.PeakC, -100, 1700);
            }
        }
    }
}
