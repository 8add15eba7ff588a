using System.Text.Json;
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

    private Fleet(IReadOnlyList<AircraftDefinition> aircraft, IReadOnlyList<PlaceDefinition> places,
        IReadOnlyList<ProcedureDefinition> procedures, FaultCatalog faults)
    {
        (Aircraft, Places, Procedures, Faults) = (aircraft, places, procedures, faults);
    }

    public IReadOnlyList<AircraftDefinition> Aircraft { get; }
    public IReadOnlyList<PlaceDefinition> Places { get; }
    public IReadOnlyList<ProcedureDefinition> Procedures { get; }
    public FaultCatalog Faults { get; }

    /// <summary>Reads and checks a fleet.</summary>
    /// <exception cref="FormatException">A file is malformed or names something that does not exist; the message gives file and path.</exception>
    public static Fleet Load(IEnumerable<FleetFile> files)
    {
        ArgumentNullException.ThrowIfNull(files);
        var aircraft = new List<(string Path, AircraftDefinition Value)>();
        var places = new List<PlaceDefinition>();
        var procedures = new List<(string Path, ProcedureDefinition Value)>();
        FaultCatalog? faults = null;
        foreach (var file in files.OrderBy(f => f.Path, StringComparer.Ordinal))
        {
            switch (Read<FormatLine>(file, FleetJson.Loose).Format)
            {
                case "hardy-ember/aircraft":
                    aircraft.Add((file.Path, Read<AircraftDefinition>(file, FleetJson.Options)));
                    break;
                case "hardy-ember/place":
                    places.Add(Read<PlaceDefinition>(file, FleetJson.Options));
                    break;
                case "hardy-ember/procedure":
                    procedures.Add((file.Path, Read<ProcedureDefinition>(file, FleetJson.Options)));
                    break;
                case "hardy-ember/faults":
                    faults = Read<FaultCatalog>(file, FleetJson.Options);
                    break;
                case var other:
                    throw new FormatException($"{file.Path}: format: \"{other}\" is not known");
            }
        }

        var fleet = new Fleet([.. aircraft.Select(a => a.Value)], places, [.. procedures.Select(p => p.Value)],
            faults ?? throw new FormatException("no file of the format hardy-ember/faults"));
        fleet.Check(aircraft, procedures);
        return fleet;
    }

    private sealed record FormatLine(string Format);

    private static T Read<T>(FleetFile file, JsonSerializerOptions options)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(file.Text, options) ?? throw new FormatException($"{file.Path}: empty");
        }
        catch (JsonException e)
        {
            throw new FormatException($"{file.Path}: line {e.LineNumber + 1}, {FleetJson.FieldOf(e)}: {FleetJson.Plain(e)}", e);
        }
    }

    // A definition is sound when a machine can be built from it and every condition of its procedures compiles.
    private void Check(List<(string Path, AircraftDefinition Value)> aircraft, List<(string Path, ProcedureDefinition Value)> procedures)
    {
        foreach (var (path, a) in aircraft)
        {
            Located(path, () =>
            {
                var machine = new Machine(a, Places[0], Faults, SampleHeader(a.Id, "first"));
                foreach (var name in a.Gauges.SelectMany(g => new[] { g.Signal, g.Peak, g.Ahead }).Concat(a.Chain.Select(c => c.Number)).OfType<string>())
                {
                    _ = machine.Signals.Find(name) ?? throw new FormatException($"there is no signal \"{name}\"");
                }

                foreach (var gate in machine.Gates)
                {
                    _ = machine.Compile(gate.Text, gate.Where);
                    _ = machine.Signals.Find(gate.Signal) ?? throw new FormatException($"{gate.Where}: there is no signal \"{gate.Signal}\"");
                }

                foreach (var fault in Faults.Faults.SelectMany(f => FaultDraw.Places(f, a, [.. machine.FaultInputNames]), (f, place) => (Definition: f, place.Fault)))
                {
                    _ = machine.Compile(FaultSchedule.Named(fault.Definition.Sign, fault.Fault), $"faults.{fault.Definition.Code}.sign");
                    _ = machine.Compile(FaultSchedule.Named(fault.Definition.Answer, fault.Fault), $"faults.{fault.Definition.Code}.answer");
                }

                // What a header may say of the pressure is what the altimeter can be set to.
                var qnh = HeaderCheck.RangeOf(typeof(RunConditions), nameof(RunConditions.QnhHpa));
                if (a.Controls.FirstOrDefault(c => c.Kind == ControlKind.Dial && c.Unit == "hPa" && (c.Min != qnh.Low || c.Max != qnh.High)) is { } dial)
                {
                    throw new FormatException($"controls.{dial.Id}: a dial in hPa goes from {qnh.Low} to {qnh.High}, as conditions.qnhHpa does");
                }

                var links = a.Chain.Select(c => c.Id).ToHashSet();
                var orphan = a.Controls.Select(c => (c.Id, c.Link)).Concat(a.Gauges.Select(g => (Id: g.Signal, g.Link)))
                    .Concat(a.Lamps.Select(l => (l.Id, l.Link))).Concat(a.Families.Select(f => (Id: $"families.{f.Key}", Link: f.Value))).FirstOrDefault(x => !links.Contains(x.Link));
                if (orphan.Id is not null)
                {
                    throw new FormatException($"{orphan.Id}: the chain has no link \"{orphan.Link}\"");
                }
            });
        }

        foreach (var (path, p) in procedures)
        {
            Located(path, () =>
            {
                var a = FindAircraft(p.Aircraft);
                foreach (var (answers, beginning) in SchoolChoices(p).SelectMany(x => p.Beginnings.Select(beginning => (x, beginning))))
                {
                    var header = SampleHeader(a.Id, beginning) with { School = answers };
                    _ = new ProcedureTracker(p, new Machine(a, Places[0], Faults, header));
                }
            });
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

    private static void Located(string path, Action check)
    {
        try
        {
            check();
        }
        catch (FormatException e)
        {
            throw new FormatException($"{path}: {e.Message}", e);
        }
    }

    /// <summary>A machine of a type, cold on the first ramp spot: to ask what it has, not to be flown; the same one at every call.</summary>
    /// <exception cref="FormatException">There is no such aircraft.</exception>
    public Machine Sample(string aircraft) => _samples.GetOrAdd(FindAircraft(aircraft).Id, id => new Machine(FindAircraft(id), Places[0], Faults, SampleHeader(id, "first")));

    private RunHeader SampleHeader(string aircraft, string beginning)
    {
        var place = Places.Count > 0 ? Places[0] : throw new FormatException("no file of the format hardy-ember/place");
        return new RunHeader
        {
            Aircraft = aircraft,
            Place = place.Id,
            Spot = place.Spots[0].Id,
            Seed = 1,
            Beginning = beginning,
            Conditions = new RunConditions(15, 0, 0),
            Flight = beginning == "air" ? new RunFlight(25000, 230, FindAircraft(aircraft).Engines[0].Id) : null,
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
            ?? throw new FormatException($"start: {header.Aircraft} has no procedure for the beginning \"{header.Beginning}\" ({string.Join(", ", Procedures.Where(p => p.Aircraft == header.Aircraft).SelectMany(p => p.Beginnings))})");
        foreach (var (question, answer) in header.School)
        {
            var q = p.Schools.FirstOrDefault(s => s.Id == question) ?? throw new FormatException($"school.{question}: there is no such question");
            _ = q.Answers.FirstOrDefault(a => a.Id == answer)
                ?? throw new FormatException($"school.{question}: \"{answer}\" is none of {string.Join(", ", q.Answers.Select(a => a.Id))}");
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
            throw new FormatException($"{(header.Format != RunHeader.FormatName ? "format" : "version")}: {RunHeader.FormatName}, version {RunHeader.KnownVersion}, is what is known here");
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

        if (header.Mode is not ("guided" or "prompted" or "alone"))
        {
            throw new FormatException("mode: is guided, prompted or alone");
        }

        if (header.Pilot.Length > 40)
        {
            throw new FormatException("pilot: at most 40 characters");
        }

        return new Machine(FindAircraft(header.Aircraft), FindPlace(header.Place), Faults, header) { Coarse = coarse };
    }
}
