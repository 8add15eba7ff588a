using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A run names what it rests on, and can carry it.</summary>
public sealed class HistoryTests
{
    private static readonly FleetFile[] Files = [.. Repository.FleetFiles()];

    public static TheoryData<string, string> Pairs => [.. Repository.Fleet.Aircraft.SelectMany(a => Repository.Fleet.Places.Where(p => p.Ship is null || a.FliesFromShips),
        (a, p) => (a.Id, p.Id))];

    private static string Flown(RunLog run, DataVersion? data)
    {
        using var text = new StringWriter();
        RunFile.Write(text, run with { Data = data });
        return text.ToString();
    }

    private static Fleet With(string path, string from, string to)
    {
        var changed = Files.Select(f => f.Path == path ? f with { Text = f.Text.Replace(from, to, StringComparison.Ordinal) } : f).ToList();
        Assert.NotEqual(Files, changed);
        return Fleet.Load(changed);
    }

    [Theory]
    [MemberData(nameof(Pairs))]
    public void The_data_of_a_run_are_a_fleet_in_themselves(string aircraft, string place)
    {
        var version = Repository.Fleet.VersionFor(aircraft, place);
        var alone = version.Load();
        Assert.Equal((aircraft, place), (Assert.Single(alone.Aircraft).Id, Assert.Single(alone.Places).Id));
        Assert.Equal(version.Digest, alone.VersionFor(aircraft, place).Digest);
        Assert.True(DataVersion.IsDigest(version.Digest));
        var header = Situations.Calm with { Aircraft = aircraft, Place = place, Spot = alone.Places[0].Spots[0].Id };
        Assert.Equal(Repository.Fleet.Build(header).Digest(), alone.Build(header).Digest());
    }

    [Fact]
    public void Only_what_a_run_rests_on_changes_its_digest()
    {
        var today = Repository.Fleet;
        var other = With("aircraft/juniper.json", "\"name\": \"Juniper\"", "\"name\": \"Juniper B\"");
        Assert.NotEqual(today.VersionFor("juniper", "skerrow-main").Digest, other.VersionFor("juniper", "skerrow-main").Digest);
        Assert.Equal(today.VersionFor("alder", "skerrow-main").Digest, other.VersionFor("alder", "skerrow-main").Digest);
        var watched = With("watches.json", "Wait until", "Stay until");
        Assert.All(today.Aircraft, a => Assert.NotEqual(today.VersionFor(a.Id, "tarn-hollow").Digest, watched.VersionFor(a.Id, "tarn-hollow").Digest));
    }

    [Fact]
    public void What_was_drawn_is_written_down_and_stays_whatever_the_odds_become()
    {
        var header = Situations.Calm with { Surprises = 3, Faults = [new RunFault("weak-air", Level: 0.7, At: 3)] };
        var made = new Rehearsal(Repository.Fleet, header);
        var flown = made.AsFlown;
        Assert.Equal(3, flown.Drawn!.Count);
        Assert.Equal(made.Machine.Faults, [.. flown.Faults, .. flown.Drawn]);
        Assert.Equal((made.Data.Digest, 1), (flown.Data, Math.Sign(flown.Physics ?? 0)));
        var none = Fleet.Load(Files.Select(f => f.Path == "faults.json"
            ? f with { Text = System.Text.RegularExpressions.Regex.Replace(f.Text, "\"odds\": *[0-9.]+", "\"odds\": 0.001") } : f));
        Assert.Equal(made.Machine.Faults, new Rehearsal(none, flown).Machine.Faults);
        Assert.Empty(new Rehearsal(Repository.Fleet, flown with { Faults = [], Surprises = 0 }).Machine.Faults); // an outlook knows nothing of them
        Assert.Null(new Rehearsal(Repository.Fleet, Situations.Calm).AsFlown.Drawn);
        var many = Assert.Throws<FormatException>(() => Repository.Fleet.Build(flown with { Drawn = [.. flown.Drawn, .. flown.Drawn] }));
        Assert.StartsWith("drawn: ", many.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_run_that_carries_its_data_flies_with_them()
    {
        var old = With("aircraft/juniper.json", "\"startLimitC\": ", "\"startLimitC\": 1");
        var rehearsal = new Rehearsal(old, Situations.Calm);
        var log = new ScriptedPilot(rehearsal).Fly() with { Header = rehearsal.AsFlown };
        var read = RunFile.Read(new StringReader(Flown(log, rehearsal.Data)));
        Assert.Equal(log.Commands, read.Commands);
        Assert.Equal(rehearsal.Data.Files, read.Data!.Files);
        var again = Rehearsal.Replay(read.Data.Load(), read);
        Assert.Equal(rehearsal.Machine.Digest(), again.Machine.Digest());
        Assert.Equal(RunOutcome.Of(rehearsal).Judgement.Sentence, RunOutcome.Of(again).Judgement.Sentence);
        Assert.NotEqual(Repository.Fleet.VersionFor("juniper", "skerrow-main").Digest, again.Data.Digest);
    }

    [Theory]
    [InlineData("{\"file\":\"a.json\",\"text\":\"x\"}", 1, "data")]
    [InlineData("{\"file\":\"a.json\"}", 2, "file")]
    [InlineData("{\"text\":\"x\"}", 2, "file")]
    [InlineData("{\"t\":1,\"file\":\"a.json\",\"text\":\"x\"}", 2, "file")]
    [InlineData("{\"t\":1,\"set\":\"battery\",\"to\":\"on\"}\n{\"file\":\"a.json\",\"text\":\"x\"}", 3, "file")]
    public void Data_that_are_not_those_of_the_header_or_stand_elsewhere_are_refused(string lines, int line, string field)
    {
        var header = Flown(new RunLog(new Rehearsal(Repository.Fleet, Situations.Calm).AsFlown, []), null);
        var e = Assert.Throws<RunFileException>(() => RunFile.Read(new StringReader(header + lines)));
        Assert.Equal((line, field), (e.Line, e.Field));
    }

    [Theory]
    [InlineData("no digest")]
    [InlineData("ABCDEF0123456789ABCDEF0123456789")]
    public void A_digest_that_is_none_is_named(string digest) =>
        Assert.StartsWith("data: ", Assert.Throws<FormatException>(() => Repository.Fleet.Build(Situations.Calm with { Data = digest })).Message, StringComparison.Ordinal);
}
