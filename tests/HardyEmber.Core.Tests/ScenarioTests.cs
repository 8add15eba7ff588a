using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Procedure and judge, by scenario files: a situation, a pilot with habits or a list of commands, and what must be found.</summary>
public sealed class ScenarioTests
{
    private sealed record Scenario(RunHeader Header, Pilot? Pilot, JsonElement[]? Commands, Expectation Expect);

    private sealed record Pilot(double ReactionS, string[]? Forgets = null, double? ImpatientAfterS = null, bool CutsOff = true, double? LetsGoAfterS = null, Slip[]? Slips = null);

    private sealed record Expectation(Verdict Verdict, string[] Findings, string[]? Absent = null, string[]? Steps = null, string? Missing = null, double? PeakBelowC = null,
        double? PeakAboveC = null,
        Dictionary<string, double>? Signals = null, Question? Why = null);

    /// <summary>What "why will it not take" must name when asked about a target at the end.</summary>
    private sealed record Question(string Target, string[] Names);

    private static readonly JsonSerializerOptions Lenient = new(FleetJson.Options) { RespectRequiredConstructorParameters = false };

    private static string Folder => Path.Combine(AppContext.BaseDirectory, "Scenarios");

    public static TheoryData<string> Files => [.. Directory.EnumerateFiles(Folder, "*.json", SearchOption.AllDirectories).Select(f => Path.GetRelativePath(Folder, f)[..^5])
        .Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Files))]
    public void The_judge_finds_what_the_scenario_holds(string name)
    {
        var scenario = JsonSerializer.Deserialize<Scenario>(File.ReadAllText(Path.Combine(Folder, name + ".json")), Lenient)!;
        var rehearsal = scenario.Pilot is { } pilot ? Flown(scenario.Header, pilot) : Replayed(scenario);
        var judgement = rehearsal.Judge.Conclude();
        var codes = judgement.Findings.Select(f => f.Code).ToHashSet();
        var story = string.Join("; ", judgement.Findings.Select(f => $"{f.Code} {f.Step}: {f.What}"));
        Assert.True(scenario.Expect.Verdict == judgement.Verdict, $"{judgement.Sentence} {story}");
        Assert.All(scenario.Expect.Findings, code => Assert.True(codes.Contains(code), $"{code} was not found in: {story}"));
        Assert.All(scenario.Expect.Absent ?? [], code => Assert.False(codes.Contains(code), $"{code} was found in: {story}"));
        Assert.All(scenario.Expect.Steps ?? [], step => Assert.Contains(step, judgement.Findings.Select(f => f.Step)));
        Assert.All(judgement.Findings, f => Assert.True(f.What.Length > 0 && f.Consequence.Length > 0 && f.Instead.Length > 0 && f.To >= f.From));
        if (scenario.Expect.Missing is { } missing)
        {
            Assert.Contains(missing, judgement.Missing);
        }

        foreach (var (signal, value) in scenario.Expect.Signals ?? [])
        {
            Assert.True(value == rehearsal.Machine[signal], $"{signal} is {rehearsal.Machine[signal]}, not {value}");
        }

        if (scenario.Expect.Why is { } why)
        {
            var named = new WillNotTake(rehearsal.Machine).For(why.Target).Effects.SelectMany(e => e.Chain).Select(u => u.Signal).ToHashSet();
            Assert.All(why.Names, name => Assert.True(named.Contains(name), $"{why.Target}: {name} is not among {string.Join(", ", named)}"));
        }

        var peak = RunSummary.Of(rehearsal).PeakC.Values.DefaultIfEmpty(scenario.Header.Conditions.OatC).Max();
        Assert.InRange(peak, scenario.Expect.PeakAboveC ?? double.MinValue, scenario.Expect.PeakBelowC ?? double.MaxValue);
    }

    private static Rehearsal Flown(RunHeader header, Pilot p)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(rehearsal, new PilotTraits(p.ReactionS, p.Forgets?.ToHashSet(), p.ImpatientAfterS, p.CutsOff, p.LetsGoAfterS), p.Slips).Fly(1500);
        return rehearsal;
    }

    private static Rehearsal Replayed(Scenario scenario)
    {
        var text = string.Join('\n', new[] { JsonSerializer.Serialize(scenario.Header,
            FleetJson.Line) }.Concat(scenario.Commands!.Select(c => JsonSerializer.Serialize(c, FleetJson.Line))));
        return Rehearsal.Replay(Repository.Fleet, RunFile.Read(new StringReader(text)));
    }
}
