using System.Diagnostics;
using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>Height and seconds that each method of restart costs, for every type; how far the envelope is right; and how long both take to compute.</summary>
internal static class RelightBench
{
    private const int Points = 400;
    private static readonly double[] Heights = [10_000, 15_000, 20_000, 25_000];

    public static void Run()
    {
        var fleet = Repository.Fleet;
        Console.WriteLine("| from its best glide | " + string.Join(" | ", Heights.Select(h => h.ToString("#,##0 ft", CultureInfo.InvariantCulture))) + " |");
        Console.WriteLine("|---|" + string.Concat(Heights.Select(_ => "---|")));
        foreach (var aircraft in fleet.Aircraft)
        {
            var told = Heights.Select(h => RelightOutlook.For(fleet, Situations.Aloft(aircraft.Id, h), [], 0)).ToList();
            for (var i = 0; i < Math.Max(1, told.Max(t => t.Methods.Count)); i++)
            {
                var cells = told.Select(t => t.Methods.ElementAtOrDefault(i) is not { } m ? "below the decision height"
                    : m.Works ? string.Create(CultureInfo.InvariantCulture, $"{m.CostFt:#,##0} ft, {m.Seconds:0} s") : "–");
                Console.WriteLine($"| {aircraft.Name}, {(told.SelectMany(t => t.Methods).ElementAtOrDefault(i)?.Label ?? "").ToLowerInvariant()} | {string.Join(" | ", cells)} |");
            }
        }

        foreach (var aircraft in fleet.Aircraft)
        {
            Envelope(fleet, aircraft);
        }
    }

    private static void Envelope(Fleet fleet, AircraftDefinition aircraft)
    {
        var header = Situations.Aloft(aircraft.Id);
        var watch = Stopwatch.StartNew();
        var envelope = RelightEnvelope.For(fleet, header);
        var took = watch.Elapsed.TotalMilliseconds;
        watch.Restart();
        var last = LastChance.For(fleet, header);
        var chances = watch.Elapsed.TotalMilliseconds;
        watch.Restart();
        _ = RelightOutlook.For(fleet, header, [], 0);
        var outlook = watch.Elapsed.TotalMilliseconds;
        var said = Enumerable.Range(0, Points).AsParallel().Select(i =>
        {
            var (height, eas) = FuelNow.Point(aircraft, envelope.DecisionFt, i);
            return (Inside: envelope.Holds(height, eas), Works: FuelNow.Works(header with { Flight = header.Flight! with { HeightFt = height, EasKt = eas } }));
        }).ToList();
        var (inside, outside) = (said.Where(s => s.Inside).ToList(), said.Where(s => !s.Inside).ToList());
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{aircraft.Name}: inside {100.0 * inside.Count(s => s.Works) / inside.Count:0.0} % of {inside.Count} restart, "
            + $"outside {100.0 * outside.Count(s => s.Works) / outside.Count:0.0} % of {outside.Count}; "
            + $"envelope {took:0} ms, last chances {chances:0} ms, outlook {outlook:0} ms"));
        foreach (var chance in last)
        {
            Regions(aircraft, header, envelope.DecisionFt, chance);
        }
    }

    // Over and under a method's last chance, by a guided flight from each point.
    private static void Regions(AircraftDefinition aircraft, RunHeader header, double decisionFt, LastChance chance)
    {
        var said = Enumerable.Range(0, Points).AsParallel().Select(i =>
        {
            var from = GuidedRestart.Point(chance, aircraft, decisionFt, i);
            return (Inside: GuidedRestart.Told(chance, from), Works: GuidedRestart.Works(header, chance.Id, from));
        }).ToList();
        var (inside, outside) = (said.Where(s => s.Inside).ToList(), said.Where(s => !s.Inside).ToList());
        var line = string.Join(", ", chance.Points.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.EasKt:0} kt {p.HeightFt:#,##0} ft")));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {chance.Label.ToLowerInvariant()}: {line}; over it {Share(inside)} restart, under it {Share(outside)}"));

        static string Share(List<(bool Inside, bool Works)> points) =>
            string.Create(CultureInfo.InvariantCulture, $"{100.0 * points.Count(p => p.Works) / points.Count:0.0} % of {points.Count}");
    }
}
