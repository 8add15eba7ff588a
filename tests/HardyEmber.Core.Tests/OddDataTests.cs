using System.Globalization;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Data that a run's file carries may be anything: they are refused with file and place, or flown; nothing else comes of them.</summary>
public sealed class OddDataTests
{
    private const int Cases = 80;

    [Fact, Trait("search", "yes")]
    public void Odd_data_are_refused_by_their_place_or_flown() => Property.Holds(CsCheck.Gen.Int[0, 1_000_000], number =>
    {
        var (file, what) = OddData.Draw(Property.Seed, number);
        try
        {
            var run = RunFile.Read(new StringReader(file));
            _ = RunOutcome.Of(Rehearsal.Replay(run.Data!.Load(), run));
        }
        catch (DataFaultException e)
        {
            Assert.True(e.Faults.All(f => !f.Problem.StartsWith(DataProblems.Unforeseen, StringComparison.Ordinal)), $"{what}: {e.Message}");
        }
        catch (RunFileException)
        {
            // The run does not fit the aircraft that was changed.
        }
    }, Cases);

    // The data of a plain run, one file of them changed.
    private static DataFault Refused(string path, string from, string to)
    {
        var files = Repository.Fleet.VersionFor("juniper", "skerrow-main").Files
            .Select(f => f.Path == path ? f with { Text = f.Text.Replace(from, to, StringComparison.Ordinal) } : f).ToList();
        Assert.NotEqual(Repository.Fleet.VersionFor("juniper", "skerrow-main").Files, files);
        return Assert.Throws<DataFaultException>(() => DataVersion.Of(files).Load()).Faults[0];
    }

    private static DataFault RefusedIn(string list, string item) => Refused("aircraft/juniper.json", $"\"{list}\": [", $"\"{list}\": [\n{item},");

    [Theory]
    [InlineData("not ")]
    [InlineData("(")]
    [InlineData("(not ")]
    public void A_condition_that_only_goes_deeper_is_refused_and_not_followed(string opening)
    {
        var signals = Repository.Fleet.Sample("juniper").Signals;
        var text = string.Concat(Enumerable.Repeat(opening, 60_000)) + "battery is on";
        Assert.Throws<FormatException>(() => ConditionParser.Parse(text, signals));
        var deep = string.Concat(Enumerable.Repeat(opening, DataLimits.DeepestCondition + 1)) + "battery is on";
        Assert.Contains("deep within each other", Assert.Throws<FormatException>(() => ConditionParser.Parse(deep, signals)).Message, StringComparison.Ordinal);
        var fault = RefusedIn("lamps", $$"""{ "id": "deep", "label": "Deep", "link": "battery", "class": "caution", "lit": "{{deep}}" }""");
        Assert.Equal("aircraft/juniper.json", fault.File);
        Assert.True(fault.Line > 1);
    }

    [Theory]
    [InlineData(5, 10)]
    [InlineData(6, 10)]
    [InlineData(9, 30)]
    public void Turns_within_turns_end_where_the_work_of_a_file_does(int deep, int wide)
    {
        var turns = string.Join(", ", Enumerable.Range(0, wide).Select(i => $"\"t{i}\""));
        var item = """{ "if": "", "id": "x" }""";
        for (var i = 0; i < deep; i++)
        {
            item = $$"""{ "for": "v{{i}}", "in": [{{turns}}], "do": [{{item}}] }""";
        }

        var fault = RefusedIn("lamps", item);
        Assert.Contains("come to more than", fault.Problem, StringComparison.Ordinal);
        Assert.Equal("aircraft/juniper.json", fault.File);
    }

    [Fact]
    public void Parts_that_double_themselves_are_refused()
    {
        var doubling = string.Join(",\n", Enumerable.Range(0, 11).Select(i =>
            $$"""  "d{{i}}": { "with": {}, "give": [{ "use": "d{{i + 1}}" }, { "use": "d{{i + 1}}" }, { "use": "d{{i + 1}}" }] }"""))
            + ",\n  \"d11\": { \"with\": {}, \"give\": [\"x\"] },";
        var files = Repository.Fleet.VersionFor("juniper", "skerrow-main").Files
            .Select(f => f.Path switch
            {
                "parts/tasks.json" => f with { Text = f.Text.Replace("\"parts\": {", "\"parts\": {\n" + doubling, StringComparison.Ordinal) },
                "aircraft/juniper.json" => f with { Text = f.Text.Replace("\"lamps\": [", "\"lamps\": [{ \"use\": \"d0\" },", StringComparison.Ordinal) },
                _ => f,
            }).ToList();
        Assert.Contains(Assert.Throws<DataFaultException>(() => DataVersion.Of(files).Load()).Faults,
            f => f.Problem.Contains("come to more than", StringComparison.Ordinal));
    }

    [Fact]
    public void A_text_that_doubles_itself_is_refused()
    {
        var parameters = string.Join(", ", Enumerable.Range(1, 40).Select(i => $"\"p{i}\": \"{{p{i - 1}}}{{p{i - 1}}}\""));
        var files = Repository.Fleet.VersionFor("juniper", "skerrow-main").Files
            .Select(f => f.Path switch
            {
                "parts/tasks.json" => f with
                {
                    Text = f.Text.Replace("\"parts\": {", "\"parts\": {\n\"double\": { \"with\": { \"p0\": \"xx\", " + parameters
                        + " }, \"give\": [\"{p40}\"] },", StringComparison.Ordinal),
                },
                "aircraft/juniper.json" => f with { Text = f.Text.Replace("\"lamps\": [", "\"lamps\": [{ \"use\": \"double\" },", StringComparison.Ordinal) },
                _ => f,
            }).ToList();
        Assert.Contains(Assert.Throws<DataFaultException>(() => DataVersion.Of(files).Load()).Faults,
            f => f.Problem.Contains("grows longer than", StringComparison.Ordinal));
    }

    [Fact]
    public void Ten_thousand_lamps_are_refused()
    {
        var turns = string.Join(", ", Enumerable.Range(0, 100).Select(i => $"\"{i}\""));
        var fault = RefusedIn("lamps", $$"""
            { "for": "a", "in": [{{turns}}], "do": [{ "for": "b", "in": [{{turns}}], "do": [
              { "id": "l{a}-{b}", "label": "L", "link": "battery", "class": "caution", "lit": "battery is on" }] }] }
            """);
        Assert.Contains($"at most {DataLimits.MostItems} entries", fault.Problem, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\"startLimitC\": ", "\"startLimitC\": 1e9, \"x\": ", "startLimitC")]
    [InlineData("\"idleN2Pct\": ", "\"idleN2Pct\": -1, \"x\": ", "idleN2Pct")]
    [InlineData("\"capacityAh\": ", "\"capacityAh\": 0, \"x\": ", "capacityAh")]
    [InlineData("\"name\": \"", "\"name\": \"\\u202e", "name")]
    public void A_number_out_of_its_range_and_a_text_that_cannot_be_written_are_named(string from, string to, string field)
    {
        var fault = Refused("aircraft/juniper.json", from, to);
        Assert.EndsWith(field, fault.At, StringComparison.Ordinal);
        Assert.True(fault.Line > 1, fault.ToString());
    }

    [Theory]
    [InlineData("report", "weak-air", "1e999")]
    [InlineData("report", "weak-air", "3")]
    [InlineData("hold", "fire-test", "1e999")]
    [InlineData("set", "trim", "1e999")]
    [InlineData("set", "trim", "-1e999")]
    public void A_number_that_is_none_or_stands_where_a_word_is_due_is_refused(string verb, string target, string to)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        RunFile.Write(text, new RunLog(Situations.Calm, []));
        var e = Assert.Throws<RunFileException>(() => RunFile.Read(new StringReader($"{text}{{\"t\":1,\"{verb}\":\"{target}\",\"to\":{to}}}\n")));
        Assert.Equal((2, "to"), (e.Line, e.Field));
    }
}
