using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The demo squadron and its kept run files: each is what its name says.</summary>
public sealed class DemoTests
{
    private static string FileOf(string name) => Path.Combine(Repository.Root, "demo", name + ".ndjson");

    private static Rehearsal Replayed(string name)
    {
        using var file = new StreamReader(FileOf(name));
        return Rehearsal.Replay(Repository.Fleet, RunFile.Read(file));
    }

    [Theory]
    [InlineData("good-start", "launch-ready", "")]
    [InlineData("cold-day", "launch-ready", "")]
    [InlineData("turnaround", "launch-ready", "")]
    [InlineData("air-restart", "launch-ready", "")]
    [InlineData("hot-start-cut-off", "not-ready", "hot-start-answered")]
    [InlineData("lost-alignment", "ready-with-defects", "alignment-lost")]
    public void A_kept_run_is_what_its_name_says(string name, string verdict, string finding)
    {
        var rehearsal = Replayed(name);
        var judgement = rehearsal.Judge.Conclude();
        Assert.Equal(verdict, System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName(judgement.Verdict.ToString()));
        Assert.True(finding.Length == 0 ? judgement.Findings.Count == 0 : judgement.Findings.Any(f => f.Code == finding),
            string.Join("; ", judgement.Findings.Select(f => f.What)));
        Assert.DoesNotContain(judgement.Findings, f => f.Code == "start-temperature");
    }

    [Fact]
    public void The_kept_files_are_those_that_the_squadron_names_and_come_back_as_they_are_written()
    {
        var kept = DemoFolder.Load(Path.Combine(Repository.Root, "demo")).Flights.Select(f => f.KeptAs).OfType<string>().Order().ToList();
        Assert.Equal(6, kept.Count);
        Assert.Equal(kept, Directory.EnumerateFiles(Path.Combine(Repository.Root, "demo"), "*.ndjson").Select(f => Path.GetFileNameWithoutExtension(f)!).Order());
        foreach (var name in kept)
        {
            var text = File.ReadAllText(FileOf(name));
            using var written = new StringWriter();
            RunFile.Write(written, RunFile.Read(new StringReader(text)));
            Assert.Equal(text, written.ToString());
        }
    }

    /// <summary>Who changes an equation raises the version of the physics; who changes data writes the new figures down.</summary>
    [Fact]
    public void A_kept_run_flies_as_it_was_written_down()
    {
        var kept = KeptRun.Read(File.ReadAllText(Path.Combine(Repository.Root, "demo", KeptRun.FileName)));
        Assert.Equal(6, kept.Count);
        foreach (var (name, before) in kept)
        {
            var now = KeptRun.Of(Repository.Fleet, File.ReadAllText(FileOf(name)));
            Assert.Null(before.Contradicts(now));
            Assert.True((before.Physics, before.Data, before.Run) == (now.Physics, now.Data, now.Run),
                $"{name}: data, physics or run have changed: ./ember demo writes down how it flies now");
        }
    }

    [Fact]
    public void Another_trajectory_under_the_same_version_is_told()
    {
        var kept = KeptRun.Of(Repository.Fleet, File.ReadAllText(FileOf("air-restart")));
        var last = kept.Values["end"].ToDictionary();
        last["right.n2"] *= 1.0001;
        var other = kept with { Values = kept.Values.ToDictionary(v => v.Key, v => v.Key == "end" ? last : v.Value) };
        Assert.Contains("right.n2 at end s", kept.Contradicts(other), StringComparison.Ordinal);
        Assert.Contains("Physics.Version", kept.Contradicts(other), StringComparison.Ordinal);
        Assert.Null(kept.Contradicts(other with { Physics = kept.Physics + 1 }));
        Assert.Null(kept.Contradicts(other with { Data = "another" }));
        Assert.Null(kept.Contradicts(kept));
    }

    [Theory]
    [InlineData("{}", "required fields are missing")]
    [InlineData("{\"format\":\"hardy-ember/run\",\"version\":1,\"flights\":[]}", "format")]
    [InlineData("{\"format\":\"hardy-ember/squadron\",\"version\":1,\"flights\":[{\"days\":1}]}", "is not known")]
    public void A_squadron_that_is_none_names_its_fault(string text, string complaint)
    {
        var e = Assert.Throws<FormatException>(() => Squadron.Read(new FleetFile("squadron.json", text)));
        Assert.Contains("squadron.json", e.Message, StringComparison.Ordinal);
        Assert.Contains(complaint, e.Message, StringComparison.Ordinal);
    }
}
