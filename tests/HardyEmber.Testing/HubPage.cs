using HardyEmber.Core.Definitions;
using HardyEmber.Web.Live;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace HardyEmber.Testing;

/// <summary>
/// A page's hub connection: joins a run and keeps the latest value of every signal. It asks for nothing twice: a frame that never
/// came leaves <see cref="Missed"/> above nothing.
/// </summary>
public sealed class HubPage : IAsyncDisposable
{
    private readonly ServerProcess _server;
    private readonly HubConnection _hub;
    private readonly string _run;
    private readonly Lock _gate = new();
    private readonly Dictionary<string, double> _values = [];
    private readonly List<Frame> _early = [];
    private Snapshot? _snapshot;
    private TaskCompletionSource _changed = new(TaskCreationOptions.RunContinuationsAsynchronously);

    private HubPage(ServerProcess server, HubConnection hub, string run) => (_server, _hub, _run) = (server, hub, run);

    /// <summary>The run that it is in.</summary>
    public string Run => _run;

    public Snapshot Snapshot => _snapshot!;
    public double Time { get; private set; }
    public CueView? Cue { get; private set; }
    public bool Paused { get; private set; }
    public bool Ended { get; private set; }
    public int Number { get; private set; }
    public string? Trouble { get; private set; }
    public List<ActionView> Actions { get; } = [];

    /// <summary>Frames that wait for one which has not come.</summary>
    public int Missed
    {
        get
        {
            lock (_gate)
            {
                return _early.Count;
            }
        }
    }

    /// <summary>A connection that has joined nothing.</summary>
    public static async Task<HubPage> ConnectAsync(ServerProcess server, string run, Wire? over = null)
    {
        var hub = new HubConnectionBuilder().WithUrl(new Uri(over?.Address ?? server.Address, "/hub/run"), o => o.Headers["X-Hardy-Ember"] = "test")
            .AddJsonProtocol(o =>
            {
                FleetJson.Configure(o.PayloadSerializerOptions);
                o.PayloadSerializerOptions.RespectRequiredConstructorParameters = false; // null members are not sent
            }).Build();
        hub.KeepAliveInterval = TimeSpan.FromSeconds(1);
        // A busy machine makes a test slow; its server is not gone for that.
        hub.ServerTimeout = TimeSpan.FromMinutes(2);
        var page = new HubPage(server, hub, run);
        hub.On<string, Frame>("frame", (from, frame) => page.Take(from, frame));
        await hub.StartAsync().ConfigureAwait(false);
        return page;
    }

    public static async Task<HubPage> OpenAsync(ServerProcess server, string run, Role role = Role.Fly, bool resume = false, Wire? over = null)
    {
        var page = await ConnectAsync(server, run, over).ConfigureAwait(false);
        await page.JoinAsync(role, resume).ConfigureAwait(false);
        return page;
    }

    public async Task JoinAsync(Role role = Role.Fly, bool resume = false) => Begin(await _hub.InvokeAsync<Snapshot>("Join", _run, role, resume).ConfigureAwait(false));

    private void Begin(Snapshot snapshot)
    {
        lock (_gate)
        {
            // Who joins again may have gone on meanwhile: a frame that builds on the answer can come before it, and needs nothing else.
            if (_snapshot is null || snapshot.Frame.N >= Number)
            {
                _snapshot = snapshot;
                Actions.Clear();
                Apply(snapshot.Frame);
            }

            TakeDue();
        }
    }

    private void Take(string run, Frame frame)
    {
        lock (_gate)
        {
            if (run == _run)
            {
                _early.Add(frame);
                TakeDue();
            }
        }
    }

    // A frame may overtake the answer to the join that it builds on.
    private void TakeDue()
    {
        if (_snapshot is null)
        {
            return;
        }

        foreach (var frame in _early.OrderBy(f => f.N).ToList())
        {
            if (frame.Base <= Number)
            {
                _ = _early.Remove(frame);
                if (frame.N > Number)
                {
                    Apply(frame);
                }
            }
        }
    }

    private void Apply(Frame frame)
    {
        for (var i = 0; i < frame.S.Length; i += 2)
        {
            var signal = _snapshot!.Signals[(int)frame.S[i]];
            _values[signal.Name] = frame.S[i + 1] * signal.Quantum;
        }

        (Number, Time, Paused, Ended, Cue, Trouble) = (frame.N, frame.T, frame.Paused, frame.Ended, frame.Cue ?? Cue, frame.Trouble);
        Actions.AddRange((frame.Actions ?? []).Skip(Actions.Count - (frame.ActionsFrom ?? Actions.Count)));
        _changed.TrySetResult();
        _changed = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
    }

    public double Value(string signal)
    {
        lock (_gate)
        {
            return _values.GetValueOrDefault(signal, double.NaN);
        }
    }

    /// <summary>Every value it has, to compare two pages.</summary>
    public IReadOnlyDictionary<string, double> Values
    {
        get
        {
            lock (_gate)
            {
                return new Dictionary<string, double>(_values);
            }
        }
    }

    /// <summary>Sends a command and waits for the state that shows it.</summary>
    public async Task<Ack> SendAsync(string method, params object?[] arguments)
    {
        var ack = (Ack)(await _hub.InvokeCoreAsync(method, typeof(Ack), [_run, .. arguments]).ConfigureAwait(false))!;
        await UntilAsync(p => p.Number >= ack.N, $"the effect of {method}").ConfigureAwait(false);
        return ack;
    }

    /// <summary>Calls what answers nothing: rate, pause, leave.</summary>
    public Task CallAsync(string method, params object?[] arguments) => _hub.InvokeCoreAsync(method, [_run, .. arguments]);

    /// <summary>How many actions the run has had, as the server says.</summary>
    public async Task<int> ActionsAsync()
    {
        var frame = (await _hub.InvokeAsync<Snapshot>("State", _run).ConfigureAwait(false)).Frame;
        return (frame.ActionsFrom ?? 0) + (frame.Actions?.Count ?? 0);
    }

    /// <summary>Calls the hub with a run of its own choice.</summary>
    public Task InvokeAsync(string method, params object?[] arguments) => _hub.InvokeCoreAsync(method, arguments);

    /// <summary>Moves the server's clock on and waits for the state it leads to.</summary>
    public async Task StepAsync(double seconds)
    {
        var reached = (await _server.StepAsync(seconds).ConfigureAwait(false))[_run];
        await UntilAsync(p => p.Number >= reached, $"state {reached}").ConfigureAwait(false);
    }

    /// <summary>Moves the server's clock on until the condition holds.</summary>
    public async Task StepUntilAsync(Func<HubPage, bool> condition, string what, double withinS = 60)
    {
        for (var left = withinS; !Holds(condition); left -= 0.2)
        {
            if (left <= 0)
            {
                throw new TimeoutException($"{what} did not come within {withinS} s of the run; time {Time}, cue {Cue?.Id}");
            }

            await StepAsync(0.2).ConfigureAwait(false);
        }
    }

    private bool Holds(Func<HubPage, bool> condition)
    {
        lock (_gate)
        {
            return condition(this);
        }
    }

    /// <summary>Waits for frames until the condition holds.</summary>
    public async Task UntilAsync(Func<HubPage, bool> condition, string what)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        while (true)
        {
            Task changed;
            lock (_gate)
            {
                if (condition(this))
                {
                    return;
                }

                changed = _changed.Task;
            }

            try
            {
                await changed.WaitAsync(limit.Token).ConfigureAwait(false);
            }
            catch (OperationCanceledException e)
            {
                throw new TimeoutException($"{what} did not come; time {Time}, cue {Cue?.Id}", e);
            }
        }
    }

    public ValueTask DisposeAsync() => _hub.DisposeAsync();
}
