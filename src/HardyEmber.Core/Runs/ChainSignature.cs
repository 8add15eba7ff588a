using System.Runtime.CompilerServices;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>How long a link of the chain held a start back, s.</summary>
public sealed record LinkHeld(string Id, string Label, double Seconds);

/// <summary>A stretch of a start that one step was waited for.</summary>
/// <param name="Link">Where on the chain that step is.</param>
/// <param name="Waited">Nothing but time brought it about: hands were free.</param>
public sealed record HeldSpell(string Link, string Step, string Cue, double FromS, double ToS, bool Waited);

/// <summary>
/// Where the time of a start went: the way back from the last step to the first, always to what the step had to wait for. A step of the hands
/// waited for the steps it relies on, and for the hands; one that time brings about (<see cref="StepInForce.Waits"/>) for the former, and for the hands
/// only until it was begun: after what stands before it in the list. The stretches add up to the time at which the last step was done.
/// </summary>
/// <param name="Links">Every link, in the order of the chain.</param>
/// <param name="Spells">The stretches, in the order of time.</param>
public sealed record ChainSignature(IReadOnlyList<LinkHeld> Links, IReadOnlyList<HeldSpell> Spells)
{
    private static readonly ConditionalWeakTable<ProcedureInForce, Way> Known = [];

    // What stands before each step, and where it is: the same for all runs of a procedure.
    private sealed record Way(IReadOnlyList<StepInForce> Steps, ILookup<string, string> Before, IReadOnlyDictionary<string, string> Links);

    /// <summary>Reads the stretches off the moments at which the steps were first done. Null in the air, where nothing is handed down a chain.</summary>
    /// <param name="milestones">When each step was first done, s.</param>
    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    public static ChainSignature? Of(Fleet fleet, RunHeader header, IReadOnlyDictionary<string, double> milestones)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(header);
        ArgumentNullException.ThrowIfNull(milestones);
        if (header.Flight is not null)
        {
            return null;
        }

        var aircraft = fleet.FindAircraft(header.Aircraft);
        var procedure = ProcedureInForce.Of(fleet.ProcedureFor(header), aircraft, fleet.FindPlace(header.Place), header);
        var way = Known.GetValue(procedure, p => WayOf(p, fleet, aircraft));
        var spells = Back(way, milestones);
        spells.Reverse();
        return new ChainSignature([.. aircraft.Chain.Select(l => new LinkHeld(l.Id, l.Label, Math.Round(spells.Where(s => s.Link == l.Id).Sum(s => s.ToS - s.FromS), 1)))], spells);
    }

    private static Way WayOf(ProcedureInForce procedure, Fleet fleet, AircraftDefinition aircraft)
    {
        var sample = fleet.Sample(aircraft.Id);
        var words = new SignalWords(sample);
        var last = aircraft.Chain[^1].Id;
        return new Way(procedure.Steps, Precedence.Of(procedure, sample.Signals, sample.Gates).ToLookup(p => p.After, p => p.Before),
            procedure.Steps.ToDictionary(s => s.Id, s => words.LinkOf(s.Definition.Act, s.Definition.Watch) is { } link && aircraft.Chain.Any(c => c.Id == link) ? link : last));
    }

    private static List<HeldSpell> Back(Way way, IReadOnlyDictionary<string, double> milestones)
    {
        // What was so before anybody did anything held nothing back.
        var places = way.Steps.Select((s, i) => (s.Id, i)).ToDictionary(p => p.Id, p => p.i);
        var done = way.Steps.Where(s => milestones.GetValueOrDefault(s.Id) > 0).OrderBy(s => milestones[s.Id]).ToList();
        var spells = new List<HeldSpell>();
        for (var step = done.LastOrDefault(); step is not null;)
        {
            var (at, waits, before) = (milestones[step.Id], step.Waits is not null, way.Before[step.Id]);
            var stood = done.LastOrDefault(s => milestones[s.Id] < at && (before.Contains(s.Id) || s.Waits is null && s.TakesS > 0 && (!waits || places[s.Id] < places[step.Id])));
            var from = stood is null ? 0 : milestones[stood.Id];
            spells.Add(new HeldSpell(way.Links[step.Id], step.Id, step.Definition.Cue, from, at, waits));
            step = stood;
        }

        return spells;
    }
}
