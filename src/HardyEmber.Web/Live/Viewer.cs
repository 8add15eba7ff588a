using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>The way to a page: sends it a frame, or cuts it off.</summary>
/// <param name="Connection">Its name.</param>
/// <param name="Silence">How long it and the server bear each other's silence.</param>
/// <param name="SendAsync">Completes when the connection has taken the frame.</param>
/// <param name="OpeningAsync">Tells it the share of the replay that is done, while the run is opened.</param>
/// <param name="Drop">Ends the connection: it does not read.</param>
/// <param name="Gone">Cancelled when the connection has ended.</param>
public sealed record PageLine(string Connection, Silence Silence, Func<Frame, Task> SendAsync, Func<double, Task> OpeningAsync, Action Drop, CancellationToken Gone);

/// <summary>
/// A page in a run. At most one frame is on its way to it; what happens meanwhile is not queued but goes, as the difference
/// to what it has, into the next. So a page that reads slowly costs nobody but itself, and one that does not read at all is dropped.
/// </summary>
internal sealed class Viewer(PageLine line, Role role)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);
    private long _sendingSince;
    private bool _sending;
    private int _has, _actions;

    public string Connection => line.Connection;
    public Role Role => role;
    public double SilenceS => line.Silence.Longest.TotalSeconds;

    /// <summary>It has been given the whole of this state.</summary>
    public void Knows(Published run) => (_has, _actions) = (run.Number, run.Actions);

    /// <summary>Sends what it lacks, if anything and if the frame before has been taken.</summary>
    /// <param name="taken">Called, at any time and on any thread, when a frame that took its time has been taken.</param>
    public void Bring(Published run, TimeProvider time, Action taken)
    {
        if (_sending)
        {
            if (time.GetElapsedTime(_sendingSince) > Patience)
            {
                line.Drop();
            }

            return;
        }

        if (_has == run.Number)
        {
            return;
        }

        var sent = line.SendAsync(run.Since(_has, _actions));
        Knows(run);
        if (sent.IsCompletedSuccessfully)
        {
            return;
        }

        (_sending, _sendingSince) = (true, time.GetTimestamp());
        // A line that fails is a page that has gone; its leave is on the way.
        _ = sent.ContinueWith(_ => taken(), CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
    }

    /// <summary>Ends its connection; the page comes back by itself.</summary>
    public void Drop() => line.Drop();

    /// <summary>The frame on its way has been taken.</summary>
    public void Taken() => _sending = false;
}

/// <summary>Which pages hold which sprung controls: a control springs back when the last lets go of it.</summary>
internal sealed class Holds
{
    private readonly Dictionary<string, HashSet<string>> _pages = [];

    public void Add(string control, string page)
    {
        if (!_pages.TryGetValue(control, out var pages))
        {
            _pages[control] = pages = [];
        }

        pages.Add(page);
    }

    /// <summary>A page lets go; true if nobody holds the control now.</summary>
    public bool LetGo(string control, string page)
    {
        if (!_pages.TryGetValue(control, out var pages))
        {
            return true;
        }

        _ = pages.Remove(page);
        return pages.Count == 0 && _pages.Remove(control);
    }

    /// <summary>Everything a page holds.</summary>
    public IReadOnlyList<string> Of(string page) => [.. _pages.Where(p => p.Value.Contains(page)).Select(p => p.Key)];

    /// <summary>Controls that stand in a held position with nobody's hand on them, as after a crash or a fork: hands do not survive a replay.</summary>
    public IReadOnlyList<string> Orphans(Machine machine) =>
        [.. machine.Aircraft.Controls.Where(c => c.Sprung.Count > 0 && !_pages.ContainsKey(c.Id) && c.Sprung.Contains(c.Positions[(int)machine[c.Id]])).Select(c => c.Id)];
}
