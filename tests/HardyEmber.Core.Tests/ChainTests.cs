using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The chain of energy: what is handed down it, and which link held a start back.</summary>
public sealed class ChainTests
{
    public static TheoryData<string> Types { get; } = [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static RunHeader Day(string aircraft) => Situations.Calm with { Aircraft = aircraft, Loading = null, Leg = null };

    // A start by the book, and what each link was handed at each half second of it.
    private static (Rehearsal Run, Dictionary<string, List<double>> Handed) Flown(string aircraft)
    {
        var run = new Rehearsal(Repository.Fleet, Day(aircraft));
        var handed = new ChainHanded(run.Machine);
        var seen = handed.Links.ToDictionary(l => l.Id, _ => new List<double>());
        _ = new ScriptedPilot(run).FlyUntil(() =>
        {
            if (run.Machine.StepIndex % 25 == 0)
            {
                for (var i = 0; i < handed.Links.Count; i++)
                {
                    seen[handed.Links[i].Id].Add(handed[i]);
                }
            }

            return run.Machine.Time > 1200;
        });
        return (run, seen);
    }

    /// <summary>A line that is always as wide as can be, or never wide, tells nothing.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void Every_line_begins_cut_and_uses_its_width(string aircraft)
    {
        var (run, handed) = Flown(aircraft);
        var last = run.Machine.Aircraft.Chain[^1].Id;
        var wrong = run.Machine.Aircraft.Chain.Where(l => l.Takes is not null).Select(l => (l.Id, Takes: l.Takes!, Most: handed[l.Id].Max(), First: handed[l.Id][0]))
            .Where(x => x.Most < 0.55 * x.Takes.Most || x.Most > 1.02 * x.Takes.Most || x.Id != last && x.First > 0.05 * x.Takes.Most)
            .Select(x => FormattableString.Invariant($"{x.Id}: {x.First:0} at first, {x.Most:0} at most, of {x.Takes.Most} {x.Takes.Unit}"));
        var found = string.Join("; ", wrong);
        Assert.True(found.Length == 0, found);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void What_held_a_start_back_adds_up_to_it(string aircraft)
    {
        var (run, _) = Flown(aircraft);
        var milestones = RunSummary.MilestonesOf(run.Tracker);
        var held = ChainSignature.Of(Repository.Fleet, run.Machine.Header, milestones)!;
        Assert.Equal(run.Machine.Aircraft.Chain.Select(l => l.Id), held.Links.Select(l => l.Id));
        Assert.Equal(milestones.Values.Max(), held.Links.Sum(l => l.Seconds), 0.1 * held.Links.Count);
        Assert.Equal(0, held.Spells[0].FromS);
        Assert.All(held.Spells.Zip(held.Spells.Skip(1)), pair => Assert.Equal(pair.First.ToS, pair.Second.FromS));
        Assert.All(held.Spells, s => Assert.True(s.ToS > s.FromS, s.Step));
        Assert.True(held.Links.Count(l => l.Seconds > 0) >= 5, "one link alone holds no start back");
    }

    /// <summary>Hands that wait for nothing: the time goes to the link where they dawdled, not to the alignment that ran meanwhile.</summary>
    [Fact]
    public void A_step_that_comes_late_holds_back_its_own_link()
    {
        var (run, _) = Flown("juniper");
        var milestones = RunSummary.MilestonesOf(run.Tracker);
        var last = milestones.Last();
        var late = milestones.ToDictionary(m => m.Key, m => m.Key == last.Key ? m.Value + 100 : m.Value);
        double Of(IReadOnlyDictionary<string, double> at, string link) => ChainSignature.Of(Repository.Fleet, run.Machine.Header, at)!.Links.First(l => l.Id == link).Seconds;
        var step = ChainSignature.Of(Repository.Fleet, run.Machine.Header, milestones)!.Spells[^1];
        Assert.Equal(last.Key, step.Step);
        Assert.Equal(100, Of(late, step.Link) - Of(milestones, step.Link), 0.2);
        Assert.Equal(Of(late, "core"), Of(milestones, "core"));
    }

    [Fact]
    public void In_the_air_there_is_no_chain_to_hold_anything_back() =>
        Assert.Null(ChainSignature.Of(Repository.Fleet, Situations.Aloft("juniper", 25_000), new Dictionary<string, double>()));

    [Fact]
    public void Nothing_done_has_held_nothing_back()
    {
        var held = ChainSignature.Of(Repository.Fleet, Day("sedge"), new Dictionary<string, double>())!;
        Assert.Empty(held.Spells);
        Assert.All(held.Links, l => Assert.Equal(0, l.Seconds));
    }
}
