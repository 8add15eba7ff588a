using HardyEmber.Core.Runs;

namespace HardyEmber.Bench;

/// <summary>The situations measured and pictured: the demo day.</summary>
internal static class Headers
{
    public static RunHeader Cold() => new()
    {
        Aircraft = "juniper",
        Place = "skerrow-main",
        Spot = "A1",
        Seed = 7,
        Start = "first",
        Conditions = new RunConditions(-24, 310, 17, QnhHpa: 987),
        Loading = new LoadingHeader(11200, 1500),
        Pilot = "Tinder",
    };

    public static RunHeader Air() => Cold() with { Start = "air", Flight = new RunFlight(25000, 230, "right"), Loading = null };
}
