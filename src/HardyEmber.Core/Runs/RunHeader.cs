namespace HardyEmber.Core.Runs;

/// <summary>The first line of a run: everything that, with the command log, fixes the trajectory to the last bit.</summary>
public sealed record RunHeader
{
    public const string FormatName = "hardy-ember/run";

    public string Format { get; init; } = FormatName;
    public int Version { get; init; } = 1;
    public required string Aircraft { get; init; }
    public required string Place { get; init; }
    public required string Spot { get; init; }
    public required long Seed { get; init; }

    /// <summary>first (a cold jet), turnaround (as the last pilot left it) or air (an in-flight restart).</summary>
    public required string Start { get; init; }
    public required RunConditions Conditions { get; init; }
    public LoadingHeader? Loading { get; init; }
    public IReadOnlyDictionary<string, string> School { get; init; } = new Dictionary<string, string>();
    public IReadOnlyList<RunFault> Faults { get; init; } = [];

    /// <summary>How many faults are drawn from the seed besides those named; nobody is told which.</summary>
    public int Surprises { get; init; }

    /// <summary>Flight state at the beginning of an in-flight run.</summary>
    public RunFlight? Flight { get; init; }

    /// <summary>Callsign of whoever flies it.</summary>
    public string Pilot { get; init; } = "";

    /// <summary>guided, prompted or alone: how much the screen helps. No effect on the machine.</summary>
    public string Mode { get; init; } = "guided";
}

/// <param name="OatC">Outside air temperature, °C.</param>
/// <param name="PressureAltitudeFt">Pressure altitude of the spot; from the place's elevation and QNH where it is missing.</param>
public sealed record RunConditions(double OatC, double WindFromDeg, double WindKt, double? PressureAltitudeFt = null, double? QnhHpa = null);

/// <param name="FuelLb">Fuel aboard.</param>
/// <param name="StoresLb">Stores aboard.</param>
public sealed record LoadingHeader(double FuelLb, double StoresLb);

/// <param name="At">Onset, seconds into the run.</param>
/// <param name="Item">The part it is in, for a fault that may sit in several: a lamp, a gauge, an inverter.</param>
public sealed record RunFault(string Code, string? Engine = null, double At = 0, double? Level = null, string? Item = null);

/// <param name="Dead">Side of the flamed-out engine.</param>
/// <param name="Other">idle or lost: the state of the other engine.</param>
public sealed record RunFlight(double HeightFt, double EasKt, string Dead, string Other = "lost");
