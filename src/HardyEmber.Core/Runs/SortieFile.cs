using System.Buffers.Text;
using System.Text;
using System.Text.Json;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Runs;

/// <summary>A situation with a name: what is kept, repeated and handed on. See docs/formats.md.</summary>
public sealed record Sortie(string Name, RunHeader Header);

/// <summary>Sorties as a file (JSON) and as the part of an address that carries one (the same on one line, in base64url).</summary>
public static class SortieFile
{
    public const string FormatName = "hardy-ember/sortie";
    public const int KnownVersion = 1;

    /// <summary>Longest file accepted, bytes.</summary>
    public const int MaxBytes = 64 << 10;
    private const int LongestName = 60;

    private sealed record File(string Format, int Version, string Name, RunHeader Header);

    /// <summary>Writes a sortie as a file.</summary>
    public static string Write(Sortie sortie) => JsonSerializer.Serialize(Of(sortie), FleetJson.Options) + "\n";

    /// <summary>The part of an address that carries it.</summary>
    public static string Code(Sortie sortie) => Base64Url.EncodeToString(JsonSerializer.SerializeToUtf8Bytes(Of(sortie), FleetJson.Line));

    /// <summary>Reads a file.</summary>
    /// <exception cref="FormatException">It is no sortie, or one that cannot be flown here; the message begins with the field.</exception>
    public static Sortie Read(Fleet fleet, string text)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(text);
        if (Encoding.UTF8.GetByteCount(text) > MaxBytes)
        {
            throw new FormatException($"file: a sortie has at most {MaxBytes >> 10} kB");
        }

        try
        {
            var file = JsonSerializer.Deserialize<File>(text, FleetJson.Line) ?? throw new FormatException("file: it is empty");
            return file.Format != FormatName ? throw new FormatException($"format: \"{FormatName}\" is needed")
                : file.Version != KnownVersion ? throw new FormatException($"version: {KnownVersion} is known, this is {file.Version}")
                : Checked(fleet, new Sortie(file.Name, file.Header));
        }
        catch (JsonException e)
        {
            throw new FormatException($"{FleetJson.FieldOf(e)}: {FleetJson.Plain(e)}", e);
        }
    }

    /// <summary>Reads the part of an address.</summary>
    /// <exception cref="FormatException">It is cut or changed, or cannot be flown here; the message begins with the field.</exception>
    public static Sortie Decode(Fleet fleet, string code)
    {
        ArgumentNullException.ThrowIfNull(code);
        if (code.Length > MaxBytes || !Base64Url.IsValid(code))
        {
            throw new FormatException("sortie: this part of the address is cut or changed: ask for it again");
        }

        var text = Encoding.UTF8.GetString(Base64Url.DecodeFromChars(code));
        try
        {
            return Read(fleet, text);
        }
        catch (FormatException e) when (e.InnerException is JsonException)
        {
            throw new FormatException("sortie: this part of the address is cut or changed: ask for it again", e);
        }
    }

    /// <summary>A sortie that can be kept: it has a name, and its situation can be flown. What a run adds to its header is taken off.</summary>
    /// <exception cref="FormatException">The message begins with the field.</exception>
    public static Sortie Checked(Fleet fleet, Sortie sortie)
    {
        ArgumentNullException.ThrowIfNull(fleet);
        ArgumentNullException.ThrowIfNull(sortie);
        var name = sortie.Name.Trim();
        if (name.Length is 0 or > LongestName)
        {
            throw new FormatException($"name: 1 to {LongestName} characters are needed");
        }

        HeaderCheck.Check(new { name });
        var plain = Plain(sortie.Header);
        _ = new Rehearsal(fleet, plain); // machine and procedure: what is wrong with it is said by its field
        return new Sortie(name, plain);
    }

    /// <summary>The situation of a run without what making it added: what was drawn, the data and the physics it was flown with, the drills counted.</summary>
    public static RunHeader Plain(RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(header);
        return header with { Drawn = null, Data = null, Physics = null, Drilled = null };
    }

    private static File Of(Sortie sortie)
    {
        ArgumentNullException.ThrowIfNull(sortie);
        return new File(FormatName, KnownVersion, sortie.Name, sortie.Header);
    }
}
