using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Chances from many scattered starts.</summary>
public sealed class ChanceTests
{
    private sealed class Told : IProgress<int>
    {
        public List<int> Counts { get; } = [];

        public void Report(int value)
        {
            lock (Counts)
            {
                Counts.Add(value);
            }
        }
    }

    private static RunHeader Quick => Situations.Calm with { Aircraft = "teasel" };

    [Fact]
    public void The_same_situation_gives_the_same_chances_however_the_work_is_shared()
    {
        var (first, told) = (ChanceEstimate.Run(Repository.Fleet, Quick, 40, new Scatter()), new Told());
        var second = ChanceEstimate.Run(Repository.Fleet, Quick, 40, new Scatter(), told);
        Assert.Equal((first.Ready, first.ReadyS, first.PeakC, first.OverLimit), (second.Ready, second.ReadyS, second.PeakC, second.OverLimit));
        Assert.Equal(first.Verdicts, second.Verdicts);
        Assert.Equal(first.Findings, second.Findings);
        Assert.Equal(1, first.Verdicts.Values.Sum(), 3);
        Assert.Contains(40, told.Counts);
        Assert.True(first.ReadyS!.Low <= first.ReadyS.Middle && first.ReadyS.Middle <= first.ReadyS.High);
    }

    [Fact]
    public void Sound_jets_in_still_air_are_ready_and_worn_ones_less_often()
    {
        var sound = ChanceEstimate.Run(Repository.Fleet, Quick, 40, new Scatter(Wear: 0));
        var worn = ChanceEstimate.Run(Repository.Fleet, Quick, 40, new Scatter(Wear: 1));
        Assert.Equal(1, sound.Ready);
        Assert.True(worn.Ready < sound.Ready - 0.1, $"{worn.Ready}");
        Assert.NotEmpty(worn.Findings);
    }

    [Fact]
    public void A_wind_in_the_exhaust_shows_in_the_chances()
    {
        var tail = ChanceEstimate.Run(Repository.Fleet, Quick with { Spot = "A4", Conditions = new RunConditions(15, 310, 16, 0) }, 40, new Scatter(WindKt: 6, Wear: 0));
        Assert.InRange(tail.Ready, 0.05, 0.95);
    }

    /// <summary>An estimate passes over waits: what it says of time, heat and verdict is what stepping finely says.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_coarse_flight_ends_as_the_fine_one_does(string aircraft)
    {
        var coarse = Enumerable.Range(1, 12).Select(seed => Flown(aircraft, seed, coarse: true)).ToList();
        var fine = Enumerable.Range(1, 12).Select(seed => Flown(aircraft, seed, coarse: false)).ToList();
        Assert.Equal(fine.Select(f => f.Verdict), coarse.Select(c => c.Verdict));
        // Steps of a tick in the reaction: now and then an act fits into a wait in one and not in the other, which is some seconds of a short start.
        Assert.InRange(coarse.Average(c => c.Seconds) / fine.Average(f => f.Seconds), 0.96, 1.02);
        Assert.InRange(coarse.Average(c => c.PeakC) - fine.Average(f => f.PeakC), -6, 6);
        Assert.All(fine.Zip(coarse), pair => Assert.InRange(pair.Second.PeakC - pair.First.PeakC, -15, 15));
    }

    public static TheoryData<string> Types => [.. RandomHands.Types];

    private static (Verdict Verdict, double Seconds, double PeakC) Flown(string aircraft, int seed, bool coarse)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, Situations.DemoDay with { Aircraft = aircraft, Loading = null, Seed = seed }, coarse);
        _ = new ScriptedPilot(rehearsal).FlyUntil(() => rehearsal.Machine.Time > 1200);
        var m = rehearsal.Machine;
        return (rehearsal.Judge.Conclude().Verdict, m.Time, m.Aircraft.Engines.Max(e => m[$"{e.Id}.egt-highest"]));
    }

    [Fact]
    public void Nothing_begins_on_a_bad_header_and_a_cancelled_estimate_ends()
    {
        Assert.Throws<FormatException>(() => ChanceEstimate.Run(Repository.Fleet, Quick with { Spot = "Z9" }, 10, new Scatter()));
        Assert.Throws<ArgumentOutOfRangeException>(() => ChanceEstimate.Run(Repository.Fleet, Quick, 0, new Scatter()));
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        Assert.ThrowsAny<OperationCanceledException>(() => ChanceEstimate.Run(Repository.Fleet, Quick, 100_000, new Scatter(), null, cancel.Token));
    }
}
