using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>The situations measured and pictured: the demo day.</summary>
internal static class Headers
{
    public static RunHeader Cold() => Situations.DemoDay with { Loading = new LoadingHeader(11200, 1500), Pilot = "Tinder" };

    public static RunHeader Air() => Cold() with { Beginning = "air", Flight = new RunFlight(25000, 230, "right"), Loading = null };
}
