using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>A drill that a pilot has flown, as the logbook has it.</summary>
/// <param name="HoursAgo">When it was begun.</param>
/// <param name="Verdict">What it was given.</param>
/// <param name="Sentence">How it ended, in the judge's words.</param>
public sealed record DrillFlown(string Drill, double HoursAgo, Verdict Verdict, string Sentence, double Seconds)
{
    /// <summary>So long after the last of its causes a drill has shown what it is about, s.</summary>
    private const double ShownS = 8;

    /// <summary>It ended as the drill should: with nothing against it, or left where there is nothing else.</summary>
    public bool Well(AirDrill drill)
    {
        ArgumentNullException.ThrowIfNull(drill);
        return Verdict == Verdict.LaunchReady || drill.Ends == AirDrill.Leaves && Left;
    }

    /// <summary>It was flown to an end, good or bad, and not broken off before or while it was about something.</summary>
    public bool Whole(AirDrill drill)
    {
        ArgumentNullException.ThrowIfNull(drill);
        var shown = (drill.Faults ?? []).Select(f => f.At).DefaultIfEmpty(0).Max() + ShownS;
        return Seconds >= shown && (Verdict != Verdict.NotReady || Left);
    }

    private bool Left => Sentence.StartsWith(FlightOutcome.LeftWord, StringComparison.Ordinal);
}

/// <summary>One drill of the set.</summary>
/// <param name="Header">The run that it is: the sortie's weight and weather, the drill's height, speed and cause.</param>
/// <param name="Seconds">How long a steady pilot takes.</param>
/// <param name="Why">Why it is this one.</param>
/// <param name="Done">It has been flown to an end within the last hours.</param>
public sealed record DrillOffer(string Id, string Title, string About, RunHeader Header, double Seconds, string Why, bool Done);

/// <summary>
/// Three short drills before a launch: one of a dead engine, one of a flame-out in flight, one of fire or of what only looks like it, each for the sortie's
/// weight and weather, and of each kind the one that the pilot has never flown, last flew badly, or flies slowly.
/// </summary>
/// <param name="Seconds">All of them together, flown by a steady pilot.</param>
/// <param name="Done">How many of three different ones have been flown within the last hours.</param>
public sealed record BeforeLaunch(IReadOnlyList<DrillOffer> Drills, double Seconds, int Done)
{
    /// <summary>So many are flown before a launch where a school asks for it, and count for so long.</summary>
    public const int Asked = 3;

    /// <inheritdoc cref="Asked"/>
    public const double CountsHours = 4;

    /// <summary>A short drill is over by then, s; one that goes on longer than that is none for before a launch, and what never ends by itself is flown so long.</summary>
    private const double ShortS = 130, LongestS = 300, WatchedS = 60;

    /// <summary>So much longer than a steady pilot is slow.</summary>
    private const double SlowShare = 1.4;

    /// <summary>How many different drills were flown to an end within the last hours.</summary>
    public static int DoneOf(Fleet fleet, IEnumerable<DrillFlown> flown)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        return Math.Min(Asked, flown.Where(f => fleet.Drills.FirstOrDefault(d => d.Id == f.Drill) is { } drill && Counts(f, drill)).Select(f => f.Drill).Distinct().Count());
    }

    private static bool Counts(DrillFlown flown, AirDrill drill) => flown.HoursAgo < CountsHours && flown.Whole(drill);

    /// <summary>The set for a sortie.</summary>
    /// <param name="sortie">The start that it comes before.</param>
    /// <param name="flown">The pilot's drills on this type, the newest first.</param>
    /// <exception cref="FormatException">The header names something that does not exist.</exception>
    public static BeforeLaunch For(Fleet fleet, RunHeader sortie, IReadOnlyList<DrillFlown> flown)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(sortie);
        ArgumentNullException.ThrowIfNull(flown);
        var aircraft = fleet.FindAircraft(sortie.Aircraft);
        var place = fleet.FindPlace(sortie.Place);
        var offers = fleet.Drills.Where(d => d.Aircraft == aircraft.Id).GroupBy(Kind).OrderBy(g => g.Key)
            .Select(kind => kind.Select(d => Offer(fleet, aircraft, place, sortie, d, flown)).OfType<(DrillOffer Offer, double Need)>().ToList())
            // A short one where there is one. Where two are needed alike the seed draws.
            .Select(ranked => ranked.OrderBy(o => o.Offer.Seconds > ShortS).ThenByDescending(o => o.Need).ThenBy(o => new RandomStream(sortie.Seed, o.Offer.Id).Next())
                .Select(o => o.Offer).FirstOrDefault())
            .OfType<DrillOffer>().Take(Asked).ToList();
        return new BeforeLaunch(offers, Math.Round(offers.Sum(o => o.Seconds)), DoneOf(fleet, flown));
    }

    private static int Kind(AirDrill drill) => drill.Flight.Dead != RunFlight.NoneDead ? 0
        : drill.Faults is { } faults && faults.Any(f => f.Code.StartsWith(RunHeader.FlameOut, StringComparison.Ordinal)) ? 1 : 2;

    // Null where it takes too long.
    private static (DrillOffer Offer, double Need)? Offer(Fleet fleet, AircraftDefinition aircraft, PlaceDefinition place, RunHeader sortie, AirDrill drill,
        IReadOnlyList<DrillFlown> flown)
    {
        var plain = drill.At(place, sortie.Seed) with { Conditions = sortie.Conditions, Loading = sortie.Loading, Pilot = sortie.Pilot, Mode = sortie.Mode, Drill = drill.Id };
        var header = plain with { Flight = FlightCheck.Nearest(plain.Flight!, aircraft, place, plain) };
        var rehearsal = new Rehearsal(fleet, header);
        var m = rehearsal.Machine;
        if (!new ScriptedPilot(rehearsal).FlyUntil(() => m.Time > (drill.Ends == AirDrill.FliesOn ? WatchedS : LongestS)) && drill.Ends != AirDrill.FliesOn)
        {
            return null;
        }

        var seconds = Math.Round(m.Time);
        var last = flown.FirstOrDefault(f => f.Drill == drill.Id);
        var (need, why) = last is null ? (2.0, "not flown yet")
            : !last.Well(drill) ? (3.0, $"last time: {last.Sentence.TrimEnd('.')}")
            : last.Seconds > SlowShare * seconds ? (1 + last.Seconds / seconds / 10,
                string.Create(CultureInfo.InvariantCulture, $"last time it took {last.Seconds:0} s, a steady pilot takes {seconds:0}"))
            : (last.HoursAgo / 1e6, "flown well; it is the longest ago");
        return (new DrillOffer(drill.Id, drill.Title, drill.About, header, seconds, why, flown.Any(f => f.Drill == drill.Id && Counts(f, drill))), need);
    }
}
