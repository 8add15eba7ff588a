using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Runs;

/// <summary>A data file of the fleet: its path (for errors only) and text.</summary>
public sealed record FleetFile(string Path, string Text);

/// <summary>All that the data files say, checked against each other when loaded.</summary>
public sealed class Fleet
{
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, Machine> _samples = new();

    private readonly System.Collections.Concurrent.ConcurrentDictionary<(string Aircraft, string Place), DataVersion> _versions = new();
    private readonly IReadOnlyList<(FleetFile File, object? Holds)> _files;

    private Fleet(IReadOnlyList<(FleetFile File, object? Holds)> files, IReadOnlyList<AircraftDefinition> aircraft, IReadOnlyList<PlaceDefinition> places,
        IReadOnlyList<ProcedureDefinition> procedures, FaultCatalog faults, IReadOnlyList<AirDrill> drills)
    {
        _files = files;
        (Aircraft, Places, Procedures, Faults, Drills) = (aircraft, places, procedures, faults, drills);
    }

    public IReadOnlyList<AircraftDefinition> Aircraft { get; }
    public IReadOnlyList<PlaceDefinition> Places { get; }
    public IReadOnlyList<ProcedureDefinition> Procedures { get; }
    public FaultCatalog Faults { get; }
    public IReadOnlyList<AirDrill> Drills { get; }

    /// <summary>The data files that a run of an aircraft at a place rests on.</summary>
    public DataVersion VersionFor(string aircraft, string place) => _versions.GetOrAdd((aircraft, place), _ => DataVersion.Of(_files.Where(f => f.Holds switch
    {
        AircraftDefinition a => a.Id == aircraft,
        ProcedureDefinition p => p.Aircraft == aircraft,
        PlaceDefinition p => p.Id == place,
        AirDrills => false,
        _ => true,
    }).Select(f => f.File)));

    /// <summary>Reads and checks a fleet.</summary>
    /// <param name="cancel">Nobody waits for it any more.</param>
    /// <exception cref="DataFaultException">Files are malformed or name what does not exist; everything that was found is in it.</exception>
    /// <exception cref="OperationCanceledException">It was cancelled.</exception>
    public static Fleet Load(IEnumerable<FleetFile> files, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(files);
        var faults = new List<DataFault>();
        var trees = new Dictionary<string, JsonTree>();
        var (aircraft, procedures, places) = (new List<(string Path, AircraftDefinition Value)>(), new List<(string Path, ProcedureDefinition Value)>(),
            new List<(string Path, PlaceDefinition Value)>());
        FaultCatalog? catalog = null;
        var drills = new List<(string Where, string Path, AirDrill Value)>();
        FleetFile[] sorted = [.. files.OrderBy(f => f.Path, StringComparer.Ordinal)];
        var holds = new Dictionary<string, object>();
        foreach (var (path, value) in FleetReader.Read(sorted, trees, faults, cancel))
        {
            holds[path] = value;
            switch (value)
            {
                case AircraftDefinition a:
                    aircraft.Add((path, a));
                    break;
                case PlaceDefinition p:
                    places.Add((path, p));
                    break;
                case ProcedureDefinition p:
                    var jet = aircraft.Find(a => a.Value.Id == p.Aircraft).Value;
                    procedures.Add((path, jet is null ? p : SweepSteps.WrittenOut(p, jet)));
                    break;
                case FaultCatalog f:
                    catalog = f;
                    break;
                case AirDrills d:
                    drills.AddRange(d.Drills.Select((x, i) => ($"drills[{i}]", path, x)));
                    break;
            }
        }

        foreach (var (there, format) in new[] { (catalog is not null, "faults"), (places.Count > 0, "place") })
        {
            if (!there && faults.Count == 0)
            {
                faults.Add(new DataFault("fleet", 0, "", "", $"there is no file of the format hardy-ember/{format}"));
            }
        }

        if (catalog is null || places.Count == 0)
        {
            throw new DataFaultException(faults);
        }

        // An aircraft that could not be read is told of once, not with each of its procedures.
        var unsound = trees.Values.Select(t => t.Members.GetValueOrDefault("id")?.Text).Except(aircraft.Select(a => a.Value.Id)).ToHashSet();
        var fleet = new Fleet([.. sorted.Select(f => (f, holds.GetValueOrDefault(f.Path)))], [.. aircraft.Select(a => a.Value)], [.. places.Select(p => p.Value)],
            [.. procedures.Select(p => p.Value)], catalog, [.. drills.Select(d => d.Value)]);
        void Checked(string path, Action<DataProblems> check)
        {
            var problems = new DataProblems(cancel);
            problems.Try(() => check(problems));
            faults.AddRange(problems.Found.Select(f => trees[path].Find(f.Where) is var at ? new DataFault(at.File, at.Line, at.At, f.Where, f.Problem) : null!));
        }

        var check = new FleetCheck(fleet, cancel);
        places.ForEach(p => Checked(p.Path, problems => FleetCheck.Place(p.Value, problems)));
        if (places[0].Value.Spots.Count == 0)
        {
            throw new DataFaultException(faults); // a jet to look at stands on the first spot of the first place
        }

        aircraft.ForEach(a => Checked(a.Path, p => check.Aircraft(a.Value, p)));
        procedures.Where(x => !unsound.Contains(x.Value.Aircraft)).ToList().ForEach(x => Checked(x.Path, p => check.Procedure(x.Value, p)));
        if (faults.Count == 0)
        {
            drills.ForEach(d => Checked(d.Path, p => check.Drill(d.Where, d.Value, p))); // what is wrong with its aircraft is said of the aircraft
        }

        return faults.Count == 0 ? fleet : throw new DataFaultException(faults);
    }

    /// <summary>A machine of a type, cold on the first ramp spot: to ask what it has, not to be flown; the same one at every call.</summary>
    /// <exception cref="FormatException">There is no such aircraft.</exception>
    public Machine Sample(string aircraft) => _samples.GetOrAdd(FindAircraft(aircraft).Id,
        id => Registry.Build(FindAircraft(id), Places[0], Faults, SampleHeader(FindAircraft(id), "first")));

    /// <summary>The plainest run of a type.</summary>
    internal RunHeader SampleHeader(AircraftDefinition aircraft, string beginning)
    {
        var place = Places[0];
        return new RunHeader
        {
            Aircraft = aircraft.Id,
            Place = place.Id,
            Spot = place.Spots[0].Id,
            Seed = 1,
            Beginning = beginning,
            Conditions = new RunConditions(15, 0, 0),
            Flight = beginning == "air" ? new RunFlight(25000, aircraft.Flight.GlideEasKt, aircraft.Engines[0].Id) : null,
        };
    }

    /// <exception cref="FormatException">There is no such aircraft.</exception>
    public AircraftDefinition FindAircraft(string id) => Aircraft.FirstOrDefault(a => a.Id == id)
        ?? throw new FormatException($"aircraft: there is no aircraft \"{id}\" ({string.Join(", ", Aircraft.Select(a => a.Id))})");

    /// <exception cref="FormatException">There is no such place.</exception>
    public PlaceDefinition FindPlace(string id) => Places.FirstOrDefault(p => p.Id == id)
        ?? throw new FormatException($"place: there is no place \"{id}\" ({string.Join(", ", Places.Select(p => p.Id))})");

    /// <summary>The procedure in force for a run.</summary>
    /// <exception cref="FormatException">The aircraft has none for this kind of start, or a school choice is not offered.</exception>
    public ProcedureDefinition ProcedureFor(RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(header);
        _ = FindAircraft(header.Aircraft);
        var p = Procedures.FirstOrDefault(p => p.Aircraft == header.Aircraft && p.Beginnings.Contains(header.Beginning))
            ?? throw new FormatException($"start: {header.Aircraft} has no procedure for the beginning \"{header.Beginning}\" "
                + $"({string.Join(", ", Procedures.Where(p => p.Aircraft == header.Aircraft).SelectMany(p => p.Beginnings))})");
        foreach (var (question, answer) in header.School)
        {
            var q = p.Schools.FirstOrDefault(s => s.Id == question) ?? throw new FormatException($"school.{question}: there is no such question");
            var chosen = q.Answers.FirstOrDefault(a => a.Id == answer)
                ?? throw new FormatException($"school.{question}: \"{answer}\" is none of {string.Join(", ", q.Answers.Select(a => a.Id))}");
            if (!chosen.IsOffered(header))
            {
                throw new FormatException($"school.{question}: \"{answer}\" needs parked.{chosen.Needs}");
            }
        }

        return p;
    }

    /// <summary>Builds the machine a header describes.</summary>
    /// <exception cref="FormatException">The header names something that does not exist or a value out of bounds.</exception>
    public Machine Build(RunHeader header, bool coarse = false)
    {
        ArgumentNullException.ThrowIfNull(header);
        HeaderCheck.Check(header);
        if (header.Format != RunHeader.FormatName || header.Version != RunHeader.KnownVersion)
        {
            throw new FormatException($"{(header.Format != RunHeader.FormatName ? "format" : "version")}: "
                + $"{RunHeader.FormatName}, version {RunHeader.KnownVersion}, is what is known here");
        }

        if (header.Beginning == "air" && header.Flight is null)
        {
            throw new FormatException("flight: an in-flight start needs a height, a speed and the dead engine");
        }

        if (header.Beginning != "air" && header.Flight is not null)
        {
            throw new FormatException("flight: only an in-flight start has one");
        }

        if (header.Flight is { Other: not ("idle" or "lost") })
        {
            throw new FormatException("flight.other: is idle or lost");
        }

        if (header.Mode is not (RunHeader.Guided or RunHeader.Prompted or RunHeader.Alone))
        {
            throw new FormatException("mode: is guided, prompted or alone");
        }

        if (header.Drawn is { Count: > RunHeader.MostSurprises })
        {
            throw new FormatException($"drawn: at most {RunHeader.MostSurprises} faults are drawn");
        }

        if (header.Data is { } digest && !DataVersion.IsDigest(digest))
        {
            throw new FormatException("data: is the digest of the data, 32 hexadecimal digits");
        }

        if (header.Pilot.Length > 40)
        {
            throw new FormatException("pilot: at most 40 characters");
        }

        var (aircraft, place) = (FindAircraft(header.Aircraft), FindPlace(header.Place));
        if (place.Ship is not null && !aircraft.FliesFromShips)
        {
            throw new FormatException($"place: {aircraft.Name} does not fly from a ship");
        }

        if (header.Flight is { } flight)
        {
            FlightCheck.Check(flight, aircraft, place, header);
        }

        if (header.Parked?.Soak is { } soak && !Soak.Known.Contains(soak))
        {
            throw new FormatException($"parked.soak: \"{soak}\" is none of {string.Join(", ", Soak.Known)}");
        }

        if (header.Parked is { HeadingStored: true } && aircraft.Inertial?.Stored is null)
        {
            throw new FormatException($"parked.headingStored: {aircraft.Name} cannot store a heading");
        }

        return Registry.Build(aircraft, place, FaultsFor(header, aircraft, place), header, coarse: coarse);
    }

    // A surprise that nobody could notice would be none: what the place or the school leaves no room for is not drawn.
    private FaultCatalog FaultsFor(RunHeader header, AircraftDefinition aircraft, PlaceDefinition place)
    {
        if (header.Surprises == 0 || header.Drawn is not null)
        {
            return Faults;
        }

        var procedure = ProcedureInForce.Of(ProcedureFor(header), aircraft, place, header);
        return Faults with { Faults = [.. Faults.Faults.Select(f => f.Felt is { } where && !procedure.Is(where) ? f with { Odds = 0 } : f)] };
    }
}
