using System.Buffers;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
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
    /// <exception cref="DataFaultException">Files are malformed or name what does not exist; everything that was found is in it.</exception>
    public static Fleet Load(IEnumerable<FleetFile> files)
    {
        ArgumentNullException.ThrowIfNull(files);
        var faults = new List<DataFault>();
        var trees = new Dictionary<string, JsonTree>();
        var (aircraft, procedures, places) = (new List<(string Path, AircraftDefinition Value)>(), new List<(string Path, ProcedureDefinition Value)>(),
            new List<PlaceDefinition>());
        FaultCatalog? catalog = null;
        var drills = new List<(string Where, string Path, AirDrill Value)>();
        FleetFile[] sorted = [.. files.OrderBy(f => f.Path, StringComparer.Ordinal)];
        var holds = new Dictionary<string, object>();
        foreach (var (path, value) in Read(sorted, trees, faults))
        {
            holds[path] = value;
            switch (value)
            {
                case AircraftDefinition a:
                    aircraft.Add((path, a));
                    break;
                case PlaceDefinition p:
                    places.Add(p);
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
        var fleet = new Fleet([.. sorted.Select(f => (f, holds.GetValueOrDefault(f.Path)))], [.. aircraft.Select(a => a.Value)], places,
            [.. procedures.Select(p => p.Value)], catalog, [.. drills.Select(d => d.Value)]);
        void Checked(string path, Action<DataProblems> check)
        {
            var problems = new DataProblems();
            problems.Try(() => check(problems));
            faults.AddRange(problems.Found.Select(f => trees[path].Find(f.Where) is var at ? new DataFault(at.File, at.Line, at.At, f.Where, f.Problem) : null!));
        }

        aircraft.ForEach(a => Checked(a.Path, p => fleet.Check(a.Value, p)));
        procedures.Where(x => !unsound.Contains(x.Value.Aircraft)).ToList().ForEach(x => Checked(x.Path, p => fleet.Check(x.Value, p)));
        if (faults.Count == 0)
        {
            drills.ForEach(d => Checked(d.Path, p => fleet.Check(d.Where, d.Value, p))); // what is wrong with its aircraft is said of the aircraft
        }

        return faults.Count == 0 ? fleet : throw new DataFaultException(faults);
    }

    private static readonly Dictionary<string, Type> Formats = new()
    {
        ["hardy-ember/aircraft"] = typeof(AircraftDefinition),
        ["hardy-ember/place"] = typeof(PlaceDefinition),
        ["hardy-ember/procedure"] = typeof(ProcedureDefinition),
        ["hardy-ember/faults"] = typeof(FaultCatalog),
        ["hardy-ember/drills"] = typeof(AirDrills),
    };

    private const string PartsFormat = "hardy-ember/parts";
    private const string WatchesFormat = "hardy-ember/watches";

    // What the files say, parts put in; what cannot be read is told of and left out.
    private static List<(string Path, object Value)> Read(IReadOnlyList<FleetFile> files, Dictionary<string, JsonTree> trees, List<DataFault> faults)
    {
        var wrong = new List<(JsonTree Tree, string Problem)>();
        var parts = new Parts(wrong);
        var common = new List<JsonTree>();
        var written = new List<(string Path, JsonTree Tree, Type Type)>();
        foreach (var file in files)
        {
            try
            {
                var tree = trees[file.Path] = JsonTree.Of(file.Text, file.Path);
                var format = tree.Members.GetValueOrDefault("format");
                if (format?.Text == PartsFormat)
                {
                    parts.Add(tree);
                }
                else if (format?.Text == WatchesFormat)
                {
                    common.AddRange(tree.Members.GetValueOrDefault("watches")?.Items ?? []);
                    ShapeCheck.Check(tree.With(tree.Members.Where(m => m.Key != "watches").Select(m => (m.Key, m.Value)).Append(("watches", JsonTree.Of("[]"))), []),
                        typeof(WatchFile), FleetJson.Options, wrong);
                }
                else if (format?.Text is { } word && Formats.TryGetValue(word, out var type))
                {
                    written.Add((file.Path, tree, type));
                }
                else
                {
                    wrong.Add((format ?? tree, $"\"{format?.Text}\" is not known{Nearest.Hint(format?.Text ?? "", Formats.Keys.Append(PartsFormat).Append(WatchesFormat))}"));
                }
            }
            catch (JsonException e)
            {
                faults.Add(new DataFault(file.Path, (int)(e.LineNumber ?? 0) + 1, "", $"line {e.LineNumber + 1}", FleetJson.Plain(e)));
            }
        }

        var read = new List<(string, object)>();
        foreach (var (path, tree, type) in written)
        {
            var before = wrong.Count;
            // A procedure may name what stands in its aircraft's file: a limit stands once.
            var jet = tree.Members.GetValueOrDefault("aircraft")?.Text is { } id
                ? written.Find(w => w.Type == typeof(AircraftDefinition) && w.Tree.Members.GetValueOrDefault("id")?.Text == id).Tree : null;
            var named = type == typeof(AircraftDefinition) ? WithWatches(tree, common) : tree;
            var known = type == typeof(AircraftDefinition) ? tree : jet;
            var whole = trees[path] = parts.Expand(named, known is null ? null : new Dictionary<string, JsonTree> { ["aircraft"] = known });
            ShapeCheck.Check(whole, type, FleetJson.Options, wrong);
            try
            {
                read.AddRange(wrong.Count == before ? [(path, Deserialize(whole, type))] : []);
            }
            catch (JsonException e)
            {
                wrong.Add((whole.Find(FleetJson.FieldOf(e)), FleetJson.Plain(e)));
            }
        }

        faults.AddRange(wrong.Select(f => new DataFault(f.Tree.File, f.Tree.Line, f.Tree.At, f.Tree.At.TrimStart('/').Replace('/', '.'), f.Problem)));
        return read;
    }

    // What all aircraft are watched for comes after what is their own.
    private static JsonTree WithWatches(JsonTree aircraft, List<JsonTree> common)
    {
        var own = aircraft.Members.GetValueOrDefault("watches") ?? JsonTree.Of("[]");
        return aircraft.Kind != JsonTokenType.StartObject || own.Kind != JsonTokenType.StartArray ? aircraft
            : aircraft.With(aircraft.Members.Where(m => m.Key != "watches").Select(m => (m.Key, m.Value)).Append(("watches", own.With([], own.Items.Concat(common)))), []);
    }

    private static object Deserialize(JsonTree tree, Type type)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var writer = new Utf8JsonWriter(buffer))
        {
            tree.WriteTo(writer);
        }

        return JsonSerializer.Deserialize(buffer.WrittenSpan, type, FleetJson.Options)!;
    }

    // A definition is sound when a machine can be built from it...
    private void Check(AircraftDefinition a, DataProblems problems)
    {
        var machine = Registry.Build(a, Places[0], Faults, SampleHeader(a, "first"), problems);
        void Known(string name, string where) => problems.Try(() => _ = machine.Signals.Find(name)
            ?? throw new FormatException($"{where}: there is no signal \"{name}\"{Nearest.Hint(name, machine.Signals.All.Select(i => i.Name))}"));
        foreach (var gauge in a.Gauges)
        {
            foreach (var name in new[] { gauge.Signal, gauge.Peak, gauge.Ahead }.OfType<string>())
            {
                Known(name, $"gauges.{gauge.Signal}");
            }
        }

        foreach (var link in a.Chain)
        {
            Known(link.Number, $"chain.{link.Id}.number");
        }

        problems.Try(() => _ = new ChainHanded(machine));

        // Gates are made of what has been looked at by now; where that was wrong, they would only repeat it.
        foreach (var gate in problems.Found.Count == 0 ? machine.Gates : [])
        {
            _ = machine.Compile(gate.Text, gate.Where);
            Known(gate.Signal, gate.Where);
        }

        foreach (var (definition, fault) in Faults.Faults.SelectMany(f => FaultDraw.Places(f, a, [.. machine.FaultInputNames]), (f, place) => (f, place.Fault)))
        {
            _ = machine.Compile(FaultSchedule.Named(definition.Sign, fault), $"faults.{definition.Code}.sign");
            _ = machine.Compile(FaultSchedule.Named(definition.Answer, fault), $"faults.{definition.Code}.answer");
        }

        foreach (var watch in a.Watches)
        {
            Judge.Check(watch, machine);
        }

        foreach (var former in a.Formerly)
        {
            foreach (var (control, position) in former.Now)
            {
                if (a.Controls.FirstOrDefault(c => c.Id == control)?.Positions.Contains(position) != true)
                {
                    problems.Add("formerly", $"there is no \"{control}\" with a position \"{position}\"");
                }
            }
        }

        // What a header may say of the pressure the altimeter can be set to, and to the lower one of a high field.
        var qnh = HeaderCheck.RangeOf(typeof(RunConditions), nameof(RunConditions.QnhHpa));
        foreach (var dial in a.Controls.Where(c => c.Kind == ControlKind.Dial && c.Unit == "hPa" && (c.Min > qnh.Low || c.Max < qnh.High)))
        {
            problems.Add($"controls.{dial.Id}", $"a dial in hPa covers {qnh.Low} to {qnh.High}, as conditions.qnhHpa does");
        }

        var links = a.Chain.Select(c => c.Id).ToHashSet();
        var linked = a.Controls.Select(c => (Where: $"controls.{c.Id}.link", c.Link)).Concat(a.Gauges.Select(g => (Where: $"gauges.{g.Signal}.link", g.Link)))
            .Concat(a.Lamps.Select(l => (Where: $"lamps.{l.Id}.link", l.Link))).Concat(a.Families.Select(f => (Where: $"families.{f.Key}", Link: f.Value)));
        foreach (var (where, link) in linked.Where(l => !links.Contains(l.Link)))
        {
            problems.Add(where, $"the chain has no link \"{link}\"{Nearest.Hint(link, links)}");
        }
    }

    // ... and a procedure when every condition of it compiles, whatever is taught.
    private void Check(ProcedureDefinition p, DataProblems problems)
    {
        if (Aircraft.FirstOrDefault(a => a.Id == p.Aircraft) is not { } aircraft)
        {
            problems.Add("aircraft", $"there is no aircraft \"{p.Aircraft}\"{Nearest.Hint(p.Aircraft, Aircraft.Select(a => a.Id))}");
            return;
        }

        foreach (var (question, answer) in p.Schools.SelectMany(q => q.Answers, (q, a) => (q, a)).Where(x => x.a.Needs is not (null or SchoolAnswer.HeadingStored)))
        {
            problems.Add($"schools.{question.Id}.{answer.Id}.needs", $"\"{answer.Needs}\" is not {SchoolAnswer.HeadingStored}");
        }

        foreach (var (step, code) in p.Phases.SelectMany(x => x.Steps).SelectMany(x => x.Catches, (x, c) => (x, c)).Where(x => Faults.Faults.All(f => f.Code != x.c)))
        {
            problems.Add($"steps.{step.Id}.catches", $"there is no fault \"{code}\"{Nearest.Hint(code, Faults.Faults.Select(f => f.Code))}");
        }

        var bases = Places.Where(place => place.Ship is null || aircraft.FliesFromShips).DistinctBy(place => place.Ship is null).ToList();
        foreach (var ((answers, beginning), place) in SchoolChoices(p).SelectMany(x => p.Beginnings.Select(beginning => (x, beginning)))
            .SelectMany(_ => bases, (x, place) => (x, place)))
        {
            // What is wrong with the aircraft is said of the aircraft.
            var problem = new DataProblems();
            var machine = Registry.Build(aircraft, place, Faults, SampleHeader(aircraft, beginning) with { Place = place.Id, Spot = place.Spots[0].Id, School = answers }, problem);
            var before = problem.Found.Count;
            problem.Try(() => new ProcedureTracker(p, machine).Definition.Watches.ToList().ForEach(w => Judge.Check(w, machine)));
            foreach (var (where, text) in problem.Found.Skip(before))
            {
                problems.Add(where, text);
            }
        }
    }

    // ... and a drill when its flight could begin.
    private void Check(string where, AirDrill drill, DataProblems problems)
    {
        var wrong = new DataProblems();
        wrong.Try(() =>
        {
            var header = drill.At(Places.First(p => p.Ship is null), 1);
            _ = new ProcedureTracker(ProcedureFor(header), Build(header));
        });
        if (!AirDrill.Endings.Contains(drill.Ends))
        {
            wrong.Add("ends", $"\"{drill.Ends}\" is none of {string.Join(", ", AirDrill.Endings)}");
        }

        foreach (var (field, problem) in wrong.Found)
        {
            problems.Add($"{where}.{field}", problem);
        }
    }

    private static IEnumerable<Dictionary<string, string>> SchoolChoices(ProcedureDefinition p)
    {
        var widest = p.Schools.Count == 0 ? 1 : p.Schools.Max(s => s.Answers.Count);
        for (var i = 0; i < widest; i++)
        {
            yield return p.Schools.ToDictionary(s => s.Id, s => s.Answers[Math.Min(i, s.Answers.Count - 1)].Id);
        }
    }

    /// <summary>A machine of a type, cold on the first ramp spot: to ask what it has, not to be flown; the same one at every call.</summary>
    /// <exception cref="FormatException">There is no such aircraft.</exception>
    public Machine Sample(string aircraft) => _samples.GetOrAdd(FindAircraft(aircraft).Id,
        id => Registry.Build(FindAircraft(id), Places[0], Faults, SampleHeader(FindAircraft(id), "first")));

    private RunHeader SampleHeader(AircraftDefinition aircraft, string beginning)
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
