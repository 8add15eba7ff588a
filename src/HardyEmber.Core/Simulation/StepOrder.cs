namespace HardyEmber.Core.Simulation;

/// <summary>
/// The order in which the parts take their turns, derived from who reads what of whom: a reader comes after the writer.
/// Parts that have nothing to do with each other keep the order of the registry.
/// </summary>
/// <param name="Tick">Places of the parts in the registry's order, as they decide and drift.</param>
/// <param name="Move">The same, as they move within a tick.</param>
internal sealed record StepOrder(int[] Tick, int[] Move)
{
    /// <param name="names">Name of each part, in the registry's order.</param>
    /// <param name="reads">Which part reads of which, and when.</param>
    /// <exception cref="InvalidOperationException">They wait for each other in a circle; the message names its members.</exception>
    public static StepOrder Of(IReadOnlyList<string> names, IReadOnlyCollection<(int Reader, int Writer, Phase Phase)> reads) =>
        new(Sort(names, reads, Phase.Tick), Sort(names, reads, Phase.Move));

    private static int[] Sort(IReadOnlyList<string> names, IReadOnlyCollection<(int Reader, int Writer, Phase Phase)> reads, Phase phase)
    {
        var before = reads.Where(r => r.Phase == phase && r.Reader != r.Writer).ToLookup(r => r.Reader, r => r.Writer);
        var order = new List<int>();
        while (order.Count < names.Count)
        {
            var next = Enumerable.Range(0, names.Count).Where(i => !order.Contains(i) && before[i].All(order.Contains)).DefaultIfEmpty(-1).First();
            order.Add(next >= 0 ? next : throw new InvalidOperationException(
                $"in the phase {phase} these wait for each other: {string.Join(" → ", Circle(names, before, order))}; one of them must read what was before"));
        }

        return [.. order];
    }

    // From any part that is left one walks against the arrows until a part comes again.
    private static IEnumerable<string> Circle(IReadOnlyList<string> names, ILookup<int, int> before, List<int> placed)
    {
        var walk = new List<int> { Enumerable.Range(0, names.Count).First(i => !placed.Contains(i)) };
        while (true)
        {
            var next = before[walk[^1]].First(w => !placed.Contains(w));
            var known = walk.IndexOf(next);
            walk.Add(next);
            if (known >= 0)
            {
                return walk.Skip(known).Select(i => names[i]);
            }
        }
    }
}
