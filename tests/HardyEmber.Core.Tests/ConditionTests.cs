using CsCheck;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

public sealed class ConditionTests
{
    private static SignalTable Table()
    {
        var table = new SignalTable();
        table.AddNumber("a.level", "V", 0.1, 5);
        table.AddNumber("b.level", "V", 0.1, 7);
        table.AddFlag("lit", true);
        table.AddPositions("knob", ["off", "low", "high"], 1);
        table.AddFlag("seen.knob");
        return table;
    }

    [Theory]
    [InlineData("a.level > 4.9 and lit", true)]
    [InlineData("a.level > 5", false)]
    [InlineData("a.level >= 5 and a.level <= 5", true)]
    [InlineData("a.level < b.level", true)]
    [InlineData("a.level >= b.level", false)]
    [InlineData("knob is low", true)]
    [InlineData("knob is not low or lit", true)]
    [InlineData("not (lit and knob is low)", false)]
    [InlineData("seen knob", false)]
    [InlineData("a.level > -3", true)]
    [InlineData("", true)]
    public void Conditions_mean_what_they_say(string text, bool expected)
    {
        var table = Table();
        var condition = ConditionParser.Parse(text, table);
        Assert.Equal(expected, condition.Holds(table.Values));
        Assert.Equal(expected, ConditionProgram.Compile(condition).Holds(table.Values));
        Assert.Equal(expected, condition.Unmet(table.Values).Count == 0);
    }

    [Theory]
    [InlineData("a.level >", "ends too early")]
    [InlineData("c.level > 3", "there is no control, signal or lamp \"c.level\"")]
    [InlineData("knob is mid", "has no position \"mid\" (off, low, high)")]
    [InlineData("(lit", "\")\" is missing")]
    [InlineData("lit lit", "unexpected \"lit\"")]
    [InlineData("a.level", "is not a yes-or-no signal")]
    [InlineData("lit & knob", "a character that no condition uses")]
    public void A_bad_condition_is_named(string text, string complaint) =>
        Assert.Contains(complaint, Assert.Throws<FormatException>(() => ConditionParser.Parse(text, Table())).Message, StringComparison.Ordinal);

    private static Gen<string> Pick(params string[] words) => Gen.Int[0, words.Length - 1].Select(i => words[i]);

    private static readonly Gen<string> Leaf = Gen.OneOf(
        Gen.Select(Pick("a.level", "b.level"), Pick("<", "<=", ">", ">="), Gen.Int[0, 9], (s, o, n) => $"{s} {o} {n}"),
        Pick("<", "<=", ">", ">=").Select(o => $"a.level {o} b.level"),
        Pick("lit", "knob is off", "knob is not high", "seen knob"));

    private static Gen<string> Tree(int depth) => depth == 0 ? Leaf : Gen.OneOf(Leaf,
        Gen.Select(Tree(depth - 1), Pick("and", "or"), Tree(depth - 1), (l, o, r) => $"({l}) {o} ({r})"),
        Tree(depth - 1).Select(t => $"not ({t})"));

    [Fact]
    [Trait("search", "yes")]
    public void The_flattened_program_and_the_explained_tree_agree() =>
        Property.Holds(Gen.Select(Tree(4), Gen.Int[0, 9], Gen.Int[0, 9], Gen.Bool, Gen.Int[0, 2], Gen.Bool), c =>
        {
            var (text, a, b, lit, knob, seen) = c;
            var table = Table();
            var condition = ConditionParser.Parse(text, table);
            double[] values = [a, b, lit ? 1 : 0, knob, seen ? 1 : 0];
            return condition.Holds(values) == ConditionProgram.Compile(condition).Holds(values)
                && condition.Holds(values) == (condition.Unmet(values).Count == 0);
        }, 3000);

    [Fact]
    [Trait("search", "yes")]
    public void A_watch_that_asks_only_where_a_level_is_crossed_knows_as_much_as_asking_all() =>
        Property.Holds(Gen.Select(Tree(3).Array[1, 6], Gen.Select(Gen.Int[0, 4], Gen.Int[-1, 10]).Array[1, 40]), c =>
        {
            var (texts, moves) = c;
            var table = Table();
            ConditionProgram[] programs = [.. texts.Select(t => ConditionProgram.Compile(ConditionParser.Parse(t, table)))];
            // The knob and what was seen move by hands alone: while they rest, the watch may pass them over.
            var watch = new ConditionWatch(new ConditionWatch.Plan(programs, s => s >= 3));
            double[] values = [5, 7, 1, 1, 0];
            var known = new bool[programs.Length];
            foreach (var (signal, value) in moves)
            {
                values[signal] = value;
                foreach (var changed in watch.Look(values, hands: signal >= 3))
                {
                    known[changed] = !known[changed];
                }

                for (var i = 0; i < programs.Length; i++)
                {
                    if (watch[i] != programs[i].Holds(values) || known[i] != watch[i])
                    {
                        return false;
                    }
                }
            }

            return true;
        }, 2000);
}
