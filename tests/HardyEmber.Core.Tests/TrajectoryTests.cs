using System.Globalization;
using CsCheck;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Properties of whole trajectories: the same log gives the same bits, and no log gives nonsense.</summary>
public sealed class TrajectoryTests
{
    private static RunLog Flown(RunHeader header) => new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();

    private static List<ulong> Digests(RunLog log)
    {
        var digests = new List<ulong>();
        var end = Rehearsal.Replay(Repository.Fleet, log, 0, m => digests.Add(m.Digest()));
        digests.Add(end.Machine.Digest());
        return digests;
    }

    [Fact]
    public void The_same_log_gives_the_same_trajectory_to_the_last_bit_also_after_the_disk()
    {
        var log = Flown(Situations.DemoDay);
        var first = Digests(log);
        Assert.Equal(first, Digests(log));
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        RunFile.Write(text, log);
        var back = RunFile.Read(new StringReader(text.ToString()));
        Assert.Equal(log.Commands, back.Commands);
        Assert.Equal(first, Digests(back));
    }

    [Fact]
    public void Another_seed_gives_another_trajectory() =>
        Assert.NotEqual(Digests(Flown(Situations.DemoDay))[^1], Digests(Flown(Situations.DemoDay with { Seed = 8 }))[^1]);

    [Fact]
    public void Adding_a_component_does_not_shift_the_numbers_of_another()
    {
        var alone = new RandomStream(7, "battery");
        _ = new RandomStream(7, "another");
        var beside = new RandomStream(7, "battery");
        Assert.Equal(Enumerable.Range(0, 5).Select(_ => alone.Next()), Enumerable.Range(0, 5).Select(_ => beside.Next()));
    }

    /// <summary>Only the first machine of an aircraft writes its names down: whatever it was built for, the others find each where it stands.</summary>
    [Fact]
    public void A_machine_that_shares_names_is_the_one_that_wrote_them()
    {
        var fleet = Repository.Fleet;
        foreach (var header in fleet.Procedures.SelectMany(p => p.Beginnings,
            (p, start) => (start == "air" ? Situations.Aloft(p.Aircraft) : Situations.Calm with { Aircraft = p.Aircraft, Beginning = start }) with { Surprises = 2 }))
        {
            var shares = fleet.Build(header);
            // Another definition: no machine of it stands yet
            var first = Registry.Build(shares.Aircraft with { }, shares.Place, fleet.Faults, header with { Surprises = 0, Faults = shares.Faults });
            Assert.NotSame(shares.Signals.All, first.Signals.All);
            Assert.Equal(shares.Signals.All.Select(s => (s.Name, s.Kind, s.Unit, s.ByHand)), first.Signals.All.Select(s => (s.Name, s.Kind, s.Unit, s.ByHand)));
            Assert.Equal(shares.FaultInputNames, first.FaultInputNames);
            for (var step = 0; step < 50; step++)
            {
                Assert.Equal(first.Digest(), shares.Digest());
                first.Step();
                shares.Step();
            }
        }
    }

    private const string Aloft = "air ";

    private static readonly Gen<RunHeader> AnyHeader = Gen.Select(Gen.Int[-40, 50], Gen.Int[0, 40], Gen.Int[0, 360],
        RandomHands.OneOf([.. RandomHands.Types.Select(t => $"{Aloft}{t}"), .. RandomHands.Types]), Gen.Int[1, 1000], (oat, wind, from, kind, seed) =>
            Kind(kind) with { Conditions = new RunConditions(oat, from, wind, PressureAltitudeFt: 0), Seed = seed });

    private static RunHeader Kind(string kind) =>
        kind.StartsWith(Aloft, StringComparison.Ordinal) ? Situations.Aloft(kind[Aloft.Length..]) : Situations.Calm with { Aircraft = kind };

    /// <summary>Whatever hands do, in whatever order: finite, smooth, bounded, never negative where nothing can be.</summary>
    [Fact]
    [Trait("search", "yes")]
    public void Random_hands_never_make_nonsense() =>
        Property.Holds(Gen.Select(AnyHeader, RandomHands.Any.Array[5, 60]), c =>
        {
            var (header, acts) = c;
            var machine = Repository.Fleet.Build(header);
            var before = machine.Aircraft.Engines.ToDictionary(e => e.Id, _ => (N2: double.NaN, Gas: double.NaN));
            RandomHands.Play(machine, acts, () => Check(machine, before));
        }, 12);

    /// <summary>What is marked as moved by hands stands still when neither a hand nor a spring was at work: the watch relies on it.</summary>
    [Fact]
    [Trait("search", "yes")]
    public void Controls_and_looks_move_by_hands_alone() =>
        Property.Holds(Gen.Select(AnyHeader, RandomHands.Any.Array[5, 40]), c =>
        {
            var (header, acts) = c;
            var machine = Repository.Fleet.Build(header);
            var marked = machine.Signals.All.Where(s => s.ByHand).ToList();
            Assert.Equal(machine.Aircraft.Controls.Count + machine.Signals.All.Count(s => s.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal)), marked.Count);
            var (hands, stood) = (machine.Hands, marked.ConvertAll(s => machine.Signals.Values[s.Index]));
            RandomHands.Play(machine, acts, () =>
            {
                if (machine.Hands == hands)
                {
                    Assert.All(marked.Zip(stood), pair => Assert.True(machine.Signals.Values[pair.First.Index] == pair.Second,
                        $"{pair.First.Name} moved by itself at {machine.Time}"));
                }

                (hands, stood) = (machine.Hands, marked.ConvertAll(s => machine.Signals.Values[s.Index]));
            });
        }, 8);

    private static readonly string[] NeverNegative = ["n2", "fan", "fuel-flow", "oil", "hydraulics", "puddle", "nozzle"];

    private static void Check(Machine machine, Dictionary<string, (double N2, double Gas)> before)
    {
        for (var i = 0; machine.StepIndex % 5 == 0 && i < machine.Signals.Count; i++)
        {
            Assert.True(double.IsFinite(machine.Signals.Values[i]), $"{machine.Signals.All[i].Name} is {machine.Signals.Values[i]} at {machine.Time}");
        }

        foreach (var side in machine.Aircraft.Engines)
        {
            foreach (var name in NeverNegative)
            {
                Assert.True(machine[$"{side.Id}.{name}"] >= 0, $"{side.Id}.{name} is negative");
            }

            var (n2, gas) = (machine[$"{side.Id}.n2"], machine[$"{side.Id}.egt-true"]);
            Assert.InRange(n2, 0, 112);
            Assert.InRange(gas, -90, 1650);
            var was = before[side.Id];
            Assert.True(double.IsNaN(was.N2) || Math.Abs(n2 - was.N2) < 1 && Math.Abs(gas - was.Gas) < 40, $"{side.Id} jumped at {machine.Time}: {was} to {(n2, gas)}");
            before[side.Id] = (n2, gas);
        }

        Assert.InRange(machine["battery.charge"], 0, 100);
        Assert.InRange(machine["air.duct"], 0, 60);
        Assert.InRange(machine.Signals.Find("aux.n") is null ? 0 : machine["aux.n"], 0, 101);
    }

    public static TheoryData<string> Types => [.. RandomHands.Types];

    [Theory]
    [MemberData(nameof(Types))]
    public void A_step_allocates_nothing(string aircraft)
    {
        var log = Flown(Situations.DemoDay with { Aircraft = aircraft });
        var rehearsal = Rehearsal.Replay(Repository.Fleet, log with { Commands = [.. log.Commands.SkipLast(1)] });
        rehearsal.AdvanceTo(rehearsal.Machine.StepIndex + 2000);
        // The runtime itself may allocate once on this thread, where a table of its literals grows; what a step allocates comes in every stretch.
        long Stretch()
        {
            var before = GC.GetAllocatedBytesForCurrentThread();
            rehearsal.AdvanceTo(rehearsal.Machine.StepIndex + 5_000);
            return GC.GetAllocatedBytesForCurrentThread() - before;
        }

        Assert.Contains(0, new[] { Stretch(), Stretch(), Stretch() });
    }
}
