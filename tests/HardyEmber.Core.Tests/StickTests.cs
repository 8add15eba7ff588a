using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What the stick has of the hydraulics when only the wind turns the pumps, and what taking load off them gives.</summary>
public sealed class StickTests
{
    public static TheoryData<string> Powered => [.. Repository.Fleet.Aircraft.Where(a => a.Flight.Stick is not null).Select(a => a.Id)];

    public static TheoryData<string> Twins => [.. Repository.Fleet.Aircraft.Where(a => a.Flight.Stick is not null && a.Engines.Count > 1).Select(a => a.Id)];

    private static long At(double seconds) => (long)Math.Round(seconds / Steps.Seconds);

    private static Rehearsal Flown(RunHeader header, double seconds, params RunCommand[] commands) => Rehearsal.Replay(Repository.Fleet, new RunLog(header, commands), At(seconds));

    private static double Psi(Machine m) => m.Aircraft.Engines.Max(e => m[$"{e.Id}.hydraulics"]);

    [Fact]
    public void Four_types_have_a_stick_that_wants_pressure() => Assert.Equal(4, Powered.Count);

    [Theory, MemberData(nameof(Powered))]
    public void A_windmilling_pump_gives_the_stick_more_once_the_rest_is_off(string type)
    {
        var header = Situations.Aloft(type, 20_000);
        RunCommand off = new(At(2), CommandKind.Set, "utility", "off"), dive = new(0, CommandKind.Set, "pitch", Number: -15),
            pull = new(At(10), CommandKind.Set, "pitch", Number: 5);
        var (loaded, spared) = (Flown(header, 10, dive, pull).Machine, Flown(header, 10, dive, off, pull).Machine);
        Assert.True(Psi(spared) > 1.15 * Psi(loaded), $"{Psi(spared):0} against {Psi(loaded):0} psi");
        (loaded, spared) = (Flown(header, 12, dive, pull).Machine, Flown(header, 12, dive, off, pull).Machine);
        Assert.True(spared["flight.path"] > loaded["flight.path"] + 0.7, $"{spared["flight.path"]:0.0} against {loaded["flight.path"]:0.0}°");
    }

    [Theory, MemberData(nameof(Powered))]
    public void A_stick_left_without_its_pressure_is_found_and_one_that_is_spared_is_not(string type)
    {
        var header = Situations.Aloft(type, 20_000);
        var found = Assert.Single(Flown(header, 60).Judge.Conclude().Findings, f => f.Code == "stick-starved");
        Assert.Equal(Severity.Caution, found.Severity);
        Assert.Contains("psi", found.What, StringComparison.Ordinal);
        Assert.DoesNotContain(Flown(header, 60, new RunCommand(At(8), CommandKind.Set, "utility", "off")).Judge.Conclude().Findings, f => f.Code == "stick-starved");
    }

    /// <summary>One pump turns with its engine: the stick lacks nothing, and on the way home its load is still lightened.</summary>
    [Theory, MemberData(nameof(Twins))]
    public void One_live_engine_feeds_the_stick_and_the_guide_spares_its_pump(string type)
    {
        var header = Situations.Aloft(type, 20_000);
        header = header with { Flight = header.Flight! with { Other = RunFlight.IdleOther } };
        var m = Flown(header, 30).Machine;
        Assert.True(Psi(m) > m.Aircraft.Flight.Stick!.FullPsi);

        var damaged = header with
        {
            Flight = header.Flight with { Dead = RunFlight.NoneDead, HeightFt = 16_000 },
            Faults = [new RunFault("flame-out-damage", m.Aircraft.Engines[0].Id, 12)]
        };
        var flown = new HandFlown(damaged);
        Assert.False(flown.Pilot.FlyUntil(() => flown.Machine["utility"] < 0.5));
        var before = Psi(flown.Machine);
        Assert.False(flown.Pilot.FlyUntil(() => flown.Machine.Time > 8 + flown.Pilot.Log[^1].Step * Steps.Seconds));
        Assert.True(Psi(flown.Machine) > before + 20, $"{Psi(flown.Machine):0} against {before:0} psi");
    }
}
