using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Store;

namespace HardyEmber.Web.Demo;

/// <summary>
/// The demo logbook: the detachment's last weeks of rehearsals, each flown by a scripted pilot through the real simulator
/// and judged by the real judge. No row is invented; the same seed flies the same run.
/// </summary>
internal static class DemoLogbook
{
    private sealed record Entry(double DaysAgo, string Pilot, long Seed, string Spot, double OatC, PilotTraits Traits, string? FuelOn = null, RunFault? Fault = null, RunFlight? Flight = null,
        string Aircraft = "juniper", string Start = "first");

    // Ash has the bad week: two hot starts in the tailwind of spot A4, one not cut off in time.
    private static readonly Entry[] Entries =
    [
        new(40.3, "Tinder", 11, "A1", -18, new PilotTraits(2.6, Forgets: new HashSet<string> { "hook-bypass", "ramp-check", "fuel-reminder" })),
        new(38.2, "Flint", 12, "A2", -15, new PilotTraits(2.2, LetsGoAfterS: 9)),
        new(33.4, "Clinker", 13, "A1", -21, new PilotTraits(1.9, Forgets: new HashSet<string> { "trim" })),
        new(30.1, "Kindle", 14, "A3", -9, new PilotTraits(1.6), "early"),
        new(26.5, "Tinder", 15, "A1", -12, new PilotTraits(2.0, Forgets: new HashSet<string> { "ramp-check" })),
        new(21.3, "Ash", 16, "A4", -4, new PilotTraits(2.4, ImpatientAfterS: 4.5)),
        new(20.2, "Ash", 17, "A4", 2, new PilotTraits(2.6, ImpatientAfterS: 3.0, CutsOff: false)),
        new(18.4, "Ash", 18, "A2", -6, new PilotTraits(2.2), Fault: new RunFault("igniter-dead", "right")),
        new(14.2, "Kindle", 19, "A1", -24, new PilotTraits(1.4), "early"),
        new(11.6, "Flint", 20, "A2", -19, new PilotTraits(1.5), Fault: new RunFault("weak-air", Level: 0.75)),
        new(8.3, "Clinker", 21, "A1", -22, new PilotTraits(1.4), Flight: new RunFlight(25000, 230, "right")),
        new(6.2, "Tinder", 22, "A1", -23, new PilotTraits(1.3)),
        new(3.4, "Ash", 23, "A1", -24, new PilotTraits(1.7), Fault: new RunFault("rich-control", "left", Level: 1.2)),
        new(36.7, "Flint", 31, "A2", -17, new PilotTraits(2.3, Forgets: new HashSet<string> { "computer-test" }), Aircraft: "bramble"),
        new(28.4, "Kindle", 32, "A3", -11, new PilotTraits(1.8), Fault: new RunFault("dead-bulb", Item: "oil"), Aircraft: "sedge"),
        new(23.9, "Clinker", 33, "A1", -8, new PilotTraits(1.7), Aircraft: "tansy", Start: "turnaround"),
        new(16.1, "Flint", 34, "A2", -13, new PilotTraits(1.6), Aircraft: "alder"),
        new(9.7, "Tinder", 35, "A1", -21, new PilotTraits(1.5, Forgets: new HashSet<string> { "sweep-master-arm", "right-master-arm" }), Aircraft: "alder", Start: "turnaround"),
        new(4.8, "Kindle", 36, "A2", -23, new PilotTraits(1.3), Aircraft: "teasel"),
        new(2.5, "Clinker", 37, "A3", -24, new PilotTraits(1.3), Aircraft: "bramble", Start: "turnaround"),
        new(1.3, "Kindle", 24, "A1", -24, new PilotTraits(1.1)),
    ];

    /// <summary>Fills an empty logbook; leaves any other as it is.</summary>
    public static async Task FillAsync(Fleet fleet, RunStore store, DateTimeOffset now)
    {
        if (store.Count() > 0)
        {
            return;
        }

        foreach (var e in Entries)
        {
            var header = new RunHeader
            {
                Aircraft = e.Aircraft,
                Place = "skerrow-main",
                Spot = e.Spot,
                Seed = e.Seed,
                Start = e.Flight is null ? e.Start : "air",
                Conditions = new RunConditions(e.OatC, 310, 17, QnhHpa: 987),
                School = e.FuelOn is { } fuelOn ? new Dictionary<string, string> { ["fuelOn"] = fuelOn } : new Dictionary<string, string>(),
                Faults = e.Fault is { } fault ? [fault] : [],
                Flight = e.Flight,
                Pilot = e.Pilot,
                Mode = "guided",
            };
            var rehearsal = new Rehearsal(fleet, header);
            var run = new ScriptedPilot(rehearsal, e.Traits).Fly(1200);
            _ = await store.CreateAsync(run, now.AddDays(-e.DaysAgo), summary: RunSummary.Of(rehearsal)).ConfigureAwait(false);
        }
    }
}
