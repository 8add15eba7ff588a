using System.Text;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Cli;

/// <summary>Telemetry as CSV: the unit stands in the header, values are rounded as on the screen.</summary>
internal static class TelemetryCsv
{
    public static string Header(SignalTable signals) =>
        string.Join(',', Columns(signals).Select(s => Cell(s.Unit.Length > 0 ? $"{s.Name} [{s.Unit}]" : s.Name))) + "\n";

    public static void Row(StringBuilder into, Machine machine)
    {
        var first = true;
        foreach (var signal in Columns(machine.Signals))
        {
            if (!first)
            {
                into.Append(',');
            }

            first = false;
            var value = machine.Signals.Values[signal.Index];
            into.Append(signal.Kind == SignalKind.Positions ? Cell(signal.Positions[(int)value])
                : FormattableString.Invariant($"{Math.Round(value / signal.Quantum) * signal.Quantum:0.####}"));
        }

        into.Append('\n');
    }

    // Quoted where it must be. Every text begins with a name, which no program of tables takes for a formula (SoundText.NameProblem).
    private static string Cell(string text) => text.AsSpan().IndexOfAny(",\"\r\n") < 0 ? text : $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";

    private static IEnumerable<SignalInfo> Columns(SignalTable signals) =>
        signals.All.Where(s => !s.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal) && s.Name != "time.running");
}
