using CsCheck;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A signal's past in few points.</summary>
public class TraceTests
{
    private const double EveryS = 0.5;

    [Fact]
    public void What_stands_still_or_rises_evenly_takes_two_points()
    {
        var trace = new Trace(1);
        Add(trace, Enumerable.Repeat(15.0, 7200));
        Assert.Equal(2, trace.Count);
        Assert.Equal([15f, 15f, 15f], trace.At([-5, 0, 3000.2f]));
        Add(trace, Enumerable.Range(0, 1200).Select(i => 15 + i * 0.5), after: 7200);
        Assert.InRange(trace.Count, 3, 4);
        Assert.Equal(15 + 600 * 0.5f, trace.At([(float)((7200 + 600) * EveryS)])[0], 1f);
    }

    /// <summary>A step stands where it was: it is not drawn as a slope from long before.</summary>
    [Fact]
    public void A_jump_stays_a_jump()
    {
        var trace = new Trace(1);
        Add(trace, Enumerable.Repeat(0.0, 1000).Concat(Enumerable.Repeat(600.0, 1000)));
        Assert.Equal([0f, 0f, 600f, 600f], trace.At([100, 499.5f, 500, 900]));
    }

    [Fact]
    public void What_was_seen_is_within_the_tolerance_whatever_it_did() =>
        Property.Holds(Gen.Double[-40, 40].Array[2, 700], moves =>
        {
            var trace = new Trace(5);
            var values = new List<double> { 0 };
            for (var i = 0; i < moves.Length; i++)
            {
                values.Add(values[^1] + moves[i] * Math.Sin(i / 30.0));
            }

            Add(trace, values);
            var told = trace.At([.. values.Select((_, i) => (float)(i * EveryS))]);
            Assert.InRange(trace.Count, 2, values.Count);
            Assert.All(values.Zip(told), v => Assert.Equal(v.First, v.Second, 5.06)); // what is told is rounded to tenths
        }, 300);

    /// <summary>Six hours of noise: no more points than may be, the noise still about its middle.</summary>
    [Fact]
    public void Noise_does_not_fill_the_memory()
    {
        var (trace, random) = (new Trace(0.1), new Random(20260114));
        Add(trace, Enumerable.Range(0, 43_200).Select(_ => 500 + random.NextDouble() * 40));
        Assert.InRange(trace.Count, 2, Trace.Most + 1);
        Assert.All(trace.At([.. Enumerable.Range(0, 43_200).Select(i => (float)(i * EveryS))]), v => Assert.InRange(v, 480, 560));
    }

    /// <summary>A whole start or flight is told within its tolerance by a tenth of what was looked at, and a few points more.</summary>
    [Theory]
    [InlineData("good-start")]
    [InlineData("turnaround")]
    [InlineData("air-restart")]
    public void A_run_takes_a_tenth_of_what_was_seen(string run)
    {
        using var file = new StreamReader(Path.Combine(Repository.Root, "demo", run + ".ndjson"));
        var seen = new Dictionary<string, (List<(double T, double V)> Values, Trace Trace)>();
        Rehearsal.Replay(Repository.Fleet, RunFile.Read(file), sample: machine =>
        {
            foreach (var signal in machine.Aircraft.Engines.SelectMany(e => new[] { $"{e.Id}.n2", $"{e.Id}.egt" }).Where(_ => machine.StepIndex % 25 == 0))
            {
                var (values, trace) = seen.TryGetValue(signal, out var known) ? known : seen[signal] = ([], new Trace(1));
                values.Add((machine.Time, machine[signal]));
                trace.Add(machine.Time, machine[signal]);
            }
        });
        Assert.All(seen.Values, s => Assert.InRange(s.Trace.Count, 2, 20 + s.Values.Count / 10));
        Assert.All(seen.Values, s => Assert.All(s.Values.Zip(s.Trace.At([.. s.Values.Select(v => (float)v.T)])), v => Assert.Equal(v.First.V, v.Second, 1.06)));
    }

    [Fact]
    public void A_time_that_was_is_not_taken_again()
    {
        var trace = new Trace(1);
        trace.Add(1, 10);
        trace.Add(1, 70);
        trace.Add(0.5, 70);
        trace.Add(2, 12);
        Assert.Equal([10f, 12f], trace.At([1, 2]));
    }

    private static void Add(Trace trace, IEnumerable<double> values, int after = 0)
    {
        foreach (var (value, i) in values.Select((v, i) => (v, i)))
        {
            trace.Add((after + i) * EveryS, value);
        }
    }
}
