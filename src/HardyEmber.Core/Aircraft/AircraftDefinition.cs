namespace HardyEmber.Core.Aircraft;

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

    /// <summary>Where a value departs from the design table and why; free text for the hangar.</summary>
    public string Notes { get; init; } = "";
    public required IReadOnlyList<LinkDefinition> Chain { get; init; }
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
    public FireDetectionDefinition? FireDetection { get; init; }
    public required BrakeAccumulatorDefinition BrakeAccumulator { get; init; }
    public InertialDefinition? Inertial { get; init; }
    public required IReadOnlyList<BoxDefinition> Boxes { get; init; }
    public required CoolingDefinition Cooling { get; init; }
    public required IReadOnlyList<CrewRequestDefinition> Crew { get; init; }
    public required IReadOnlyList<HeldTaskDefinition> HeldTasks { get; init; }
    public required FlightDefinition Flight { get; init; }
    public required NumbersDefinition Numbers { get; init; }
}

/// <summary>A link of the chain of energy: the map of the start screen.</summary>
/// <param name="Number">The signal whose value is shown.</param>
/// <param name="States">The first state whose condition holds gives the link its word.</param>
public sealed record LinkDefinition(string Id, string Label, string Number, IReadOnlyList<LinkState> States);

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
}

/// <summary>Something that hands move.</summary>
public sealed record ControlDefinition
{
    public required string Id { get; init; }
    public required string Label { get; init; }
    public required ControlKind Kind { get; init; }

    /// <summary>The link of the chain whose panel shows it.</summary>
    public required string Link { get; init; }
    public IReadOnlyList<string> Positions { get; init; } = [];

    /// <summary>Position of a cold jet; for a dial, its number.</summary>
    public string? Default { get; init; }
    public double DefaultNumber { get; init; }

    /// <summary>Sprung positions: valid only for hold.</summary>
    public IReadOnlyList<string> Sprung { get; init; } = [];

    /// <summary>Where the machine itself puts the control back.</summary>
    public IReadOnlyList<ReturnDefinition> Returns { get; init; } = [];

    /// <summary>A knob that may go round: its last position is next to its first.</summary>
    public bool Ring { get; init; }
    public double Min { get; init; }
    public double Max { get; init; }
    public double Step { get; init; } = 1;
    public string Unit { get; init; } = "";

    /// <summary>ground or air where the control is shown only there; empty for both.</summary>
    public string? Only { get; init; }

    /// <summary>A caution shown beside the control.</summary>
    public string? Hazard { get; init; }
}

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
    public IReadOnlyList<double>? Normal { get; init; }
    public IReadOnlyList<GaugeLimit> Limits { get; init; } = [];

    /// <summary>Signals behind the peak tick and the two-seconds-ahead tick, where the gauge has them.</summary>
    public string? Peak { get; init; }
    public string? Ahead { get; init; }

    /// <summary>Bus without which the gauge is blind.</summary>
    public string? Bus { get; init; }
}

/// <param name="Kind">warning or caution.</param>
public sealed record GaugeLimit(double At, string Kind, string Label);

/// <param name="Class">warning, caution, ready or advisory.</param>
/// <param name="Lit">Condition under which the lamp lights, power permitting.</param>
/// <param name="Bus">The bus that feeds the lamp.</param>
public sealed record LampDefinition(string Id, string Label, string Class, string Lit, string Bus, string Link, string Meaning);

/// <summary>One engine of the aircraft: its throttle control and the conditions on its own switches.</summary>
public sealed record EngineSideDefinition(string Id, string Label, string Throttle, string FuelOn, string StarterValve, string Igniter,
    string GeneratorSwitch, string IgniterBus);

public sealed record ElectricsDefinition(BatteryDefinition Battery, IReadOnlyList<BusDefinition> Buses, IReadOnlyList<LoadDefinition> Loads);

/// <param name="ResistanceOhm">Internal resistance at 20 °C, full charge.</param>
/// <param name="DropOutV">Contactors fall out below this voltage.</param>
public sealed record BatteryDefinition(double NominalV, double CapacityAh, double ResistanceOhm, double ChargeLimitA, double DropOutV);

/// <param name="Volts">Voltage when fed by a machine (a rectifier or a generator); a battery gives its own.</param>
/// <param name="Feeds">Sources in order of priority: battery, gen.SIDE, gen.aux, ground or another bus.</param>
public sealed record BusDefinition(string Id, string Label, double Volts, IReadOnlyList<FeedDefinition> Feeds);

public sealed record FeedDefinition(string From, string? When = null);

public sealed record LoadDefinition(string Id, string Bus, double Watts, string? When = null);

public sealed record AuxiliaryUnitDefinition
{
    /// <summary>Condition under which the pilot asks for it.</summary>
    public required string Run { get; init; }

    /// <summary>Condition under which it stops itself after <see cref="StopAfterS"/>.</summary>
    public required string StopWhen { get; init; }
    public required double StopAfterS { get; init; }
    public required double ReadyPct { get; init; }
    public required double ReadyS { get; init; }
    public required double SettleC { get; init; }
    public required double PeakC { get; init; }
    public required double CeilingFt { get; init; }

    /// <summary>Accumulator pressure in psi: full, needed for a start, and spent by one.</summary>
    public required double AccumulatorPsi { get; init; }
    public required double AccumulatorMinPsi { get; init; }
    public required double AccumulatorUsePsi { get; init; }
    public required string Bus { get; init; }

    /// <summary>Own generator, where it has one.</summary>
    public double GeneratorW { get; init; }
    public string? GeneratorSwitch { get; init; }
}

/// <param name="BleedOpen">Condition: engine bleed reaches the cabin and the cooling packs.</param>
/// <param name="CrossFeed">Condition: a running engine's bleed feeds the other's starter.</param>
/// <param name="StarterDraw">Share of duct pressure that an open starter valve takes.</param>
public sealed record AirDefinition(string BleedOpen, string CrossFeed, double CoolingDraw, double StarterDraw);

public sealed record FireDetectionDefinition
{
    public required string TestA { get; init; }
    public required string TestB { get; init; }
    public required IReadOnlyList<string> Zones { get; init; }
    public required double CallS { get; init; }
    public required double RewindS { get; init; }
    public required string Bus { get; init; }

    /// <summary>The bleed selector whose full circle opens the latch, and the condition for it.</summary>
    public required string BleedSelector { get; init; }
    public required string ResetWhen { get; init; }
}

/// <param name="Brake">Condition: the parking brake is set.</param>
public sealed record BrakeAccumulatorDefinition(double FullPsi, double MinPsi, string Brake);

public sealed record InertialDefinition
{
    public required string Selector { get; init; }
    public required string Bus { get; init; }
    public required double Watts { get; init; }
    public required double HoldUpS { get; init; }

    /// <summary>Minutes of a field alignment at 45° latitude, 15 °C.</summary>
    public required double FieldMinutes { get; init; }
    public required double WarmUpS { get; init; }
    public required double LevelS { get; init; }

    /// <summary>Heading error at the start of gyrocompassing, degrees, 1 sigma.</summary>
    public required double InitialHeadingDeg { get; init; }

    /// <summary>East gyro drift, degrees per hour.</summary>
    public required double GyroDriftDegPerH { get; init; }
    public required double GoodQuality { get; init; }
}

public sealed record BoxDefinition(string Id, string Label, string Bus, double Watts, string When, double WarmUpS, bool Cooled, string? Needs = null);

public sealed record CoolingDefinition(string On, double TripC, double RiseC, double TimeConstantS);

/// <summary>A word to the crew chief (a simulated stand-in) and the time until the answer.</summary>
public sealed record CrewRequestDefinition(string Id, string Label, string Ask, double MinS, double MaxS, string Answer, string Refusal, string? Needs = null);

/// <summary>A task that is complete once its condition has held for a time (self-tests, keys, sweeps). Resets when <paramref name="LostWhen"/> holds.</summary>
public sealed record HeldTaskDefinition(string Id, string Label, string While, double Seconds, string? Needs = null, string? LostWhen = null);

/// <param name="GlideEasKt">Speed of best glide.</param>
/// <param name="Positions">Where the controls stand in flight, where that differs from a cold jet.</param>
public sealed record FlightDefinition(double GlideEasKt, double GlideRatio, double DecisionHeightFt, double MassLb, double IdleThrustRatio, double MaxThrustRatio, string PitchControl,
    IReadOnlyDictionary<string, string> Positions);

/// <summary>Tables for the card.</summary>
public sealed record NumbersDefinition(double EmptyLb, double InternalFuelLb, IReadOnlyList<TablePoint> Trim,
    double ReferenceLb, double RotateKt, double LiftOffKt, double ReserveLb, double GoHomeLb, double HeightBugFt, double DivePathDeg, double RecoverPathDeg);

public sealed record TablePoint(double X, double Y);
