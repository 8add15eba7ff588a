using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The words that a pilot reads are those of docs/words.md: the verb first, one name for one thing, and no step says what another has said.</summary>
public sealed class WordsTests
{
    private const int LongestCue = 72, LongestWhy = 95;

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    // The first column of the table under a heading of docs/words.md.
    private static HashSet<string> Listed(string heading)
    {
        var lines = File.ReadLines(Path.Combine(Repository.Root, "docs", "words.md"))
            .SkipWhile(l => l != $"## {heading}").Skip(1).TakeWhile(l => !l.StartsWith("## ", StringComparison.Ordinal));
        return [.. lines.Where(l => l.StartsWith("| ", StringComparison.Ordinal)).Select(l => l.Split('|')[1].Trim()).Skip(1)];
    }

    private static IEnumerable<ProcedureInForce> Of(string aircraft) =>
        Repository.Fleet.Procedures.Where(p => p.Aircraft == aircraft).SelectMany(p => p.Beginnings, (_, beginning) =>
    {
        var header = beginning == "air" ? Situations.Aloft(aircraft) : Situations.Taught(aircraft) with { Beginning = beginning };
        return ProcedureInForce.Of(Repository.Fleet.ProcedureFor(header), Repository.Fleet.FindAircraft(aircraft), Repository.Fleet.FindPlace(header.Place), header);
    });

    [Theory, MemberData(nameof(Types))]
    public void Every_cue_is_short_and_begins_with_a_verb_of_the_list(string aircraft)
    {
        var verbs = Listed("Verbs of the cues");
        Assert.True(verbs.Count > 5);
        Assert.All(Of(aircraft).SelectMany(p => p.Steps).Select(s => s.Definition.Cue), cue =>
        {
            Assert.InRange(cue.Length, 4, LongestCue);
            Assert.Contains(cue.Split(' ', ':', ',')[0], verbs);
        });
    }

    [Theory, MemberData(nameof(Types))]
    public void A_single_engine_is_called_the_engine(string aircraft)
    {
        if (Repository.Fleet.FindAircraft(aircraft).Engines.Count == 1)
        {
            const string AsAnEngine = "(start|Watch|the|of|throttle) main( |$)(?!power|generator|radio|head|software|pump|control|computer)";
            Assert.All(Of(aircraft).SelectMany(p => p.Steps), s => Assert.DoesNotMatch(AsAnEngine, s.Definition.Cue));
        }
    }

    /// <summary>One reason for several things done alike is well; for two different acts the second one says nothing.</summary>
    [Theory, MemberData(nameof(Types))]
    public void No_two_steps_give_the_same_reason(string aircraft)
    {
        foreach (var procedure in Of(aircraft))
        {
            var twice = procedure.Steps.Where(s => s.Definition.Act.Look is null && s.Definition.Why.Length > 0).GroupBy(s => s.Definition.Why)
                .Where(g => g.Select(s => s.Definition.Cue.Split(' ')[0]).Distinct().Count() > 1).Select(g => $"{g.Key}: {string.Join(", ", g.Select(s => s.Id))}").ToList();
            Assert.Empty(twice);
        }
    }

    [Theory, MemberData(nameof(Types))]
    public void Words_of_the_second_list_are_not_read_anywhere(string aircraft)
    {
        var avoided = Listed("Words that are not used");
        Assert.True(avoided.Count > 5);
        Assert.All(Of(aircraft).SelectMany(p => p.Steps).SelectMany(s => new[] { s.Definition.Cue, s.Definition.Why, s.Definition.IfOmitted ?? "" }), text =>
        {
            Assert.InRange(text.Length, 0, LongestWhy);
            Assert.All(avoided, word => Assert.DoesNotContain(word, text, StringComparison.OrdinalIgnoreCase));
        });
    }
}
