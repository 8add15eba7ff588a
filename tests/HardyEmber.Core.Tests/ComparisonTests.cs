using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Two runs of one type beside one another.</summary>
public sealed class ComparisonTests
{
    private static readonly Dictionary<string, RunOutcome> Books = [];

    public static TheoryData<string> Types { get; } = [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static RunHeader Day(string aircraft) => Situations.Calm with { Aircraft = aircraft, Loading = null, Leg = null };

    private static ComparedRun Book(string aircraft)
    {
        if (!Books.TryGetValue(aircraft, out var outcome))
        {
            var run = new Rehearsal(Repository.Fleet, Day(aircraft));
            _ = new ScriptedPilot(run).Fly();
            Books[aircraft] = outcome = RunOutcome.Of(run);
        }

        return new ComparedRun(Repository.Fleet, Day(aircraft), outcome.Judgement, outcome.Summary.Milestones);
    }

    private static ComparedRun Late(ComparedRun run, double seconds)
    {
        var last = run.Milestones.MaxBy(m => m.Value).Key;
        return run with { Milestones = run.Milestones.ToDictionary(m => m.Key, m => m.Key == last ? m.Value + seconds : m.Value) };
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Time_lost_at_a_link_is_told_with_the_link(string aircraft)
    {
        var book = Book(aircraft);
        var slow = Late(book, 100);
        var sooner = Comparison.Of(book, slow);
        Assert.StartsWith("This one was ready 1:40 sooner: 1:40 at ", sooner.Sentence, StringComparison.Ordinal);
        var lost = sooner.There!.Links.Zip(sooner.Here!.Links).Single(l => l.First.Seconds - l.Second.Seconds > 99).First;
        Assert.Contains($"1:40 at {lost.Label}.", sooner.Sentence, StringComparison.Ordinal);
        Assert.StartsWith($"This one was ready 1:40 later: 1:40 at {lost.Label}.", Comparison.Of(slow, book).Sentence, StringComparison.Ordinal);
        Assert.StartsWith("Both were ready after ", Comparison.Of(book, book).Sentence, StringComparison.Ordinal);
        var apart = sooner.Phases.Where(p => p.HereS != p.ThereS).ToList();
        Assert.Equal(100, Assert.Single(apart).ThereS!.Value - apart[0].HereS!.Value, 0.1);
        Assert.Equal(book.Milestones.Count, sooner.Phases.Sum(p => p.Steps.Count(s => s.HereS is not null)));
    }

    [Fact]
    public void A_run_that_was_broken_off_is_told_by_how_far_it_came()
    {
        var book = Book("juniper");
        var rehearsal = new Rehearsal(Repository.Fleet, Day("juniper"));
        Assert.False(new ScriptedPilot(rehearsal).FlyUntil(() => rehearsal.Machine["right.n2"] > 60));
        rehearsal.Apply(new RunCommand(rehearsal.Machine.StepIndex, CommandKind.End));
        var outcome = RunOutcome.Of(rehearsal);
        var broken = book with { Judgement = outcome.Judgement, Milestones = outcome.Summary.Milestones };
        Assert.StartsWith("The other was not ready: it came as far as First engine.", Comparison.Of(book, broken).Sentence, StringComparison.Ordinal);
        Assert.StartsWith("This one was not ready: it came", Comparison.Of(broken, book).Sentence, StringComparison.Ordinal);
        Assert.StartsWith("Neither was ready.", Comparison.Of(broken, broken).Sentence, StringComparison.Ordinal);
        var lacking = book with { Judgement = book.Judgement with { Missing = ["the brake is not set"] } };
        Assert.StartsWith("The other was not ready: the brake is not set.", Comparison.Of(book, lacking).Sentence, StringComparison.Ordinal);
        var phases = Comparison.Of(book, broken).Phases;
        Assert.All(phases, p => Assert.NotNull(p.HereS));
        Assert.Contains(phases, p => p.ThereS is null);
    }

    [Fact]
    public void Each_finding_is_matched_once_and_those_of_one_run_come_first()
    {
        static Finding Of(string code, string? step = null) => new(code, Severity.Caution, 1, 2, code, "", "", Step: step);
        var book = Book("sedge");
        ComparedRun With(params Finding[] findings) => book with { Judgement = book.Judgement with { Findings = findings } };
        var compared = Comparison.Of(With(Of("late", "a"), Of("late", "b"), Of("hot")), With(Of("late", "a"), Of("hot"), Of("hot"), Of("omitted", "c")));
        Assert.Equal([("late", true, false), ("hot", false, true), ("omitted", false, true), ("late", true, true), ("hot", true, true)],
            compared.Findings.Select(f => (f.Found.Code, f.Here, f.There)));
        Assert.EndsWith("1 finding is this one’s alone, 2 the other’s.", compared.Sentence, StringComparison.Ordinal);
        Assert.EndsWith("Nothing was found in either.", Comparison.Of(With(), With()).Sentence, StringComparison.Ordinal);
        Assert.EndsWith("The same was found in both.", Comparison.Of(With(Of("hot")), With(Of("hot"))).Sentence, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_not_of_a_kind_is_not_compared()
    {
        var other = Assert.Throws<FormatException>(() => Comparison.Of(Book("juniper"), Book("alder")));
        Assert.Contains("with: that run is of Alder, this one of Juniper", other.Message, StringComparison.Ordinal);
        var flight = Book("juniper") with { Header = Situations.Aloft("juniper") };
        Assert.StartsWith("with: one of the two begins in the air", Assert.Throws<FormatException>(() => Comparison.Of(Book("juniper"), flight)).Message, StringComparison.Ordinal);
        var flights = Comparison.Of(flight, flight);
        Assert.Null(flights.Here);
        Assert.DoesNotContain("ready", flights.Sentence, StringComparison.Ordinal);
    }
}
