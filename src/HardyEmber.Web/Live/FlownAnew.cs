using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>Whoever looks at a run, or goes on with it, is told where it cannot be computed with what it was flown with.</summary>
internal static class FlownAnew
{
    /// <param name="known">Its data are here and understood.</param>
    /// <param name="what">What is computed otherwise: “the curves are”.</param>
    /// <returns>Null where it is computed as it was flown.</returns>
    public static string? Why(RunHeader header, bool known, string what) =>
        !known ? $"The data that it was flown with are not here, or no longer understood: {what} computed with today's."
        : header.Physics is { } physics && physics != Physics.Version ? $"It was flown with version {physics} of the physics, and {what} computed with version {Physics.Version}."
        : null;
}
