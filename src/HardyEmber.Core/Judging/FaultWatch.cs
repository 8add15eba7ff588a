using System.Globalization;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>Watches the faults a run carries: when each could be seen, when it was reported, when it was answered rightly.</summary>
internal sealed class FaultWatch
{
    private readonly Watched[] _watched;
    private readonly FaultCatalog _catalog;
    private readonly double[] _v;
    private readonly List<Finding> _false = [];

    private sealed class Watched(RunFault fault, FaultDefinition definition, Condition? sign, Condition? answer, Condition? damage)
    {
        public RunFault Fault { get; } = fault;
        public FaultDefinition Definition { get; } = definition;
        public Condition? Sign { get; } = sign;
        public Condition? Answer { get; } = answer;
        public Condition? Damage { get; } = damage;
        public double SignAt = -1, ReportedAt = -1, AnsweredAt = -1, DamagingSince = -1, DamagedAt = -1;
        public bool Right => AnsweredAt >= 0 || Definition.Report && ReportedAt >= 0;
    }

    public FaultWatch(Machine machine, FaultCatalog catalog)
    {
        (_catalog, _v) = (catalog, machine.Signals.Values);
        // What the judge has no measure for, it is silent about.
        _watched = [.. machine.Faults.Where(f => catalog.Faults.Any(x => x.Code == f.Code && (x.Report || x.Answer is not null))).Select(f =>
        {
            var d = catalog.Faults.First(x => x.Code == f.Code);
            Condition? Read(string? text, string field) => text is null ? null : machine.Compile(FaultSchedule.Named(text, f), $"faults.{f.Code}.{field}").Condition;
            return new Watched(f, d, Read(d.Sign, "sign"), Read(d.Answer, "answer"), Read(d.Damage, "damage"));
        })];
    }

    /// <summary>A fault that forbids the flight was recognised: not to launch was right.</summary>
    public string? Grounded => _watched.FirstOrDefault(w => w.Definition.Grounds && (w.ReportedAt >= 0 || w.AnsweredAt >= 0))?.Definition.Label;

    /// <summary>What has shown, is to be reported and was not: the first of them.</summary>
    public FaultDefinition? Unsaid
    {
        get
        {
            foreach (var w in _watched)
            {
                if (w.SignAt >= 0 && w.Definition.Report && !w.Right)
                {
                    return w.Definition;
                }
            }

            return null;
        }
    }

    public void Hear(RunCommand command)
    {
        var match = _watched.FirstOrDefault(w => w.Fault.Code == command.Target && w.Fault.At <= command.Time
            && (command.Position is null || command.Position == (w.Fault.Engine ?? w.Fault.Item)));
        if (match is not null)
        {
            match.ReportedAt = match.ReportedAt < 0 ? command.Time : match.ReportedAt;
            return;
        }

        var label = _catalog.Faults.First(f => f.Code == command.Target).Label;
        _false.Add(new Finding("false-report", Severity.Caution, command.Time, command.Time,
            $"“{label}{(command.Position is { } p ? $", {p}" : "")}” was reported, and was not so.",
            "The crew looks for what is not there, and the jet stays on the ground.", "Look for the sign, not for the story.", Step: $"{command.Target} {command.Position}"));
    }

    public void Look(double t)
    {
        foreach (var w in _watched)
        {
            if (w.SignAt < 0 && t >= w.Fault.At && (w.Sign is null || w.Sign.Holds(_v)))
            {
                w.SignAt = t;
            }

            if (w.SignAt >= 0 && w.AnsweredAt < 0 && w.Answer is { } answer && answer.Holds(_v))
            {
                w.AnsweredAt = t;
            }

            if (w.Damage is { } damage && w.DamagedAt < 0)
            {
                w.DamagingSince = !damage.Holds(_v) ? -1 : w.DamagingSince < 0 ? t : w.DamagingSince;
                w.DamagedAt = w.DamagingSince >= 0 && t - w.DamagingSince >= w.Definition.DamageS ? t : -1;
            }
        }
    }

    public IEnumerable<Finding> Conclude(double end) => _watched.Select(w => Judged(w, end)).OfType<Finding>().Concat(_false);

    private static Finding? Judged(Watched w, double end)
    {
        var d = w.Definition;
        var where = (w.Fault.Engine ?? w.Fault.Item) is { } place ? $"{d.Label}, {place.Replace('-', ' ')}" : d.Label;
        var key = $"{d.Code} {w.Fault.Engine ?? w.Fault.Item}".TrimEnd();
        if (w.SignAt < 0 && w.ReportedAt < 0)
        {
            return new Finding("fault-unseen", Severity.Note, w.Fault.At, end, $"{where}: it was there and never showed.", d.Consequence,
                $"What would have shown it: {d.Signature}", Step: key);
        }

        if (w.DamagedAt >= 0)
        {
            var from = w.SignAt < 0 ? w.DamagingSince : w.SignAt;
            return new Finding("fault-damage", Severity.Damage, from, w.DamagedAt, $"{where}: it ran on for {Seconds(w.DamagedAt - from)} until something broke.",
                d.Consequence, d.Response,
                new Evidence(key, Math.Round(w.DamagedAt - from, 1), d.DamageS, "s"), key);
        }

        var sign = w.SignAt < 0 ? w.ReportedAt : w.SignAt;
        var recognised = new[] { w.ReportedAt, w.AnsweredAt }.Where(t => t >= 0).DefaultIfEmpty(-1).Min();
        if (w.Right)
        {
            var right = new[] { d.Report ? w.ReportedAt : -1, w.AnsweredAt }.Where(t => t >= 0).Min();
            var reaction = Math.Max(0, right - sign);
            var good = reaction <= d.WithinS;
            return new Finding(good ? "fault-answered" : "fault-late", good ? Severity.Note : Severity.Caution, sign, right,
                $"{where}: {(good ? "recognised and answered" : "answered late,")} {Seconds(reaction)} after its first sign.", good ? d.Signature : d.Consequence,
                good ? "That was right." : $"{d.Response} Within {Seconds(d.WithinS)}.", new Evidence(key, Math.Round(reaction, 1), d.WithinS, "s"), key);
        }

        if (recognised >= 0)
        {
            return new Finding("fault-not-answered", Severity.Caution, sign, end, $"{where}: reported after {Seconds(Math.Max(0, recognised - sign))}, but not answered.",
                d.Consequence, d.Response, Step: key);
        }

        return end - sign < d.WithinS ? null
            : new Finding("fault-missed", Severity.Warning, sign, end, $"{where}: its sign was there for {Seconds(end - sign)} and nobody acted on it.",
                $"{d.Signature} {d.Consequence}", d.Response,
                new Evidence(key, Math.Round(end - sign), d.WithinS, "s"), key);
    }

    private static string Seconds(double s) => s >= 100 ? $"{Clock.Span(Math.Floor(s))} min" : s.ToString("0.0", CultureInfo.InvariantCulture) + " s";
}
