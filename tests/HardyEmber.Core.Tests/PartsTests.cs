using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Parts of data files: written once, put in where a list says so, and every value keeps its place.</summary>
public sealed class PartsTests
{
    private const string Shared = """
        { "format": "hardy-ember/parts", "version": 1, "parts": {
          "greet": { "with": { "who": "!", "loud": false, "words": "Hello {who}" }, "give": [
            { "say": "{words}", "to": "{Who}", "volume": "{loud}" },
            { "if": "{loud}", "say": "And loudly" } ] },
          "all": { "with": { "names": [] }, "give": [ { "for": "name", "in": "{names}", "do": [
            { "use": "greet", "who": "{name.call}", "loud": "{name.loud}" }, { "n": "{name#}", "share": "{name%}" } ] } ] },
          "round": { "with": {}, "give": [ { "use": "round" } ] }
        } }
        """;

    private static (string Json, List<string> Wrong) Expand(string text)
    {
        var wrong = new List<(JsonTree Tree, string Problem)>();
        var parts = new Parts(wrong);
        parts.Add(JsonTree.Of(Shared, "shared.json"));
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream))
        {
            parts.Expand(JsonTree.Of(text, "own.json")).WriteTo(writer);
        }

        return (Encoding.UTF8.GetString(stream.ToArray()), [.. wrong.Select(w => $"{w.Tree.File}:{w.Tree.Line} {w.Problem}")]);
    }

    [Theory]
    [InlineData("""[{ "use": "greet", "who": "anna" }]""", """[{"say":"Hello anna","to":"Anna","volume":false}]""")]
    [InlineData("""[{ "use": "greet", "who": "{first}", "loud": true }]""", """[{"say":"Hello {first}","to":"{First}","volume":true},{"say":"And loudly"}]""")]
    [InlineData("""[1, { "use": "all", "names": [{ "call": "a" }, { "call": "b", "loud": 3 }] }]""",
        """[1,{"say":"Hello a","to":"A","volume":false},{"n":1,"share":0.5},{"say":"Hello b","to":"B","volume":3},{"say":"And loudly"},{"n":2,"share":1}]""")]
    [InlineData("""{ "kept": "{first} as it is", "list": [{ "for": "x", "in": ["p", "q"], "do": [{ "{x}": "{x} of {first}" }] }] }""",
        """{"kept":"{first} as it is","list":[{"p":"p of {first}"},{"q":"q of {first}"}]}""")]
    public void A_part_is_put_in_with_its_parameters(string text, string expected)
    {
        var (json, wrong) = Expand(text);
        Assert.Empty(wrong);
        Assert.Equal(expected, json);
    }

    [Theory]
    [InlineData("[\n{ \"use\": \"great\" }]", "own.json:2 there is no part \"great\"; nearest: \"greet\"")]
    [InlineData("[{ \"use\": \"greet\" }]", "own.json:1 the part \"greet\" needs \"who\"")]
    [InlineData("[{ \"use\": \"greet\", \"who\": \"a\",\n \"load\": 1 }]", "own.json:2 the part \"greet\" has no parameter \"load\"; nearest: \"loud\"")]
    [InlineData("[{ \"use\": \"greet\", \"who\": [1] }]", "shared.json:2 \"{who}\" is a list or an object and cannot stand within a text")]
    [InlineData("[{ \"for\": \"x\", \"in\": \"y\" }]", "own.json:1 \"for\" needs a list \"in\" and a list \"do\"")]
    [InlineData("[{ \"use\": \"round\" }]", "shared.json:7 parts use each other without an end")]
    public void What_is_wrong_is_told_where_it_was_written(string text, string told) => Assert.Contains(told, Expand(text).Wrong);

    /// <summary>A slip within a part is told of the part's own file, once for all who use it.</summary>
    [Fact]
    public void A_slip_in_a_part_is_told_with_the_line_of_the_part()
    {
        var files = Repository.FleetFiles();
        var at = files.FindIndex(f => f.Path == "parts/tasks.json");
        files[at] = files[at] with { Text = files[at].Text.Replace("while\": \"{hears}", "while\": \"{hears} and battry is on", StringComparison.Ordinal) };
        var faults = Assert.Throws<DataFaultException>(() => Core.Runs.Fleet.Load(files)).Faults;
        var line = Array.FindIndex(files[at].Text.Split('\n'), l => l.Contains("battry", StringComparison.Ordinal)) + 1;
        Assert.All(faults, f => Assert.Equal(("parts/tasks.json", line), (f.File, f.Line)));
        Assert.Contains(faults, f => f.Problem.Contains("nearest: \"battery\"", StringComparison.Ordinal));
    }

    [Fact]
    public void No_part_of_the_fleet_is_idle()
    {
        var files = Repository.FleetFiles();
        var names = files.Where(f => f.Path.StartsWith("parts/", StringComparison.Ordinal)).SelectMany(f => JsonTree.Of(f.Text).Members["parts"].Members.Keys);
        Assert.All(names, name => Assert.Contains(files, f => f.Text.Contains($"\"use\": \"{name}\"", StringComparison.Ordinal)));
    }
}
