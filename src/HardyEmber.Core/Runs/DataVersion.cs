using System.Security.Cryptography;
using System.Text;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Runs;

/// <summary>The data files that a run rests on: its aircraft and procedures, its place, and what all have in common.</summary>
/// <param name="Digest">32 hexadecimal digits (the first half of a SHA-256 over paths and texts): equal digests, equal data.</param>
/// <param name="Files">The files, by path.</param>
public sealed record DataVersion(string Digest, IReadOnlyList<FleetFile> Files)
{
    private const int DigestLength = 32;

    public static DataVersion Of(IEnumerable<FleetFile> files)
    {
        FleetFile[] sorted = [.. files.OrderBy(f => f.Path, StringComparer.Ordinal)];
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var file in sorted)
        {
            hash.AppendData(Encoding.UTF8.GetBytes($"{file.Path}\0{file.Text}\0"));
        }

        return new DataVersion(Convert.ToHexStringLower(hash.GetHashAndReset())[..DigestLength], sorted);
    }

    /// <summary>The word looks like a digest.</summary>
    public static bool IsDigest(string word)
    {
        ArgumentNullException.ThrowIfNull(word);
        return word.Length == DigestLength && word.All(char.IsAsciiHexDigitLower);
    }

    /// <summary>The fleet that these files make: one aircraft and one place.</summary>
    /// <exception cref="DataFaultException">They are no sound data for this version of the program.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits for it any more.</exception>
    public Fleet Load(CancellationToken cancel = default) => Fleet.Load(Files, cancel);
}
