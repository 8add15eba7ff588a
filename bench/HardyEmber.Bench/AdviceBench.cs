using System.Globalization;
using HardyEmber.Testing;

namespace HardyEmber.Bench;

/// <summary>How often the adviser's word is right: scattered starts over all types, each flown on whatever it says, and the hot ones once more with its word obeyed.</summary>
internal static class AdviceBench
{
    private const double FlashS = 0.6;

    public static void Run(int count)
    {
        var all = new WatchedStart?[count];
        _ = Parallel.For(0, count, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, i => all[i] = WatchedStart.Fly(i));
        List<WatchedStart> said = [.. all.OfType<WatchedStart>()];
        Console.WriteLine($"{said.Count} starts of {count} drawn reached the fuel; {said.Count(s => s.Hot)} hot, {said.Count(s => s.Start.ByTheBook)} by the book");
        Share("right", said, s => s.Wrong() is null);
        Share("right by the book", said.Where(s => s.Start.ByTheBook), s => s.Wrong() is null);
        var hot = said.Where(s => s.Hot).ToList();
        Share("missed", hot, s => s.Wrong() == "missed");
        Share("late", hot, s => s.Wrong() == "late");
        Share("false hot", said.Where(s => !s.Hot), s => s.Wrong() == "false hot");
        Console.WriteLine($"  furthest under the limit: {said.Where(s => s.Wrong() == "false hot").Select(s => s.LimitC - s.PeakC).DefaultIfEmpty(0).Max():0} °C");
        Share("be ready a second before", hot.Where(s => s.CutAt >= 0 && s.SaidHot && s.LightAt >= 0 && s.OverAt - s.LightAt > WatchedStart.ReactionS + 1.6),
            s => s.ReadyAt >= 0 && s.CutAt - s.ReadyAt >= 0.99);
        Share("obeyed after 1.5 s, under limit + 30", hot.Where(s => !double.IsNaN(s.CutPeakC)), s => s.CutPeakC <= s.LimitC + 30);
        Share("taken for what it is, five seconds after the light", said.Where(s => s.Truth is not null && s.Belief.Length > 0), s => s.Truth!.Contains(s.Belief));
        foreach (var group in said.Where(s => s.Truth is not null && s.Belief.Length > 0 && !s.Truth.Contains(s.Belief)).GroupBy(s => $"{s.Fault} for {s.Belief}")
            .OrderByDescending(g => g.Count()).Take(6))
        {
            Console.WriteLine($"  {group.Count()} {group.Key}: {Commonest(group.Select(s => s.Start.Header.Aircraft), 4)}; as {Numbers(group, 4)}");
        }

        var over = hot.Where(s => s.CutPeakC > s.LimitC + 30).ToList();
        Console.WriteLine($"  over it: {Commonest(over.Select(s => $"{s.Start.Header.Aircraft} {s.Fault}"), 12)}; as {Numbers(over, 12)}");
        Share("a word flashed for less than 0.6 s", said, s => s.ShortestS < FlashS - 0.01);
        foreach (var group in said.Where(s => s.Wrong() is not null).GroupBy(s => $"{s.Wrong()}, {s.Fault}").OrderByDescending(g => g.Count()).Take(16))
        {
            Console.WriteLine($"  {group.Count(),5} {group.Key}: {Commonest(group.Select(s => s.Start.Header.Aircraft))}; as {Numbers(group, 5)}");
        }
    }

    private static string Numbers(IEnumerable<WatchedStart> starts, int most) => string.Join(" ", starts.Take(most).Select(s => s.Start.Number));

    private static string Commonest(IEnumerable<string> what, int most = int.MaxValue) =>
        string.Join(", ", what.GroupBy(w => w).OrderByDescending(g => g.Count()).Take(most).Select(g => $"{g.Key} {g.Count()}"));

    /// <summary>Tells one start of the set, second by second.</summary>
    public static void Tell(int number)
    {
        var s = WatchedStart.Fly(number, Console.WriteLine);
        Console.WriteLine(s is null ? "it never reached the fuel" : string.Create(CultureInfo.InvariantCulture,
            $"{s.Start.Header.Aircraft} {s.Start.Header.Place} {s.Start.Header.Conditions} {s.Fault} {string.Join(' ', s.Start.Header.Faults)} "
            + $"fuel {s.Start.FuelN2Pct} cut {s.Start.CutAfterS} motored {s.Start.MotoredS:0}: {s.Wrong() ?? "right"}; "
            + $"peak {s.PeakC:0} of {s.LimitC}, over {s.OverAt:0.0}, idle {s.IdleAt:0.0}, cut {s.CutAt:0.0}, cut peak {s.CutPeakC:0}"));
    }

    private static void Share(string what, IEnumerable<WatchedStart> of, Func<WatchedStart, bool> which)
    {
        var list = of.ToList();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what}: {(list.Count == 0 ? 0 : 100.0 * list.Count(which) / list.Count):0.00} % ({list.Count(which)} of {list.Count})"));
    }
}
