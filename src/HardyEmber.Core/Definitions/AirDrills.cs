namespace HardyEmber.Core.Definitions;

/// <summary>The drills of a flight, as read from <c>fleet/drills.json</c>. No run rests on this file: a drill only fills in a situation.</summary>
public sealed record AirDrills(string Format, int Version, IReadOnlyList<AirDrill> Drills);

/// <param name="Flight">Where it begins; its height is over the field.</param>
/// <param name="About">What the pilot is told beforehand; never what will go wrong.</param>
/// <param name="Ends">How a pilot who follows the guide ends it, one of <see cref="Endings"/>.</param>
/// <param name="Night">It is flown in the dark.</param>
/// <param name="School">Answers to the school's questions that belong to it.</param>
public sealed record AirDrill(string Id, string Aircraft, string Title, string About, RunFlight Flight, string Ends, [property: Between(-60, 60)] double OatC = 15,
    IReadOnlyList<RunFault>? Faults = null, IReadOnlyDictionary<string, string>? School = null, bool? Night = null)
{
    public const string Runs = "runs", Home = "home", Leaves = "leaves", FliesOn = "flies-on";

    /// <summary>The dead engine runs again; home on the other one; the aircraft is left; nothing was wrong.</summary>
    public static IReadOnlyList<string> Endings { get; } = [Runs, Home, Leaves, FliesOn];

    /// <summary>The drill over a place's first spot, calm.</summary>
    public RunHeader At(PlaceDefinition place, long seed)
    {
        ArgumentNullException.ThrowIfNull(place);
        return new RunHeader
        {
            Aircraft = Aircraft,
            Place = place.Id,
            Spot = place.Spots[0].Id,
            Seed = seed,
            Beginning = "air",
            Conditions = new RunConditions(OatC, 0, 0, Night: Night),
            Flight = Flight with
            {
                HeightFt = Math.Min(RunFlight.HighestFt, Math.Round(Flight.HeightFt + place.ElevationFt)),
                GroundFt = Flight.GroundFt is { } ground ? Math.Min(RunFlight.HighestGroundFt, Math.Round(ground + place.ElevationFt)) : null,
            },
            Faults = Faults ?? [],
            School = School ?? new Dictionary<string, string>(),
        };
    }
}
