using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>One real server shared by the tests of a class; its clock stands until a test moves it.</summary>
public sealed class ServerFixture : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await ServerProcess.StartAsync(stepped: true);

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}

/// <summary>Shorthand of the tests.</summary>
internal static class Pages
{
    public static Core.Definitions.RunHeader Header { get; } = Situations.Calm with { Pilot = "Flint" };

    public static Uri Path(string path) => ServerCalls.Path(path);
}
