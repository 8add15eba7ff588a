namespace HardyEmber.Core.Judging;

public enum Severity
{
    /// <summary>Worth knowing; no effect on the verdict.</summary>
    Note,
    Caution,
    Warning,

    /// <summary>The aircraft is damaged.</summary>
    Damage,
}

public enum Verdict
{
    LaunchReady,
    ReadyWithDefects,
    NotReady,
    AircraftDamaged,
}

/// <summary>What the judge rests a finding on: a signal's value against a limit.</summary>
/// <param name="Signal">A signal, or what else was measured.</param>
/// <param name="Limit">What it is held against; null where nothing is, and then not written.</param>
/// <param name="Label">The reading in the pilot's words; null in judgements of earlier versions, and where no reading has a name.</param>
public sealed record Evidence(string Signal, double Value, double? Limit = null, string Unit = "", string? Label = null);

/// <summary>One thing the judge found.</summary>
/// <param name="Code">Stable word for the kind of finding.</param>
/// <param name="From">Beginning of the time span, seconds.</param>
/// <param name="To">End of the time span, seconds.</param>
/// <param name="Step">The step it is about, where there is one.</param>
public sealed record Finding(string Code, Severity Severity, double From, double To, string What, string Consequence, string Instead, Evidence? Evidence = null,
    string? Step = null);

/// <summary>The verdict follows from rules, not points: damage first, then the procedure's own list of what must hold, then defects.</summary>
public sealed record Judgement(Verdict Verdict, string Sentence, IReadOnlyList<Finding> Findings, IReadOnlyList<string> Missing);
