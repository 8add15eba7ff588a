using HardyEmber.Core.Runs;

namespace HardyEmber.Testing;

/// <summary>The fleet with an eighth aircraft, Tormentil, that data alone make: it is in the tests and not in the product.</summary>
public static class EighthAircraft
{
    private const string ProbeFault = """
        { "code": "probe-sick", "label": "Probe sick", "input": "probe.sick", "level": 1, "minLevel": 1, "maxLevel": 1, "signature": "Its test fails with code 7.",
          "response": "Report it.", "sign": "probe.failed", "report": true, "consequence": "It tells wrong speeds." }
        """;

    /// <summary>Its files beside those of the fleet, and a fault of its own.</summary>
    public static IReadOnlyList<FleetFile> Files()
    {
        var own = Path.Combine(Repository.Root, "tests", "HardyEmber.Core.Tests", "Eighth");
        return [.. Repository.FleetFiles().Select(f => f.Path == "faults.json"
            ? f with { Text = f.Text.Replace("\"faults\": [", $"\"faults\": [{ProbeFault},", StringComparison.Ordinal) } : f),
            .. Directory.EnumerateFiles(own, "*.json").Select(f => new FleetFile($"eighth/{Path.GetFileName(f)}", File.ReadAllText(f)))];
    }
}
