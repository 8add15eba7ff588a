using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;

namespace HardyEmber.Testing;

/// <summary>What becomes of a wire.</summary>
public enum WireTrouble
{
    /// <summary>Bytes go both ways.</summary>
    None,

    /// <summary>Nothing goes either way, and nobody is told: a sleeping computer, a tunnel.</summary>
    Frozen,

    /// <summary>What the page sends is lost; what the server sends arrives.</summary>
    HalfOpen,

    /// <summary>Both ends are closed.</summary>
    Cut,
}

/// <summary>A wire between a page and a server that a test can spoil.</summary>
public sealed class Wire : IAsyncDisposable
{
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly ConcurrentBag<TcpClient> _ends = [];
    private readonly CancellationTokenSource _over = new();
    private readonly int _to;
    private volatile WireTrouble _trouble;

    public Wire(ServerProcess server)
    {
        ArgumentNullException.ThrowIfNull(server);
        _to = server.Port;
        _listener.Start();
        _ = AcceptAsync();
    }

    public Uri Address => new($"http://127.0.0.1:{((IPEndPoint)_listener.LocalEndpoint).Port}");

    public void Suffer(WireTrouble trouble)
    {
        _trouble = trouble;
        foreach (var end in trouble == WireTrouble.Cut ? _ends.ToArray() : [])
        {
            end.Close();
        }
    }

    private async Task AcceptAsync()
    {
        try
        {
            while (true)
            {
                var page = await _listener.AcceptTcpClientAsync(_over.Token).ConfigureAwait(false);
                var server = new TcpClient();
                await server.ConnectAsync(IPAddress.Loopback, _to, _over.Token).ConfigureAwait(false);
                _ends.Add(page);
                _ends.Add(server);
                _ = CarryAsync(page, server, toServer: true);
                _ = CarryAsync(server, page, toServer: false);
            }
        }
        catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException)
        {
            // The test is over.
        }
    }

    private async Task CarryAsync(TcpClient from, TcpClient to, bool toServer)
    {
        var buffer = new byte[64 << 10];
        try
        {
            while (await from.GetStream().ReadAsync(buffer, _over.Token).ConfigureAwait(false) is var read and > 0)
            {
                while (_trouble == WireTrouble.Frozen)
                {
                    await Task.Delay(20, _over.Token).ConfigureAwait(false);
                }

                if (!(toServer && _trouble == WireTrouble.HalfOpen))
                {
                    await to.GetStream().WriteAsync(buffer.AsMemory(0, read), _over.Token).ConfigureAwait(false);
                }
            }
        }
        catch (Exception e) when (e is OperationCanceledException or IOException or ObjectDisposedException or InvalidOperationException)
        {
            // One end has gone; the other is told.
        }

        if (_trouble == WireTrouble.None)
        {
            to.Close();
        }
    }

    public async ValueTask DisposeAsync()
    {
        await _over.CancelAsync().ConfigureAwait(false);
        _listener.Stop();
        foreach (var end in _ends)
        {
            end.Dispose();
        }

        _over.Dispose();
    }
}
