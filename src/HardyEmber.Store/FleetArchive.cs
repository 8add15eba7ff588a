using System.Collections.Concurrent;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Store;

/// <summary>Today's fleet, and those of earlier data that stored runs were flown with.</summary>
public sealed class FleetArchive(Fleet today, DataStore store)
{
    /// <summary>Read versions kept in memory; each takes about a megabyte.</summary>
    private const int MostKept = 12;
    private readonly ConcurrentDictionary<string, Fleet> _read = new();
    private readonly Lazy<HashSet<string>> _todays = new(() => [.. today.Aircraft.SelectMany(a => today.Places, (a, p) => today.VersionFor(a.Id, p.Id).Digest)]);

    public Fleet Today => today;

    /// <summary>A run was flown with today's data, or its header says nothing.</summary>
    public bool IsToday(RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(header);
        return header.Data is not { } digest || today.VersionFor(header.Aircraft, header.Place).Digest == digest;
    }

    /// <summary>This version is in memory: asking for it costs nothing.</summary>
    public bool IsRead(string digest) => _todays.Value.Contains(digest) || _read.ContainsKey(digest);

    /// <summary>The fleet that a run was flown with; today's where its header says nothing.</summary>
    /// <returns>Null where its data are not kept, or can no longer be read by this version of the program.</returns>
    public Fleet? Of(RunHeader header)
    {
        return IsToday(header) ? today : Of(header.Data!);
    }

    /// <summary>The same; today's as well where its own is lost.</summary>
    public Fleet For(RunHeader header) => Of(header) ?? today;

    /// <summary>The fleet of an earlier version of the data.</summary>
    /// <inheritdoc cref="Of(RunHeader)"/>
    public Fleet? Of(string digest)
    {
        if (_todays.Value.Contains(digest))
        {
            return today;
        }

        if (_read.TryGetValue(digest, out var known))
        {
            return known;
        }

        // What is not there may come with the next import: that is not remembered.
        if (Read(digest) is not { } fleet)
        {
            return null;
        }

        if (_read.Count >= MostKept)
        {
            _read.Clear();
        }

        return _read.GetOrAdd(digest, fleet);
    }

    /// <summary>Forgets the versions in memory; a run that is open keeps its own.</summary>
    public void Forget() => _read.Clear();

    private Fleet? Read(string digest)
    {
        try
        {
            return store.Find(digest)?.Load();
        }
        catch (DataFaultException)
        {
            return null;
        }
    }
}
