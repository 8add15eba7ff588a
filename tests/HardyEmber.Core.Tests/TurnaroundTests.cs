using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The second start of the day: as the last pilot left it; and faults that nobody was told of.</summary>
public sealed class TurnaroundTests
{
    private static RunHeader Turnaround(string aircraft, long seed) => Situations.Calm with { Aircraft = aircraft, Beginning = "turnaround", Seed = seed };

    public static TheoryData<string> Types => [.. Repository.Fleet.Procedures.Where(p => p.Beginnings.Contains("turnaround")).Select(p => p.Aircraft)];

    [Theory]
    [MemberData(nameof(Types))]
    public void Every_left_position_exists_and_comes_up_as_often_as_its_odds(string aircraft)
    {
        const int draws = 600;
        foreach (var control in Repository.Fleet.FindAircraft(aircraft).Controls.Where(c => c.LeftAt.Count > 0))
        {
            var counts = Enumerable.Range(1, draws).GroupBy(seed => LeftPositions.Of(control, Repository.Fleet.FindAircraft(aircraft),
                Repository.Fleet.FindPlace(Situations.Calm.Place), Turnaround(aircraft, seed)).Position).ToDictionary(g => g.Key!, g => g.Count());
            Assert.All(counts.Keys, p => Assert.Contains(p, control.Positions));
            Assert.All(control.LeftAt, left => Assert.InRange(counts.GetValueOrDefault(left.Key), draws * left.Value - 4 * Math.Sqrt(draws * left.Value),
                draws * left.Value + 4 * Math.Sqrt(draws * left.Value)));
        }

        Assert.All(Repository.Fleet.FindAircraft(aircraft).Controls, c => Assert.False(LeftPositions.IsWrong(c, Repository.Fleet.FindAircraft(aircraft),
            Repository.Fleet.FindPlace(Situations.Calm.Place), Turnaround(aircraft, 3) with { Beginning = "first" })));
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Who_flies_by_the_cues_finds_everything(string aircraft)
    {
        for (var seed = 1; seed <= 12; seed++)
        {
            var rehearsal = new Rehearsal(Repository.Fleet, Turnaround(aircraft, seed));
            _ = new ScriptedPilot(rehearsal).Fly(1500);
            var judgement = rehearsal.Judge.Conclude();
            Assert.True(judgement.Verdict == Verdict.LaunchReady,
                $"{aircraft} {seed}: {judgement.Sentence} {string.Join("; ", judgement.Findings.Where(f => f.Severity > Severity.Note).Select(f => f.What))}");
        }
    }

    [Fact]
    public void Who_does_not_look_is_told_what_stood_wrong()
    {
        var tansy = Repository.Fleet.FindAircraft("tansy");
        var seed = Enumerable.Range(1, 200).First(s => LeftPositions.IsWrong(tansy.Controls.First(c => c.Id == "master-arm"), tansy,
            Repository.Fleet.FindPlace(Situations.Calm.Place), Turnaround("tansy", s)));
        var rehearsal = new Rehearsal(Repository.Fleet, Turnaround("tansy", seed));
        _ = new ScriptedPilot(rehearsal, new PilotTraits(Forgets: new HashSet<string> { "right-master-arm", "sweep-master-arm" })).Fly(1500);
        var finding = Assert.Single(rehearsal.Judge.Conclude().Findings, f => f is { Code: "swept-past", Step: "master-arm" });
        Assert.Equal(Severity.Caution, finding.Severity);
        Assert.Contains("arm", finding.What, StringComparison.Ordinal);
    }

    [Fact]
    public void The_last_flight_left_battery_and_accumulators_less_than_full()
    {
        Machine At(string start) => Repository.Fleet.Build(Situations.Calm with { Beginning = start });
        var (first, turnaround) = (At("first"), At("turnaround"));
        first.Step();
        turnaround.Step();
        Assert.True(turnaround["aux.accumulator"] < first["aux.accumulator"]);
        Assert.True(turnaround["battery.charge"] < first["battery.charge"]);
    }

    [Fact]
    public void Surprises_come_from_the_seed_exist_on_the_aircraft_and_never_twice()
    {
        foreach (var aircraft in Repository.Fleet.Aircraft)
        {
            for (var seed = 1; seed < 40; seed++)
            {
                var header = Situations.Calm with { Aircraft = aircraft.Id, Seed = seed, Surprises = 3 };
                var faults = Repository.Fleet.Build(header).Faults;
                Assert.Equal(3, faults.Select(f => f.Code).Distinct().Count());
                Assert.Equal(faults, Repository.Fleet.Build(header).Faults);
            }
        }

        Assert.Contains("surprises", Assert.Throws<FormatException>(() => Repository.Fleet.Build(Situations.Calm with { Surprises = 4 })).Message, StringComparison.Ordinal);
    }

    /// <summary>A surprise that nobody could notice would be none.</summary>
    [Theory]
    [InlineData("feed-drop", "wintergreen", null, null)] // every fault that says where it is felt stands here
    [InlineData("satellites-lost", "skerrow-main", "navigateBy", "aided")]
    [InlineData("jet-towed", "skerrow-main", "alignment", "stored")]
    public void What_cannot_be_felt_here_is_not_drawn(string code, string place, string? question, string? answer)
    {
        var usual = Situations.Calm with { Aircraft = "juniper", Surprises = 3 };
        var felt = question is null ? usual : Situations.Taught("juniper", (question, answer!)) with { Surprises = 3 };
        Assert.Equal(3, Repository.Fleet.Faults.Faults.Count(f => f.Felt is not null));
        int Drawn(RunHeader header) => Enumerable.Range(1, 200).Count(seed => Repository.Fleet.Build(header with { Seed = seed }).Faults.Any(f => f.Code == code));
        Assert.Equal(0, Drawn(usual));
        Assert.NotEqual(0, Drawn(felt with { Place = place, Spot = Repository.Fleet.FindPlace(place).Spots[0].Id }));
        Assert.Equal(code, Assert.Single(Repository.Fleet.Build(usual with { Surprises = 0, Faults = [new RunFault(code)] }).Faults).Code); // who names it gets it
    }

    [Theory]
    [InlineData("dead-bulb", null, null, "item")]
    [InlineData("dead-bulb", null, "ashtray", "item")]
    [InlineData("igniter-dead", null, null, "engine")]
    [InlineData("weak-battery", null, null, null)]
    public void A_fault_without_its_place_is_refused_by_field(string code, string? engine, string? item, string? field)
    {
        var header = Situations.Calm with { Faults = [new RunFault(code, engine, Item: item)] };
        if (field is null)
        {
            _ = Repository.Fleet.Build(header);
            return;
        }

        Assert.StartsWith($"faults.{field}", Assert.Throws<FormatException>(() => Repository.Fleet.Build(header)).Message, StringComparison.Ordinal);
    }
}
