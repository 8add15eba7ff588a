using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using HardyEmber.Web.Live;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace HardyEmber.Web.Tests;

/// <summary>One real server shared by the tests of a class; its clock stands until a test moves it.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await ServerProcess.StartAsync(stepped: true);

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}

/// <summary>What a page does over HTTP and the hub, for tests.</summary>
internal static class Pages
{
    public static RunHeader Header { get; } = Situations.Calm with { Pilot = "Flint" };

    public static Uri Path(string path) => new(path, UriKind.Relative);

    public static async Task<string> CreateAsync(this ServerProcess server, RunHeader? header = null)
    {
        using var response = await server.Client.PostAsJsonAsync(Path("/api/runs"), header ?? Header, FleetJson.Line);
        response.EnsureSuccessStatusCode();
        return (await response.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetString()!;
    }

    public static async Task<JsonElement> JsonAsync(this ServerProcess server, string path) => await server.Client.GetFromJsonAsync<JsonElement>(Path(path));
}

/// <summary>
/// A page's hub connection: joins a run and keeps the latest value of every signal. It trusts nothing: a frame that builds on
/// a state it does not have fails the test.
/// </summary>
internal sealed class HubPage : IAsyncDisposable
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

    public Snapshot Snapshot => _snapshot!;
    public double Time { get; private set; }
    public CueView? Cue { get; private set; }
    public bool Paused { get; private set; }
    public bool Ended { get; private set; }
    public int Number { get; private set; }
    public List<ActionView> Actions { get; } = [];

    /// <summary>Frames that built on a state which had not come.</summary>
    public int Missed { get; private set; }

    /// <summary>A connection that has joined nothing.</summary>
    public static async Task<HubPage> ConnectAsync(ServerProcess server, string run)
    {
        var hub = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/hub/run"))
            .AddJsonProtocol(o =>
            {
                FleetJson.Configure(o.PayloadSerializerOptions);
                o.PayloadSerializerOptions.RespectRequiredConstructorParameters = false; // null members are not sent
            }).Build();
        var page = new HubPage(server, hub, run);
        hub.On<string, Frame>("frame", (from, frame) => page.Take(from, frame));
        await hub.StartAsync();
        return page;
    }

    public static async Task<HubPage> OpenAsync(ServerProcess server, string run, Role role = Role.Fly, bool resume = false)
    {
        var page = await ConnectAsync(server, run);
        await page.JoinAsync(role, resume);
        return page;
    }

    public async Task JoinAsync(Role role = Role.Fly, bool resume = false) => Begin(await _hub.InvokeAsync<Snapshot>("Join", _run, role, resume));

    private void Begin(Snapshot snapshot)
    {
        lock (_gate)
        {
            _snapshot = snapshot;
            Actions.Clear();
            Apply(snapshot.Frame);
            _early.OrderBy(f => f.N).ToList().ForEach(Take);
            _early.Clear();
        }
    }

    private void Take(string run, Frame frame)
    {
        lock (_gate)
        {
            if (run != _run)
            {
                return;
            }

            if (_snapshot is null)
            {
                _early.Add(frame);
            }
            else
            {
                Take(frame);
            }
        }
    }

    private void Take(Frame frame)
    {
        if (frame.N <= Number)
        {
            return;
        }

        Missed += frame.Base > Number ? 1 : 0;
        Apply(frame);
    }

    private void Apply(Frame frame)
    {
        for (var i = 0; i < frame.S.Length; i += 2)
        {
            var signal = _snapshot!.Signals[(int)frame.S[i]];
            _values[signal.Name] = frame.S[i + 1] * signal.Quantum;
        }

        (Number, Time, Paused, Ended, Cue) = (frame.N, frame.T, frame.Paused, frame.Ended, frame.Cue ?? Cue);
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
        var ack = (Ack)(await _hub.InvokeCoreAsync(method, typeof(Ack), [_run, .. arguments]))!;
        await UntilAsync(p => p.Number >= ack.N, $"the effect of {method}");
        return ack;
    }

    /// <summary>Calls what answers nothing: rate, pause, leave.</summary>
    public Task CallAsync(string method, params object?[] arguments) => _hub.InvokeCoreAsync(method, [_run, .. arguments]);

    /// <summary>Calls the hub with a run of its own choice.</summary>
    public Task InvokeAsync(string method, params object?[] arguments) => _hub.InvokeCoreAsync(method, arguments);

    /// <summary>Moves the server's clock on and waits for the state it leads to.</summary>
    public async Task StepAsync(double seconds)
    {
        var reached = (await _server.StepAsync(seconds))[_run];
        await UntilAsync(p => p.Number >= reached, $"state {reached}");
    }

    /// <summary>Moves the server's clock on until the condition holds.</summary>
    public async Task StepUntilAsync(Func<HubPage, bool> condition, string what, double withinS = 60)
    {
        for (var left = withinS; !Holds(condition); left -= 0.2)
        {
            Assert.True(left > 0, $"{what} did not come within {withinS} s of the run; time {Time}, cue {Cue?.Id}");
            await StepAsync(0.2);
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
                await changed.WaitAsync(limit.Token);
            }
            catch (OperationCanceledException)
            {
                Assert.Fail($"{what} did not come; time {Time}, cue {Cue?.Id}");
            }
        }
    }

    public ValueTask DisposeAsync() => _hub.DisposeAsync();
}
