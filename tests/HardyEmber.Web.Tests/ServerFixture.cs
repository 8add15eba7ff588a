using System.Net.Http.Json;
using System.Text.Json;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;
using HardyEmber.Web.Live;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;

namespace HardyEmber.Web.Tests;

/// <summary>One real server shared by the tests of a class.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await ServerProcess.StartAsync();

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

/// <summary>A page's hub connection: joins a run and keeps the latest value of every signal.</summary>
internal sealed class HubPage : IAsyncDisposable
{
    private readonly HubConnection _hub;
    private readonly string _run;
    private readonly Lock _gate = new();
    private readonly Dictionary<string, double> _values = [];
    private Snapshot? _snapshot;
    private TaskCompletionSource _changed = new(TaskCreationOptions.RunContinuationsAsynchronously);

    private HubPage(HubConnection hub, string run) => (_hub, _run) = (hub, run);

    public Snapshot Snapshot => _snapshot!;
    public double Time { get; private set; }
    public CueView? Cue { get; private set; }
    public bool Paused { get; private set; }
    public List<ActionView> Actions { get; } = [];
    public int FramesTaken { get; private set; }

    public static async Task<HubPage> OpenAsync(ServerProcess server, string run, bool resume = false)
    {
        var hub = new HubConnectionBuilder().WithUrl(new Uri(server.Address, "/hub/run"))
            .AddJsonProtocol(o =>
            {
                FleetJson.Configure(o.PayloadSerializerOptions);
                o.PayloadSerializerOptions.RespectRequiredConstructorParameters = false; // null members are not sent
            }).Build();
        var page = new HubPage(hub, run);
        hub.On<Frame>("frame", page.Take);
        await hub.StartAsync();
        var snapshot = await hub.InvokeAsync<Snapshot>("Join", run, resume);
        lock (page._gate)
        {
            page._snapshot = snapshot;
        }

        page.Take(snapshot.Frame);
        return page;
    }

    private void Take(Frame frame)
    {
        lock (_gate)
        {
            if (_snapshot is null)
            {
                return;
            }

            for (var i = 0; i < frame.S.Length; i += 2)
            {
                var signal = _snapshot.Signals[(int)frame.S[i]];
                _values[signal.Name] = frame.S[i + 1] * signal.Quantum;
            }

            (Time, Paused, Cue) = (frame.T, frame.Paused, frame.Cue ?? Cue);
            Actions.AddRange(frame.Actions ?? []);
            FramesTaken++;
            _changed.TrySetResult();
            _changed = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        }
    }

    public double Value(string signal)
    {
        lock (_gate)
        {
            return _values.GetValueOrDefault(signal, double.NaN);
        }
    }

    public Task SendAsync(string method, params object?[] arguments) => _hub.InvokeCoreAsync(method, typeof(object), [_run, .. arguments]);

    /// <summary>Waits for frames until the condition holds.</summary>
    public async Task UntilAsync(Func<HubPage, bool> condition, string what, int withinS = 20)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(withinS));
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
                Assert.Fail($"{what} did not come within {withinS} s; time {Time}, cue {Cue?.Id}");
            }
        }
    }

    public ValueTask DisposeAsync() => _hub.DisposeAsync();
}
