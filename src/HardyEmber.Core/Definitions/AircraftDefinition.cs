namespace HardyEmber.Core.Definitions;

/// <summary>
/// An aircraft as read from <c>fleet/aircraft/*.json</c>: what hands move, what can be read, what lights up, and the
/// parameters of its systems. Texts named "when" or "lit" are conditions (see <see cref="Conditions.ConditionParser"/>).
/// </summary>
public sealed record AircraftDefinition
{
    public required string Format { get; init; }
    public required int Version { get; init; }
    public required string Id { get; init; }
    public required string Name { get; init; }
    public required string Role { get; init; }

    /// <summary>How it starts, in three words or so; nothing in data of former times.</summary>
    public string? StartsBy { get; init; }

    /// <summary>Where a value departs from the design table and why; free text for the hangar.</summary>
    public string Notes { get; init; } = "";
    public required IReadOnlyList<LinkDefinition> Chain { get; init; }

    /// <summary>Link for signals that have no gauge: by the first word of their name, such as crew or fire.</summary>
    public IReadOnlyDictionary<string, string> Families { get; init; } = new Dictionary<string, string>();
    public required IReadOnlyList<ControlDefinition> Controls { get; init; }
    public required IReadOnlyList<GaugeDefinition> Gauges { get; init; }
    public required IReadOnlyList<LampDefinition> Lamps { get; init; }

    /// <summary>Holds while the lamp test is pressed: every powered lamp lights.</summary>
    public required string LampTest { get; init; }

    /// <summary>Holds while the master caution is being acknowledged.</summary>
    public required string Acknowledge { get; init; }
    public required ElectricsDefinition Electrics { get; init; }
    public AuxiliaryUnitDefinition? AuxiliaryUnit { get; init; }
    public required AirDefinition Air { get; init; }
    public required EngineDefinition Engine { get; init; }
    public required IReadOnlyList<EngineSideDefinition> Engines { get; init; }

    /// <summary>Other types of engine than <see cref="Engine"/>, by the name in <see cref="EngineSideDefinition.Type"/>.</summary>
    public IReadOnlyDictionary<string, EngineDefinition> EngineTypes { get; init; } = new Dictionary<string, EngineDefinition>();
    public FireDetectionDefinition? FireDetection { get; init; }

    /// <summary>Where it can burn; its zones are among those of <see cref="FireDetection"/>.</summary>
    public FireDefinition? Fire { get; init; }
    public FuelGaugesDefinition? FuelGauges { get; init; }
    public BrakeAccumulatorDefinition? BrakeAccumulator { get; init; }
    public InertialDefinition? Inertial { get; init; }
    public SightDefinition? Sight { get; init; }
    public CoolingDefinition? Cooling { get; init; }

    /// <summary>Further bays, each with a cooling of its own.</summary>
    public IReadOnlyList<CoolingDefinition> Bays { get; init; } = [];
    public CabinDefinition? Cabin { get; init; }
    public OxygenDefinition? Oxygen { get; init; }

    /// <summary>When a light of the cockpit burns by which it can be read at night; where nothing is said, it always can.</summary>
    public string? CockpitLight { get; init; }
    public SurfacesDefinition? Surfaces { get; init; }

    /// <summary>Boxes, self-tests, keys, announcers, the words of crew and tower.</summary>
    public required IReadOnlyList<TaskDefinition> Tasks { get; init; }
    public required FlightDefinition Flight { get; init; }
    public required NumbersDefinition Numbers { get; init; }

    /// <summary>Findings of this aircraft; those that all have in common come in when the files are read.</summary>
    public IReadOnlyList<WatchDefinition> Watches { get; init; } = [];

    /// <summary>Positions that controls had in earlier versions of this file: old runs mean what stands here now.</summary>
    public IReadOnlyList<FormerPosition> Formerly { get; init; } = [];

    /// <summary>Its set can be aligned on a moving deck.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool FliesFromShips => Inertial?.ShipMinutes is not null;

    /// <summary>The parameters of one of its engines.</summary>
    /// <exception cref="FormatException">It names a type that the aircraft does not have.</exception>
    public EngineDefinition EngineOf(EngineSideDefinition side)
    {
        ArgumentNullException.ThrowIfNull(side);
        return side.Type is not { } type ? Engine : EngineTypes.TryGetValue(type, out var other) ? other
            : throw new FormatException($"engines.{side.Id}.type: there is no engine type \"{type}\"");
    }

    /// <inheritdoc cref="EngineOf(EngineSideDefinition)"/>
    /// <param name="id">Its name.</param>
    public EngineDefinition EngineOf(string id) => EngineOf(Engines.FirstOrDefault(e => e.Id == id) ?? throw new FormatException($"there is no engine \"{id}\""));
}

/// <param name="Control">A control of an earlier version.</param>
/// <param name="To">One of its positions.</param>
/// <param name="Now">What that is today: controls and their positions.</param>
public sealed record FormerPosition(string Control, string To, IReadOnlyDictionary<string, string> Now);

/// <summary>A link of the chain of energy: the map of the start screen.</summary>
/// <param name="Number">The signal whose value is shown.</param>
/// <param name="States">The first state whose condition holds gives the link its word.</param>
/// <param name="Takes">What the links before it hand to it; nothing is drawn between them where nothing is said.</param>
public sealed record LinkDefinition(string Id, string Label, string Number, IReadOnlyList<LinkState> States, HandedDefinition? Takes = null);

/// <summary>What is handed to a link: the sum of its parts.</summary>
/// <param name="What">In words, such as "torque of the starters".</param>
/// <param name="Most">The value at which the line is as wide as can be.</param>
public sealed record HandedDefinition(string What, string Unit, double Most, IReadOnlyList<HandedPart> Of);

/// <param name="Signal">A reading; or else</param>
/// <param name="Watts">what is drawn on these buses now, of all where none is named.</param>
/// <param name="When">It counts only while this holds.</param>
public sealed record HandedPart(string? Signal = null, IReadOnlyList<string>? Watts = null, string? When = null);

/// <param name="Status">off, advisory, ready, caution or warning.</param>
public sealed record LinkState(string Word, string Status, string? When = null);

public enum ControlKind
{
    /// <summary>Two or more stable positions.</summary>
    Toggle,

    /// <summary>Like a toggle, under a guard: two acts in the interface.</summary>
    Guarded,

    /// <summary>Some positions are only held; on release it returns to its rest position.</summary>
    Sprung,

    /// <summary>Turned; passes through every position on the way.</summary>
    Knob,

    /// <summary>A lever with detents.</summary>
    Lever,

    /// <summary>A number dialled in.</summary>
    Dial,

    /// <summary>A word to crew or tower: asked by <see cref="ControlDefinition.Asking"/>, it comes back by itself when it is answered.</summary>
    Call,

    /// <summary>A position typed in, or taken from the ramp spot by <see cref="ControlDefinition.TakesSpot"/>.</summary>
    Position,
}

/// <summary>Something that hands move.</summary>
public sealed record ControlDefinition
{
    public const string Asking = "asking";

    /// <summary>What a position is set to that is the survey's of the ramp spot.</summary>
    public const string TakesSpot = "spot";
    private const string Quiet = "quiet", Empty = "none";
    private static readonly string[] CallPositions = [Quiet, Asking], EntryPositions = [Empty, "entered"];

    public required string Id { get; init; }
    public required string Label { get; init; }
    public required ControlKind Kind { get; init; }

    /// <summary>The link of the chain whose panel shows it.</summary>
    public required string Link { get; init; }
    public IReadOnlyList<string> Positions
    {
        get => field.Count > 0 ? field : Kind switch { ControlKind.Call => CallPositions, ControlKind.Position => EntryPositions, _ => field };
        init;
    } = [];

    /// <summary>Position of a cold jet; for a dial, its number.</summary>
    public string? Default { get => field ?? Kind switch { ControlKind.Call => Quiet, ControlKind.Position => Empty, _ => null }; init; }

    /// <summary>For a call: the task that answers, which gives the flags <c>TASK</c> and <c>TASK.refused</c>.</summary>
    public string? Task { get; init; }
    public double DefaultNumber { get; init; }

    /// <summary>Sprung positions: valid only for hold.</summary>
    public IReadOnlyList<string> Sprung { get; init; } = [];

    /// <summary>Where it rests on a ship, where that is elsewhere than its default.</summary>
    public string? Aboard { get; init; }

    /// <summary>
    /// Where the last pilot may have left it: position and chance; the rest of the chance is its default. For a turnaround start. On a ship a chance of
    /// where it rests there (<see cref="Aboard"/>) is one of its default.
    /// </summary>
    public IReadOnlyDictionary<string, double> LeftAt { get; init; } = new Dictionary<string, double>();

    /// <summary>For a dial: the range in which the last pilot left it.</summary>
    public IReadOnlyList<double>? LeftBetween { get; init; }

    /// <summary>For a dial of whole numbers: each figure has a wheel of its own.</summary>
    public bool Wheels { get; init; }

    /// <summary>It is looked at before power, and put where a cold jet has it.</summary>
    public SweepDefinition? Sweep { get; init; }

    /// <summary>Where the machine itself puts the control back.</summary>
    public IReadOnlyList<ReturnDefinition> Returns
    {
        get => field.Count == 0 && Kind == ControlKind.Call ? [new ReturnDefinition(Asking, Quiet, $"{Task} or {Task}.refused")] : field;
        init;
    } = [];

    public double Min { get; init; }
    public double Max { get; init; }
    public double Step { get; init; } = 1;
    public string Unit { get; init; } = "";

    /// <summary>Where alone the control is shown: ground, air, or of the ground only field or ship; empty for everywhere.</summary>
    public string? Only { get; init; }

    /// <summary>Whether it is shown where a run begins.</summary>
    public bool IsAt(bool air, PlaceDefinition place)
    {
        ArgumentNullException.ThrowIfNull(place);
        return Only switch { null => true, "air" => air, "ship" => !air && place.Ship is not null, "field" => !air && place.Ship is null, _ => !air };
    }

    /// <summary>A caution shown beside the control.</summary>
    public string? Hazard { get; init; }
}

/// <param name="Why">What it may do to one who does not look.</param>
/// <param name="Always">Also on a first start, where it is found right; otherwise on a turnaround only.</param>
public sealed record SweepDefinition(string Why, bool Always = false);

/// <summary>While the control is at <paramref name="From"/> and the condition holds, it springs back to <paramref name="To"/>.</summary>
public sealed record ReturnDefinition(string From, string To, string When);

/// <summary>How a signal is drawn: scale, normal band and limits, all in the signal's unit.</summary>
public sealed record GaugeDefinition
{
    public required string Signal { get; init; }
    public required string Label { get; init; }
    public required string Link { get; init; }
    public required double Min { get; init; }
    public required double Max { get; init; }

    /// <summary>From this value on it means nothing and is shown as a dash: a battery that feeds nothing lasts for no time one could name.</summary>
    public double? DashFrom { get; init; }
    public IReadOnlyList<double>? Normal { get; init; }
    public IReadOnlyList<GaugeLimit> Limits { get; init; } = [];

    /// <summary>Signals behind the peak tick and the tick of what is to come, where the gauge has them.</summary>
    public string? Peak { get; init; }
    public string? Ahead { get; init; }

    /// <summary>Bus without which the gauge is blind.</summary>
    public string? Bus { get; init; }
}

/// <param name="Kind">warning or caution.</param>
public sealed record GaugeLimit(double At, string Kind, string Label);

/// <summary>A lamp and what makes it light.</summary>
public sealed record LampDefinition
{
    public required string Id { get; init; }
    public required string Label { get; init; }

    /// <summary>warning, caution, ready or advisory.</summary>
    public required string Class { get; init; }

    /// <summary>Condition under which it lights, power permitting.</summary>
    public required string Lit { get; init; }

    /// <summary>The bus that feeds it.</summary>
    public required string Bus { get; init; }
    public required string Link { get; init; }
    public required string Meaning { get; init; }

    /// <summary>Once lit it stays lit until this condition holds; none where it follows its source.</summary>
    public string? LatchedUntil { get; init; }

    /// <summary>While this holds it may light but calls nobody.</summary>
    public string? Inhibit { get; init; }

    /// <summary>A place without a function: the lamp test does not light it.</summary>
    public bool Spare { get; init; }

    /// <summary>Tone when it comes up (a name of the sound set), and words to speak.</summary>
    public string? Tone { get; init; }
    public string? Speech { get; init; }
}

/// <summary>One engine of the aircraft: its throttle control and the conditions on its own switches.</summary>
public sealed record EngineSideDefinition(string Id, string Label, string Throttle, string FuelOn, string StarterValve, string Igniter,
    string GeneratorSwitch, string IgniterBus)
{
    /// <summary>The throttle's positions that cut fuel off and that ask for idle.</summary>
    public required string CutOff { get; init; }

    /// <inheritdoc cref="CutOff"/>
    public required string Idle { get; init; }

    /// <summary>Condition: the pilot has it on its backup control, where its type has one.</summary>
    public string? Backup { get; init; }

    /// <summary>Where it sits across the aircraft, −1 far left to 1 far right: whence it is heard.</summary>
    public double Lateral { get; init; }

    /// <summary>Its type, where it is another than the aircraft's common one.</summary>
    public string? Type { get; init; }

    /// <summary>An electric starter: the bus it draws from and its power at standstill, W. Without one, duct air turns the core.</summary>
    public string? StarterBus { get; init; }
    public double StarterW { get; init; }

    /// <summary>The engine whose open starter valve keeps this one's shut: they share the same air or current.</summary>
    public string? Rival { get; init; }
}

public sealed record AuxiliaryUnitDefinition
{
    public required string Label { get; init; }

    /// <summary>Condition under which the pilot asks for it.</summary>
    public required string Run { get; init; }

    /// <summary>What else must hold at the moment it is asked for.</summary>
    public string? Needs { get; init; }

    /// <summary>Condition under which it stops itself after <see cref="StopAfterS"/>.</summary>
    public required string StopWhen { get; init; }
    public required double StopAfterS { get; init; }
    public required double ReadyPct { get; init; }
    public required double ReadyS { get; init; }
    public required double SettleC { get; init; }
    public required double PeakC { get; init; }

    /// <summary>Gas temperature above which it is too hot.</summary>
    public required double LimitC { get; init; }

    /// <summary>Gas temperature above which it stops itself.</summary>
    public required double TripC { get; init; }

    /// <summary>Speed from which it can light.</summary>
    public required double LightsAtPct { get; init; }

    /// <summary>Speed at which its starter lets go.</summary>
    public required double StarterOutPct { get; init; }

    /// <summary>Speed above which it stops itself.</summary>
    public required double OverspeedPct { get; init; }

    /// <summary>Share of its air that cabin and cooling take.</summary>
    public required double CabinShare { get; init; }

    /// <summary>What full air and generator load add to the settled temperature, °C.</summary>
    public double LoadC { get; init; } = 60;

    /// <summary>Pressure altitude above which it gives no air.</summary>
    public required double CeilingFt { get; init; }

    /// <summary>Hydraulic start: the accumulator, and what a start from full spends of it in psi.</summary>
    public AccumulatorDefinition? Accumulator { get; init; }
    public double AccumulatorUsePsi { get; init; }

    /// <summary>Electric start: what the starter draws at standstill, W, falling with speed.</summary>
    public double StarterW { get; init; }

    /// <summary>Voltage at which that starter gives its full torque, V.</summary>
    public double StarterV { get; init; }

    public required DutyDefinition Duty { get; init; }
    public required string Bus { get; init; }

    /// <summary>Own generator, where it has one.</summary>
    public double GeneratorW { get; init; }

    /// <summary>It trips after so long at a quarter more than that.</summary>
    public double GeneratorOverloadS { get; init; } = 30;
    public string? GeneratorSwitch { get; init; }
}

/// <param name="Starts">Attempts before a long rest.</param>
/// <param name="BetweenS">Cooling after each attempt.</param>
/// <param name="CoolS">Cooling after the last of them, which gives all back.</param>
public sealed record DutyDefinition(int Starts, double BetweenS, double CoolS);

/// <summary>Fluid against nitrogen.</summary>
/// <param name="MinPsi">Mark below which what hangs on it will not work.</param>
/// <param name="LeakPsiPerS">Loss of a sound one near full pressure.</param>
/// <param name="Pump">Condition: the hand pump is worked.</param>
/// <param name="PumpS">Seconds of pumping from the mark to full.</param>
public sealed record AccumulatorDefinition(double FullPsi, double MinPsi, double PrechargePsi, double LeakPsiPerS = 0.02, string? Pump = null, double PumpS = 90);

/// <param name="Bleed">The valves that let engine bleed through to cabin and cooling.</param>
/// <param name="CrossFeed">Condition: a running engine's bleed feeds the other's starter.</param>
/// <param name="StarterDraw">Share of duct pressure that an open starter valve takes.</param>
public sealed record AirDefinition(IReadOnlyList<BleedValveDefinition> Bleed, string CrossFeed, double CoolingDraw, double StarterDraw)
{
    /// <summary>Duct pressure of a full supply, psi.</summary>
    public required double FullPsi { get; init; }

    /// <summary>N2 from which an engine's bleed feeds cabin and cooling, %.</summary>
    public required double CabinN2Pct { get; init; }

    /// <summary>N2 at which an engine's bleed turns another's starter as well as a full supply does, %.</summary>
    public required double FullBleedN2Pct { get; init; }

    /// <summary>Condition: an air cart outside gives full starting air.</summary>
    public string? Cart { get; init; }

    /// <summary>A self-contained starter on pressure bottles, where the type has one.</summary>
    public BottlesDefinition? Bottles { get; init; }

    /// <summary>Condition that latches every valve shut, as a fire would.</summary>
    public string? LatchWhen { get; init; }

    /// <summary>Condition under which a valve that was latched shut comes free: its switch is shut and opened again. None where nothing latches.</summary>
    public string? UnlatchWhen { get; init; }
}

/// <param name="Open">Condition: its switch is open.</param>
/// <param name="Engine">The engine whose bleed it passes; of all of them where none is named.</param>
public sealed record BleedValveDefinition(string Id, string Label, string Open, string? Engine = null);

/// <param name="Fire">Condition that fires each bottle, one a bottle.</param>
/// <param name="Seconds">How long a bottle drives the starter.</param>
/// <param name="SpoolS">How quickly its turbine follows, s.</param>
/// <param name="FadeShare">What of its pressure is gone at the end of that time.</param>
/// <param name="StopWhen">Condition under which the starter shuts itself off.</param>
public sealed record BottlesDefinition(IReadOnlyList<string> Fire, double Seconds, double FadeShare, double SpoolS, string StopWhen, string? Needs = null);

/// <summary>Loops of wire through the zones. Their tests are tasks; here is what a short does.</summary>
/// <param name="Loops">Names of the loops.</param>
/// <param name="Sound">Condition: the loops are fed.</param>
public sealed record FireDetectionDefinition(IReadOnlyList<string> Loops, IReadOnlyList<string> Zones, string Sound);

/// <summary>Fuel quantity gauges and their self-test, which drives every pointer to a known mark.</summary>
/// <param name="Test">Condition: the test is held.</param>
/// <param name="MarkLb">Where the pointers must go.</param>
/// <param name="ToleranceLb">How far off is still right.</param>
public sealed record FuelGaugesDefinition(string Test, string Bus, double MarkLb, double ToleranceLb, IReadOnlyList<FuelGaugeDefinition> Gauges);

/// <param name="Share">Share of the fuel aboard that it shows.</param>
public sealed record FuelGaugeDefinition(string Id, string Label, double Share);

/// <param name="Brake">Condition: the parking brake is set.</param>
/// <param name="HoldsAbovePsi">Pressure above which a set brake holds the jet.</param>
/// <param name="StrokePsi">What setting it or letting it go spends.</param>
public sealed record BrakeAccumulatorDefinition(AccumulatorDefinition Store, string Brake, double HoldsAbovePsi, double StrokePsi);

/// <param name="GlideEasKt">Speed of best glide.</param>
/// <param name="MaxLoadFactor">The hardest pull, g.</param>
/// <param name="MassLb">The weight for which the figures hold.</param>
/// <param name="IdleThrustRatio">Thrust over that weight at sea level, every engine at idle; at full power <paramref name="MaxThrustRatio"/>.</param>
/// <param name="PitchControl">Dial of the path asked for, °.</param>
/// <param name="Positions">Where the controls stand in flight, where that differs from a cold jet.</param>
/// <param name="SpeedControl">Dial of the airspeed asked for, kt; 0 leaves it to the path. Whichever of the two was set last is flown.</param>
public sealed record FlightDefinition(double GlideEasKt, double GlideRatio, double MaxLoadFactor, double DecisionHeightFt, double MassLb, double IdleThrustRatio,
    double MaxThrustRatio, string PitchControl,
    IReadOnlyDictionary<string, string> Positions, string? SpeedControl = null)
{
    /// <summary>What the stick wants of the hydraulics; where nothing is said it moves cables.</summary>
    public StickDefinition? Stick { get; init; }

    /// <summary>When the pilot leaves the aircraft in flight; nobody can where nothing is said.</summary>
    public string? LeaveWhen { get; init; }

    /// <summary>Thrust over weight of all engines on a standard day at sea level, so far above idle.</summary>
    /// <param name="above">0 at idle, 1 at full speed.</param>
    public double ThrustRatio(double above) => IdleThrustRatio + (MaxThrustRatio - IdleThrustRatio) * above * above;
}

/// <param name="FullPsi">From this pressure of the best pump on the jet follows the stick at its full rate; below, at a share of it.</param>
/// <param name="LeastShare">The share of that rate which is left without any pressure.</param>
public sealed record StickDefinition([property: Between(1, 10_000)] double FullPsi, [property: Between(0.05, 1)] double LeastShare);

/// <summary>Tables for the card.</summary>
public sealed record NumbersDefinition(double EmptyLb, double InternalFuelLb, IReadOnlyList<TablePoint> Trim,
    double ReferenceLb, double RotateKt, double LiftOffKt, double ReserveLb, double GoHomeLb, double HeightBugFt, double DivePathDeg, double RecoverPathDeg)
{
    /// <summary>Equivalent airspeed at which a windmilling core is given fuel, as it is taught; the middle of its range where nothing is said.</summary>
    public double? RelightKt { get; init; }

    /// <summary>The one figure of those who do not trim by weight, units.</summary>
    public double? StandardTrim { get; init; }
}

public sealed record TablePoint(double X, double Y);
