using System.Text.Json;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Runs;

/// <summary>
/// The rehearsals of the demo squadron, as read from <c>demo/squadron.json</c>: who flew what, when, and with which habits. What
/// came of it is not written anywhere: a scripted pilot flies each through the real simulator.
/// </summary>
public sealed record Squadron(string Format, int Version, IReadOnlyList<SquadronFlight> Flights)
{
    public const string FormatName = "hardy-ember/squadron";

    /// <exception cref="FormatException">It is no squadron; the message names the place.</exception>
    public static Squadron Read(FleetFile file)
    {
        ArgumentNullException.ThrowIfNull(file);
        try
        {
            var squadron = JsonSerializer.Deserialize<Squadron>(file.Text, FleetJson.Options);
            return squadron is { Format: FormatName, Version: 1 } ? squadron : throw new FormatException($"{file.Path}: format: version 1 of {FormatName} is needed");
        }
        catch (JsonException e)
        {
            throw new FormatException($"{file.Path}: line {e.LineNumber + 1}, {FleetJson.FieldOf(e)}: {FleetJson.Plain(e)}", e);
        }
    }
}

/// <param name="DaysAgo">Days before the day on which the logbook is filled.</param>
/// <param name="Traits">How the pilot flew.</param>
/// <param name="Slips">What the pilot did besides, seconds into the run.</param>
/// <param name="KeptAs">Name of the run file in <c>demo/</c> that this flight is kept as.</param>
public sealed record SquadronFlight(double DaysAgo, RunHeader Header, PilotTraits Traits, IReadOnlyList<Slip>? Slips = null, string? KeptAs = null)
{
    /// <summary>Nobody sits longer in a jet that does not start.</summary>
    private const double LongestS = 1200;

    /// <summary>Flies it.</summary>
    /// <exception cref="FormatException">Its header names something that does not exist.</exception>
    public (RunLog Log, Rehearsal Flown) Fly(Fleet fleet)
    {
        var rehearsal = new Rehearsal(fleet, Header);
        var log = new ScriptedPilot(rehearsal, Traits, Slips).Fly(LongestS);
        return (log, rehearsal);
    }
}

/// <summary>A control moved at a time, whatever the procedure says.</summary>
public sealed record Slip(double T, string Set, string To);
