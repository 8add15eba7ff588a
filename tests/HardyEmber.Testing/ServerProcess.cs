using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;

namespace HardyEmber.Testing;

/// <summary>
/// The real server as a process of its own, so that it can be killed like one. Stepped, its live runs go by a clock that moves
/// only when <see cref="StepAsync"/> says so.
/// </summary>
public sealed class ServerProcess : IAsyncDisposable
{
    private static readonly TimeSpan StartWithin = TimeSpan.FromMinutes(2);
    private readonly string _data;
    private readonly bool _demo, _stepped;
    private readonly IReadOnlyList<string> _settings;
    private readonly List<string> _output = [];
    private Process _process;

    private ServerProcess(string data, bool demo, bool stepped, IReadOnlyList<string> settings, int port)
    {
        (_data, _demo, _stepped, _settings, Port) = (data, demo, stepped, settings, port);
        _process = Launch();
    }

    public int Port { get; }
    public Uri Address => new($"http://127.0.0.1:{Port}");
    public HttpClient Client { get; private set; } = new();
    public string Data => _data;
    public Process Process => _process;

    /// <summary>What the server has printed, for a failing test's message.</summary>
    public string Output
    {
        get
        {
            lock (_output)
            {
                return string.Join('\n', _output);
            }
        }
    }

    /// <summary>Waits until the server has printed a text.</summary>
    public async Task UntilSaidAsync(string text)
    {
        for (var watch = Stopwatch.StartNew(); !Output.Contains(text, StringComparison.Ordinal); await Task.Delay(20).ConfigureAwait(false))
        {
            if (watch.Elapsed > StartWithin)
            {
                throw new TimeoutException($"the server did not say \"{text}\":\n{Output}");
            }
        }
    }

    public static async Task<ServerProcess> StartAsync(bool demo = false, string? data = null, bool stepped = false, IReadOnlyList<string>? settings = null)
    {
        var server = new ServerProcess(data ?? Repository.TemporaryFolder(), demo, stepped, settings ?? [], FreePort());
        await server.ReadyAsync().ConfigureAwait(false);
        return server;
    }

    /// <summary>Moves the clock of a stepped server on. Returns the number of the state that each live run has then.</summary>
    public async Task<IReadOnlyDictionary<string, int>> StepAsync(double seconds)
    {
        using var response = await Client.PostAsync(new Uri(string.Create(CultureInfo.InvariantCulture, $"/test/step?seconds={seconds}"), UriKind.Relative), null)
            .ConfigureAwait(false);
        response.EnsureSuccessStatusCode();
        return (await response.Content.ReadFromJsonAsync<Dictionary<string, int>>().ConfigureAwait(false))!;
    }

    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private Process Launch()
    {
        var start = new ProcessStartInfo("dotnet")
        {
            ArgumentList =
            {
                Repository.Program(_stepped ? "HardyEmber.TestServer" : "HardyEmber.Web"), "--urls", $"http://127.0.0.1:{Port}", "--data", _data, "--demo",
                _demo ? "true" : "false",
                "--silence", "120", // a busy machine makes a test slow; its page is not gone for that
                "--contentRoot", Path.Combine(Repository.Root, "src", "HardyEmber.Web"), "--units", Path.Combine(Repository.Root, "web", "dist-units"),
            },
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["DOTNET_GCgen0size"] = "0x400000"; // as ./ember up starts it
        foreach (var setting in _settings)
        {
            start.ArgumentList.Add(setting);
        }

        var process = new Process { StartInfo = start, EnableRaisingEvents = true };
        void Take(object _, DataReceivedEventArgs e)
        {
            lock (_output)
            {
                _output.Add(e.Data ?? "");
            }
        }

        process.OutputDataReceived += Take;
        process.ErrorDataReceived += Take;
        process.Start();
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        return process;
    }

    private async Task ReadyAsync()
    {
        Client.Dispose();
        Client = new HttpClient { BaseAddress = Address };
        Client.DefaultRequestHeaders.Add("X-Hardy-Ember", "test");
        var watch = Stopwatch.StartNew();
        while (watch.Elapsed < StartWithin)
        {
            try
            {
                using var response = await Client.GetAsync(new Uri("/api/health", UriKind.Relative)).ConfigureAwait(false);
                if (response.IsSuccessStatusCode)
                {
                    return;
                }
            }
            catch (HttpRequestException) when (!_process.HasExited)
            {
                await Task.Delay(50).ConfigureAwait(false);
            }
        }

        throw new InvalidOperationException("the server did not come up:\n" + Output);
    }

    /// <summary>kill −9: no handler runs, nothing is flushed.</summary>
    public async Task KillAsync()
    {
        _process.Kill();
        await _process.WaitForExitAsync().ConfigureAwait(false);
    }

    public async Task RestartAsync()
    {
        _process.Dispose();
        _process = Launch();
        await ReadyAsync().ConfigureAwait(false);
    }

    public async ValueTask DisposeAsync()
    {
        if (!_process.HasExited)
        {
            await KillAsync().ConfigureAwait(false);
        }

        _process.Dispose();
        Client.Dispose();
        try
        {
            Directory.Delete(_data, recursive: true);
        }
        catch (IOException)
        {
            // A temporary folder that outlives its test harms nobody.
        }
    }
}
