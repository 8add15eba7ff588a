using System.Globalization;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>How a kept run flew: what tells that the physics have changed. Values within bounds, not bits, so that it holds on other processors too.</summary>
/// <param name="Physics">Version of the physics.</param>
/// <param name="Data">Digest of the data.</param>
/// <param name="Run">Digest of the run's file.</param>
/// <param name="Values">By time in seconds, the readings of the gauges.</param>
public sealed record KeptRun(int Physics, string Data, string Run, IReadOnlyDictionary<string, IReadOnlyDictionary<string, double>> Values)
{
    /// <summary>The file beside the runs.</summary>
    public const string FileName = "kept.json";

    private const int EverySteps = 3000;

    /// <summary>A thousandth of a percent, or of a unit where the value is small: far more than processors differ by, far less than an equation does.</summary>
    private const double Bound = 1e-5;

    /// <summary>Flies a run and writes down how it flew.</summary>
    /// <param name="text">The run's file.</param>
    /// <exception cref="RunFileException">It cannot be read or flown.</exception>
    public static KeptRun Of(Fleet fleet, string text)
    {
        using var reader = new StringReader(text);
        var run = RunFile.Read(reader);
        var values = new Dictionary<string, IReadOnlyDictionary<string, double>>();
        var end = Rehearsal.Replay(fleet, run, 0, m =>
        {
            if (m.StepIndex % EverySteps == 0)
            {
                values[m.Time.ToString("0", CultureInfo.InvariantCulture)] = Readings(m);
            }
        });
        values["end"] = Readings(end.Machine);
        return new KeptRun(Simulation.Physics.Version, end.Data.Digest, DataVersion.Of([new FleetFile("run", text)]).Digest, values);
    }

    private static Dictionary<string, double> Readings(Machine m) =>
        m.Aircraft.Gauges.Select(g => g.Signal).Distinct().ToDictionary(s => s, s => Math.Round(m[s], 7));

    /// <summary>Why <paramref name="now"/> may not take this one's place: the same version of the physics makes something else of the same data and commands.</summary>
    /// <returns>Null where all is in order.</returns>
    public string? Contradicts(KeptRun now)
    {
        ArgumentNullException.ThrowIfNull(now);
        if (now.Physics != Physics || now.Data != Data || now.Run != Run)
        {
            return null;
        }

        foreach (var (time, readings) in Values)
        {
            var there = now.Values.GetValueOrDefault(time);
            foreach (var (signal, value) in readings)
            {
                if (there?.TryGetValue(signal, out var other) is not true || Math.Abs(other - value) > Bound * Math.Max(1, Math.Abs(value)))
                {
                    return string.Create(CultureInfo.InvariantCulture,
                        $"{signal} at {time} s is {there?.GetValueOrDefault(signal)}, and was {value}: the physics have changed, so Physics.Version must be raised");
                }
            }
        }

        return null;
    }

    /// <summary>The kept runs of a file <c>demo/kept.json</c>, by name.</summary>
    /// <exception cref="JsonException">It is no such file.</exception>
    public static IReadOnlyDictionary<string, KeptRun> Read(string text) =>
        JsonSerializer.Deserialize<Dictionary<string, KeptRun>>(text, FleetJson.Line) ?? throw new JsonException();

    /// <summary>The file's text: a line a run.</summary>
    public static string Write(IReadOnlyDictionary<string, KeptRun> runs)
    {
        ArgumentNullException.ThrowIfNull(runs);
        var lines = runs.Select(r => $"  {JsonSerializer.Serialize(r.Key, FleetJson.Line)}: {JsonSerializer.Serialize(r.Value, FleetJson.Line)}");
        return $"{{\n{string.Join(",\n", lines)}\n}}\n";
    }
}
