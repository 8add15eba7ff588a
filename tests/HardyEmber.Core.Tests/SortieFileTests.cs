using System.Text.Json;
using System.Text.Json.Nodes;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Sorties as files and as parts of an address.</summary>
public sealed class SortieFileTests
{
    private static readonly Fleet Fleet = Repository.Fleet;
    private static readonly Sortie Cold = new("Cold tail wind", Situations.Calm with
    {
        Conditions = new RunConditions(-24, 310, 17, QnhHpa: 987),
        Faults = [new RunFault("inner-line-short", At: 12.5, Level: 2)],
        Pilot = "Tinder",
        School = new Dictionary<string, string> { ["canopy"] = "early" },
    });

    private static string Same(Sortie s) => JsonSerializer.Serialize(s, FleetJson.Line);

    [Fact]
    public void What_is_written_is_read_again_as_file_and_as_address()
    {
        Assert.Equal(Same(Cold), Same(SortieFile.Read(Fleet, SortieFile.Write(Cold))));
        Assert.Equal(Same(Cold), Same(SortieFile.Decode(Fleet, SortieFile.Code(Cold))));
        Assert.Matches("^[A-Za-z0-9_-]+$", SortieFile.Code(Cold));
        Assert.True(SortieFile.Code(Cold).Length < 1500, "an address that mail programs do not break");
    }

    [Fact]
    public void What_making_a_run_added_is_taken_off()
    {
        var made = Cold.Header with { Drawn = [new RunFault("igniter-dead", "left")], Surprises = 1, Physics = 8, Data = "00ff", Drilled = 2 };
        var plain = SortieFile.Checked(Fleet, Cold with { Header = made }).Header;
        Assert.Equal((null, null, null, null, 1), (plain.Drawn, plain.Physics, plain.Data, plain.Drilled, plain.Surprises));
    }

    [Theory]
    [InlineData("", "line")]
    [InlineData("null", "file")]
    [InlineData("[]", "line")]
    [InlineData("remember the brake", "line")]
    public void What_is_no_sortie_is_refused_by_its_place(string text, string field) => Refused(() => SortieFile.Read(Fleet, text), field);

    [Theory]
    [InlineData("format", "\"hardy-ember/run\"", "format")]
    [InlineData("version", "2", "version")]
    [InlineData("name", "\"   \"", "name")]
    [InlineData("name", "\"a\\u0007b\"", "name")]
    [InlineData("header.aircraft", "\"thistle\"", "aircraft")]
    [InlineData("header.conditions.oatC", "900", "conditions.oatC")]
    [InlineData("header.conditions.oatC", "\"cold\"", "header.conditions.oatC")]
    [InlineData("header.school.canopy", "\"ajar\"", "school")]
    [InlineData("header.colour", "\"red\"", "header.colour")]
    public void A_wrong_field_is_named(string path, string value, string field)
    {
        var file = JsonNode.Parse(SortieFile.Write(Cold))!;
        var parts = path.Split('.');
        var part = parts[..^1].Aggregate(file, (node, name) => node[name]!);
        part[parts[^1]] = JsonNode.Parse(value);
        Refused(() => SortieFile.Read(Fleet, file.ToJsonString()), field);
    }

    [Fact]
    public void A_file_that_is_too_long_is_not_read() => Refused(() => SortieFile.Read(Fleet, new string(' ', SortieFile.MaxBytes + 1)), "file");

    /// <summary>An address that was cut anywhere, or in which any one letter was changed to another, is refused or still a sortie: it never breaks anything.</summary>
    [Fact]
    public void A_broken_address_is_refused_in_words()
    {
        var code = SortieFile.Code(Cold);
        for (var cut = 0; cut < code.Length; cut += 7)
        {
            Refused(() => SortieFile.Decode(Fleet, code[..cut]), "sortie");
        }

        for (var i = 0; i < code.Length; i += 5)
        {
            var changed = code[..i] + (code[i] == 'A' ? 'B' : 'A') + code[(i + 1)..];
            if (Record.Exception(() => SortieFile.Decode(Fleet, changed)) is { } refused)
            {
                Assert.Contains(": ", Assert.IsType<FormatException>(refused).Message, StringComparison.Ordinal);
            }
        }

        Refused(() => SortieFile.Decode(Fleet, "not an address!"), "sortie");
    }

    /// <summary>Every number of a header that has a range is found by its path, also in its parts and lists.</summary>
    [Fact]
    public void The_ranges_of_a_header_are_listed_by_path()
    {
        Assert.Equal((-60, 60), (HeaderCheck.Ranges["conditions.oatC"].Low, HeaderCheck.Ranges["conditions.oatC"].High));
        Assert.Equal(RunHeader.MaxSeconds, HeaderCheck.Ranges["faults.at"].High);
        Assert.Equal(RunFlight.HighestFt, HeaderCheck.Ranges["flight.heightFt"].High);
        Assert.Equal(RunHeader.MostSurprises, HeaderCheck.Ranges["surprises"].High);
    }

    private static void Refused(Action read, string field) => Assert.StartsWith(field, Assert.Throws<FormatException>(read).Message, StringComparison.Ordinal);
}
