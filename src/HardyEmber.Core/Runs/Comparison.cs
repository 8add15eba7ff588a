using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;

namespace HardyEmber.Core.Runs;

/// <summary>What a comparison takes of a run.</summary>
/// <param name="Fleet">The data that it was flown with.</param>
/// <param name="Milestones">When each step was first done, s.</param>
public sealed record ComparedRun(Fleet Fleet, RunHeader Header, Judgement Judgement, IReadOnlyDictionary<string, double> Milestones);

/// <summary>A step in two runs.</summary>
/// <param name="HereS">When it was first done, s; null where it was not, or was not asked for.</param>
public sealed record StepCompared(string Step, string Cue, double? HereS, double? ThereS);

/// <summary>A phase in two runs.</summary>
/// <param name="HereS">When the last of its steps was first done, s; null where none was.</param>
public sealed record PhaseCompared(string Id, string Title, double? HereS, double? ThereS, IReadOnlyList<StepCompared> Steps);

/// <summary>What the judge found in one run of the two, or in both.</summary>
/// <param name="Found">As it was found here, or there where it was not found here.</param>
public sealed record FindingCompared(Finding Found, bool Here, bool There);

/// <summary>Two runs of one type beside one another, as they were judged when they ended.</summary>
/// <param name="Sentence">What the difference comes to.</param>
/// <param name="Here">Where the time of this start went; null in the air.</param>
/// <param name="There">The same of the other.</param>
/// <param name="Findings">Those of one run first.</param>
public sealed record Comparison(string Sentence, ChainSignature? Here, ChainSignature? There, IReadOnlyList<PhaseCompared> Phases, IReadOnlyList<FindingCompared> Findings)
{
    private const double WorthTellingS = 1;
    private const int MostCauses = 2, MostLacking = 2;

    /// <exception cref="FormatException">They are of different types, or one was flown and the other started.</exception>
    public static Comparison Of(ComparedRun here, ComparedRun there)
    {
        ArgumentNullException.ThrowIfNull(here);
        ArgumentNullException.ThrowIfNull(there);
        if (here.Header.Aircraft != there.Header.Aircraft)
        {
            throw new FormatException($"with: that run is of {NameOf(there)}, this one of {NameOf(here)}; two runs of one type can be compared");
        }

        if (here.Header.Flight is null != there.Header.Flight is null)
        {
            throw new FormatException("with: one of the two begins in the air and the other on the ground; two of a kind can be compared");
        }

        var (heldHere, heldThere) = (SignatureOf(here), SignatureOf(there));
        var phases = PhasesOf(here, there);
        var findings = FindingsOf(here.Judgement.Findings, there.Judgement.Findings);
        var time = heldHere is null || heldThere is null ? null : TimeTold(here, there, heldHere, heldThere, phases);
        return new Comparison(string.Join(' ', new[] { time, FindingsTold(findings) }.OfType<string>()), heldHere, heldThere, phases, findings);
    }

    private static string NameOf(ComparedRun run) => run.Fleet.FindAircraft(run.Header.Aircraft).Name;

    private static ChainSignature? SignatureOf(ComparedRun run) => ChainSignature.Of(run.Fleet, run.Header, run.Milestones);

    private static bool Finished(ComparedRun run) => run.Judgement.Missing.Count == 0;

    private static double SecondsOf(ChainSignature held) => held.Links.Sum(l => l.Seconds);

    // In the order of this run's procedure; what only the other was asked for comes after it.
    private static List<PhaseCompared> PhasesOf(ComparedRun here, ComparedRun there)
    {
        var (ours, theirs) = (StepsOf(here), StepsOf(there));
        var known = ours.Select(s => s.Step.Id).ToHashSet();
        return [.. ours.Concat(theirs.Where(s => !known.Contains(s.Step.Id))).GroupBy(s => s.Step.Phase).Select(phase =>
        {
            var steps = phase.Select(s => new StepCompared(s.Step.Id, s.Step.Definition.Cue, DoneAt(here, s.Step.Id), DoneAt(there, s.Step.Id))).ToList();
            return new PhaseCompared(phase.Key, phase.First().Title, steps.Max(s => s.HereS), steps.Max(s => s.ThereS), steps);
        })];
    }

    private static List<(StepInForce Step, string Title)> StepsOf(ComparedRun run)
    {
        var procedure = ProcedureInForce.Of(run.Fleet.ProcedureFor(run.Header), run.Fleet.FindAircraft(run.Header.Aircraft), run.Fleet.FindPlace(run.Header.Place), run.Header);
        var titles = procedure.Definition.Phases.ToDictionary(p => p.Id, p => p.Title);
        return [.. procedure.Steps.Select(s => (s, titles[s.Phase]))];
    }

    private static double? DoneAt(ComparedRun run, string step) => run.Milestones.TryGetValue(step, out var at) ? at : null;

    // The same finding is of the same kind, about the same step or reading; each is matched once.
    private static List<FindingCompared> FindingsOf(IReadOnlyList<Finding> here, IReadOnlyList<Finding> there)
    {
        static (string, string?, string?) Kind(Finding f) => (f.Code, f.Step, f.Evidence?.Signal);
        var left = there.ToList();
        var all = new List<FindingCompared>();
        foreach (var finding in here)
        {
            var same = left.FindIndex(f => Kind(f) == Kind(finding));
            if (same >= 0)
            {
                left.RemoveAt(same);
            }

            all.Add(new FindingCompared(finding, true, same >= 0));
        }

        return [.. all.Concat(left.Select(f => new FindingCompared(f, false, true))).OrderBy(f => f.Here && f.There).ThenByDescending(f => f.Found.Severity)];
    }

    private static string TimeTold(ComparedRun here, ComparedRun there, ChainSignature heldHere, ChainSignature heldThere, IReadOnlyList<PhaseCompared> phases)
    {
        if (!Finished(here) || !Finished(there))
        {
            return (Finished(here), Finished(there)) switch
            {
                (true, false) => $"The other was not ready: {Lacked(there, phases, p => p.ThereS)}.",
                (false, true) => $"This one was not ready: {Lacked(here, phases, p => p.HereS)}.",
                _ => "Neither was ready.",
            };
        }

        var sooner = SecondsOf(heldThere) - SecondsOf(heldHere);
        if (Math.Abs(sooner) < WorthTellingS)
        {
            return $"Both were ready after {Clock.Span(SecondsOf(heldHere))}.";
        }

        var causes = heldHere.Links.Select(l => (l.Label, Seconds: Math.Sign(sooner) * ((heldThere.Links.FirstOrDefault(t => t.Id == l.Id)?.Seconds ?? 0) - l.Seconds)))
            .Where(c => c.Seconds >= WorthTellingS).OrderByDescending(c => c.Seconds).Take(MostCauses).Select(c => $"{Clock.Span(c.Seconds)} at {c.Label}").ToList();
        return $"This one was ready {Clock.Span(Math.Abs(sooner))} {(sooner > 0 ? "sooner" : "later")}{(causes.Count > 0 ? $": {string.Join(" and ", causes)}" : "")}.";
    }

    // Little that was lacking is named; who was stopped lacked much.
    private static string Lacked(ComparedRun run, IReadOnlyList<PhaseCompared> phases, Func<PhaseCompared, double?> at) =>
        run.Judgement.Missing.Count <= MostLacking ? string.Join(" and ", run.Judgement.Missing)
        : phases.Where(p => at(p) > 0).MaxBy(at) is { } last ? $"it came as far as {last.Title}" : "it was never begun";

    private static string? FindingsTold(List<FindingCompared> findings)
    {
        var (here, there) = (findings.Count(f => f.Here && !f.There), findings.Count(f => f.There && !f.Here));
        return (here, there) switch
        {
            (0, 0) => findings.Count > 0 ? "The same was found in both." : "Nothing was found in either.",
            (_, 0) => $"{Number(here)} this one’s alone.",
            (0, _) => $"{Number(there)} the other’s alone.",
            _ => $"{Number(here)} this one’s alone, {there} the other’s.",
        };
    }

    private static string Number(int count) => count == 1 ? "1 finding is" : $"{count} findings are";
}
