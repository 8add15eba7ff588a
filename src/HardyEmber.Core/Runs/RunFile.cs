using System.Globalization;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>A run as it is stored and exchanged: header and command log.</summary>
public sealed record RunLog(RunHeader Header, IReadOnlyList<RunCommand> Commands)
{
    /// <summary>The data that it was flown with, where the file carries them.</summary>
    public DataVersion? Data { get; init; }

    public bool Ended => Commands.Count > 0 && Commands[^1].Kind == CommandKind.End;
}

/// <summary>A run file that cannot be read: which line and which field.</summary>
public sealed class RunFileException(int line, string field, string message) : Exception($"line {line}, {field}: {message}")
{
    public int Line { get; } = line;
    public string Field { get; } = field;

    /// <summary>The problem without its place.</summary>
    public string Problem { get; } = message;
}

/// <summary>The run format: NDJSON, a header line, then one command a line. See docs/formats.md.</summary>
public static class RunFile
{
    /// <summary>Longest file accepted, bytes.</summary>
    public const long MaxBytes = 8 << 20;
    private const int MaxLine = DataLimits.LongestFile;

    private sealed record Line
    {
        public double? T { get; init; }
        public string? Set { get; init; }
        public string? Hold { get; init; }
        public string? Release { get; init; }
        public string? Look { get; init; }
        public string? Report { get; init; }
        public bool? End { get; init; }
        public JsonElement? To { get; init; }
        public string? File { get; init; }
        public string? Text { get; init; }
    }

    /// <summary>Reads a run, and the data that it may carry. Checks form and order; names are checked when it is replayed.</summary>
    /// <exception cref="RunFileException">The text is malformed; line and field are named.</exception>
    public static RunLog Read(TextReader reader)
    {
        ArgumentNullException.ThrowIfNull(reader);
        RunHeader? header = null;
        var commands = new List<RunCommand>();
        var files = new List<FleetFile>();
        var number = 0;
        long size = 0;
        while (ReadLine(reader, number + 1) is { } text)
        {
            number++;
            size += text.Length + 1;
            if (size > MaxBytes)
            {
                throw new RunFileException(number, "line", $"the file is longer than {MaxBytes >> 20} MB");
            }

            if (string.IsNullOrWhiteSpace(text))
            {
                continue;
            }

            try
            {
                if (header is null)
                {
                    header = ReadHeader(text, number);
                }
                else
                {
                    ReadLine(text, number, commands, files);
                }
            }
            catch (JsonException e)
            {
                throw new RunFileException(number, FleetJson.FieldOf(e), FleetJson.Plain(e));
            }
            catch (InvalidOperationException)
            {
                throw new RunFileException(number, "line", "a text holds half a character"); // a lone surrogate
            }
        }

        if (header is null)
        {
            throw new RunFileException(1, "format", "the file is empty: a header line is missing");
        }

        var data = files.Count > 0 ? DataVersion.Of(files) : null;
        return data is null || data.Digest == header.Data ? new RunLog(header, commands) { Data = data }
            : throw new RunFileException(1, "data", $"the files that the run carries have the digest {data.Digest}");
    }

    // A command, or a data file that the run carries with it.
    private static void ReadLine(string text, int number, List<RunCommand> commands, List<FleetFile> files)
    {
        var raw = JsonSerializer.Deserialize<Line>(text, FleetJson.Line) ?? throw new RunFileException(number, "line", "a command is missing");
        if (raw.File is null && raw.Text is null)
        {
            commands.Add(ReadCommand(raw, number, commands));
        }
        else
        {
            if (files.Count == DataLimits.MostFiles)
            {
                throw new RunFileException(number, "file", $"a run rests on at most {DataLimits.MostFiles} data files");
            }

            files.Add(raw is { File: { } file, Text: { } held, T: null } && commands.Count == 0 ? new FleetFile(file, held)
                : throw new RunFileException(number, "file", "a data file has \"file\" and \"text\", and stands before the first command"));
        }
    }

    // ReadLine of the framework would take a 50 MB line whole; this gives up at the limit.
    private static string? ReadLine(TextReader reader, int number)
    {
        var text = new StringBuilder();
        int c;
        while ((c = reader.Read()) >= 0)
        {
            if (c == '\n')
            {
                return text.ToString();
            }

            text.Append((char)c);
            if (text.Length > MaxLine)
            {
                throw new RunFileException(number, "line", $"longer than {MaxLine >> 10} kB");
            }
        }

        return text.Length > 0 ? text.ToString() : null;
    }

    private static RunHeader ReadHeader(string text, int line)
    {
        using (var peek = JsonDocument.Parse(text))
        {
            var root = peek.RootElement;
            if (root.ValueKind != JsonValueKind.Object || !root.TryGetProperty("format", out var format) || format.ValueKind != JsonValueKind.String
                || format.GetString() != RunHeader.FormatName)
            {
                throw new RunFileException(line, "format", $"the first line must be a header with \"format\":\"{RunHeader.FormatName}\"");
            }

            if (!root.TryGetProperty("version", out var version) || version.ValueKind != JsonValueKind.Number || version.GetDouble() != RunHeader.KnownVersion)
            {
                throw new RunFileException(line, "version", $"only version {RunHeader.KnownVersion} is known");
            }
        }

        return JsonSerializer.Deserialize<RunHeader>(text, FleetJson.Line)!;
    }

    private static RunCommand ReadCommand(Line raw, int line, List<RunCommand> before)
    {
        if (raw.T is not { } t || !(t >= 0 && t <= RunHeader.MaxSeconds))
        {
            throw new RunFileException(line, "t", FormattableString.Invariant($"a time from 0 to {RunHeader.MaxSeconds} s is needed"));
        }

        var step = (long)Math.Round(t / Steps.Seconds);
        if (before.Count > 0 && before[^1].Step > step)
        {
            throw new RunFileException(line, "t", FormattableString.Invariant($"{t} s is before the command above it ({before[^1].Time} s)"));
        }

        if (before.Count > 0 && before[^1].Kind == CommandKind.End)
        {
            throw new RunFileException(line, "t", "the run ended above this line");
        }

        var verbs = new (CommandKind Kind, string? Target)[]
        {
            (CommandKind.Set, raw.Set), (CommandKind.Hold, raw.Hold), (CommandKind.Release, raw.Release), (CommandKind.Look, raw.Look), (CommandKind.Report, raw.Report),
            (CommandKind.End, raw.End == true ? "" : null),
        }.Where(v => v.Target is not null).ToList();
        if (verbs.Count != 1)
        {
            throw new RunFileException(line, "line", "exactly one of set, hold, release, look, report and end is needed");
        }

        var (kind, target) = verbs[0];
        var needsTo = kind is CommandKind.Set or CommandKind.Hold;
        if (kind != CommandKind.Report && needsTo != raw.To is not null)
        {
            throw new RunFileException(line, "to", needsTo ? "a position is needed" : "only set, hold and report have one");
        }

        return raw.To switch
        {
            null => new RunCommand(step, kind, target!),
            { ValueKind: JsonValueKind.String } to => new RunCommand(step, kind, target!, to.GetString()),
            { ValueKind: JsonValueKind.Number } to when kind == CommandKind.Set && double.IsFinite(to.GetDouble()) => new RunCommand(step, kind, target!, null, to.GetDouble()),
            { ValueKind: JsonValueKind.Number } => throw new RunFileException(line, "to", kind == CommandKind.Set ? "is no number" : "a position's name is needed"),
            _ => throw new RunFileException(line, "to", "a position's name or a number is needed"),
        };
    }

    /// <summary>Writes a run so that <see cref="Read"/> gives an equal one.</summary>
    public static void Write(TextWriter writer, RunLog run)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(run);
        writer.Write(JsonSerializer.Serialize(run.Header, FleetJson.Line));
        writer.Write('\n');
        foreach (var file in run.Data?.Files ?? [])
        {
            writer.Write(JsonSerializer.Serialize(new Line { File = file.Path, Text = file.Text }, FleetJson.Line));
            writer.Write('\n');
        }

        foreach (var command in run.Commands)
        {
            writer.Write(Format(command));
            writer.Write('\n');
        }
    }

    /// <summary>One command as a line of the format.</summary>
    public static string Format(RunCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        var t = command.Time.ToString(CultureInfo.InvariantCulture);
        if (command.Kind == CommandKind.End)
        {
            return $$"""{"t":{{t}},"end":true}""";
        }

        var to = command.Number is { } number ? $",\"to\":{number.ToString("R", CultureInfo.InvariantCulture)}"
            : command.Position is { } position ? $",\"to\":{Quote(position)}" : "";
        return $$"""{"t":{{t}},"{{command.Kind.ToString().ToLowerInvariant()}}":{{Quote(command.Target)}}{{to}}}""";
    }

    private static string Quote(string text) => JsonSerializer.Serialize(text, FleetJson.Line);
}
