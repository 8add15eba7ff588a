using System.Text.Json.Serialization;

namespace HardyEmber.Core.Definitions;

/// <summary>The first line of a run: everything that, with the command log, fixes the trajectory to the last bit.</summary>
public sealed record RunHeader
{
    public const string FormatName = "hardy-ember/run";
    public const int KnownVersion = 1;

    /// <summary>The longest run, s.</summary>
    public const double MaxSeconds = 6 * 3600;

    /// <summary>The most faults that are drawn for one run.</summary>
    public const int MostSurprises = 3;

    public string Format { get; init; } = FormatName;
    public int Version { get; init; } = KnownVersion;
    public required string Aircraft { get; init; }
    public required string Place { get; init; }
    public required string Spot { get; init; }
    public required long Seed { get; init; }

    /// <summary>first (a cold jet), turnaround (as the last pilot left it) or air (an in-flight restart).</summary>
    [JsonPropertyName("start")]
    public required string Beginning { get; init; }
    public required RunConditions Conditions { get; init; }
    public LoadingHeader? Loading { get; init; }

    /// <summary>What the inertial set is wanted for; the type's own where nothing is said. No effect on the machine.</summary>
    public LegHeader? Leg { get; init; }

    /// <summary>How the jet was left.</summary>
    public ParkedHeader? Parked { get; init; }
    public IReadOnlyDictionary<string, string> School { get; init; } = new Dictionary<string, string>();
    public IReadOnlyList<RunFault> Faults { get; init; } = [];

    /// <summary>How many faults are drawn from the seed besides those named; nobody is told which.</summary>
    [Between(0, MostSurprises)]
    public int Surprises { get; init; }

    /// <summary>Where there are surprises: what was drawn when the run was made. Where nothing is said it is drawn when the run is flown.</summary>
    public IReadOnlyList<RunFault>? Drawn { get; init; }

    /// <summary>Digest of the data that it was flown with, see <c>DataVersion</c>; where nothing is said, today's.</summary>
    public string? Data { get; init; }

    /// <summary>Version of the physics that it was flown with.</summary>
    [Between(1, 1_000_000)]
    public int? Physics { get; init; }

    /// <summary>Flight state at the beginning of an in-flight run.</summary>
    public RunFlight? Flight { get; init; }

    /// <summary>The drill that filled it in. No effect on the machine.</summary>
    public string? Drill { get; init; }

    /// <summary>How many drills its pilot had flown within the hours before it: the logbook's word, which some schools ask for.</summary>
    [Between(0, 3)]
    public int? Drilled { get; init; }

    /// <summary>Callsign of whoever flies it.</summary>
    public string Pilot { get; init; } = "";

    /// <summary>What makes an engine flame out has a code that begins so.</summary>
    public const string FlameOut = "flame-out";

    /// <summary>The engine that a restart is about: the dead one; where none is, the one that will flame out, or else the first of the type.</summary>
    public string RestartEngine(AircraftDefinition aircraft)
    {
        ArgumentNullException.ThrowIfNull(aircraft);
        if (Flight is { Dead: not RunFlight.NoneDead } flight)
        {
            return flight.Dead;
        }

        var next = Flight is null ? null : Faults.FirstOrDefault(f => f.Code.StartsWith(FlameOut, StringComparison.Ordinal))?.Engine;
        return aircraft.Engines.FirstOrDefault(e => e.Id == next)?.Id ?? aircraft.Engines[0].Id;
    }

    /// <summary>guided, prompted or alone: how much the screen helps. No effect on the machine.</summary>
    public string Mode { get; init; } = Guided;

    /// <summary>The ways to rehearse: with the cue shown, with it when it is asked for, with nothing but the machine.</summary>
    public const string Guided = "guided", Prompted = "prompted", Alone = "alone";
}

/// <param name="OatC">Outside air temperature, °C.</param>
/// <param name="WindFromDeg">Degrees true. On a ship under way the wind is the one over its deck: all that is reckoned there, the way home too, is in its frame.</param>
/// <param name="PressureAltitudeFt">Pressure altitude of the spot; from the place's elevation and QNH where it is missing.</param>
/// <param name="QnhHpa">What the altimeter's dial can be set to.</param>
/// <param name="Night">Nothing in the cockpit can be read but by its own light; day where nothing is said.</param>
public sealed record RunConditions([property: Between(-60, 60)] double OatC, [property: Between(0, 360)] double WindFromDeg, [property: Between(0, 100)] double WindKt,
    [property: Between(-2000, 15000)] double? PressureAltitudeFt = null, [property: Between(900, 1060)] double? QnhHpa = null, bool? Night = null);

/// <param name="FuelLb">Fuel aboard.</param>
/// <param name="StoresLb">Stores aboard.</param>
public sealed record LoadingHeader([property: Between(0, 100_000)] double FuelLb, [property: Between(0, 100_000)] double StoresLb);

/// <param name="LengthNm">Length of the planned leg without another fix.</param>
/// <param name="Minutes">How long it takes.</param>
/// <param name="MarkNm">The position error that the mission can bear at its end, half of all times.</param>
public sealed record LegHeader([property: Between(1, 2000)] double LengthNm, [property: Between(1, 300)] double Minutes, [property: Between(0.05, 50)] double MarkNm);

/// <param name="HeadingStored">The last shutdown stored the heading, and nobody is said to have moved the jet since.</param>
/// <param name="Soak">How warm the jet is: soaked (as the air, also where nothing is said), hangared or flown.</param>
public sealed record ParkedHeader(bool HeadingStored = false, string? Soak = null);

/// <param name="At">Onset, seconds into the run.</param>
/// <param name="Item">The part it is in, for a fault that may sit in several: a lamp, a gauge, an inverter.</param>
public sealed record RunFault(string Code, string? Engine = null, [property: Between(0, RunHeader.MaxSeconds)] double At = 0, double? Level = null, string? Item = null);

/// <param name="Dead">Side of the flamed-out engine; <see cref="NoneDead"/> where all of them run.</param>
/// <param name="Other">idle or lost: the state of the other engine.</param>
/// <param name="FromNm">So far from the place it begins, NM, and flies towards it; over the place where nothing is said.</param>
/// <param name="CoreN2Pct">The dead core still turns at this speed; it windmills where nothing is said.</param>
/// <param name="BearingDeg">Where it lies then, seen from the place, degrees true; north where nothing is said.</param>
/// <param name="GroundFt">The highest ground on its way, ft; as high as the place where nothing is said. It counts from <see cref="OwnGroundNm"/> before the place.</param>
public sealed record RunFlight([property: Between(1000, RunFlight.HighestFt)] double HeightFt, [property: Between(80, 600)] double EasKt, string Dead,
    string Other = RunFlight.LostOther,
    [property: Between(0, 300)] double? FromNm = null, [property: Between(0, 360)] double? BearingDeg = null, [property: Between(0, 110)] double? CoreN2Pct = null,
    [property: Between(0, RunFlight.HighestGroundFt)] double? GroundFt = null)
{
    public const double HighestFt = 36_000, HighestGroundFt = 16_000;

    /// <summary>Nearer to the place than this, NM, the ground is the place's own.</summary>
    public const double OwnGroundNm = 5;

    /// <summary>What became of the other engine: it idles, or nothing lights it.</summary>
    public const string IdleOther = "idle", LostOther = "lost";

    /// <summary>All engines idle: the drill begins with something else than a flame-out.</summary>
    public const string NoneDead = "none";

    /// <summary>The ground that counts, ft, so far from the place: over high ground one decides, and comes down, higher.</summary>
    public double GroundAt(PlaceDefinition place, double nm)
    {
        ArgumentNullException.ThrowIfNull(place);
        return nm > OwnGroundNm && GroundFt > place.ElevationFt ? GroundFt.Value : place.ElevationFt;
    }

    /// <summary>The ground where it begins, ft.</summary>
    public double GroundAt(PlaceDefinition place) => GroundAt(place, FromNm ?? 0);

    /// <summary>The wind against it on its way to the place, kt; negative from behind.</summary>
    public double HeadwindKt(RunConditions conditions)
    {
        ArgumentNullException.ThrowIfNull(conditions);
        return conditions.WindKt * Math.Cos((conditions.WindFromDeg - (BearingDeg ?? 0) - 180) * Math.PI / 180);
    }
}
