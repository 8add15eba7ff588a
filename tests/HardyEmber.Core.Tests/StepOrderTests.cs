using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The order of the step follows from what parts read and write; nothing else decides it.</summary>
public sealed class StepOrderTests
{
    private sealed class Part(string name, MachineContext context, params (string Signal, Phase Phase)[] reads) : MachineSystem
    {
        private readonly int _own = context.Signals.AddNumber($"part.{name}", "", 1);
        private readonly List<int> _reads = [];
        private double[] _v = [];

        public override string Name => name;

        public override void Bind(MachineContext context)
        {
            _v = context.Signals.Values;
            _reads.AddRange(reads.Select(r => context.Reads($"part.{r.Signal}", r.Phase)));
        }

        public override void Slow(double dt) => _v[_own] = 1 + _reads.Sum(r => _v[r]);
    }

    // Another definition each time: what one machine has written down is not taken for the next.
    private static Machine Build(params SystemKind[] kinds) =>
        new(Tansy with { }, Repository.Fleet.FindPlace("skerrow-main"), Repository.Fleet.Faults, Situations.Calm with { Aircraft = "tansy" }, [.. Registry.Kinds, .. kinds]);

    private static AircraftDefinition Tansy => Repository.Fleet.FindAircraft("tansy");

    [Fact]
    public void A_reader_comes_after_the_writer_wherever_it_stands_in_the_registry()
    {
        SystemKind first = c => [new Part("first", c)];
        SystemKind second = c => [new Part("second", c, ("first", Phase.Tick))];
        SystemKind third = c => [new Part("third", c, ("second", Phase.Tick))];
        foreach (var kinds in (SystemKind[][])[[first, second, third], [third, second, first], [second, third, first]])
        {
            var machine = Build(kinds);
            machine.Step();
            Assert.Equal((1, 2, 3), (machine["part.first"], machine["part.second"], machine["part.third"]));
        }
    }

    [Fact]
    public void A_circle_is_an_error_that_names_its_members()
    {
        SystemKind hen = c => [new Part("hen", c, ("egg", Phase.Tick))];
        SystemKind egg = c => [new Part("egg", c, ("nest", Phase.Tick))];
        SystemKind nest = c => [new Part("nest", c, ("hen", Phase.Tick))];
        var error = Assert.Throws<InvalidOperationException>(() => Build(hen, egg, nest));
        Assert.Contains("hen → egg → nest → hen", error.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_circle_through_what_was_before_is_none()
    {
        var machine = Build(c => [new Part("hen", c, ("egg", Phase.Before))], c => [new Part("egg", c, ("hen", Phase.Tick))]);
        machine.Step();
        Assert.Equal((1, 2), (machine["part.hen"], machine["part.egg"]));
    }

    [Theory]
    [InlineData("juniper", 12)]
    [InlineData("bramble", 3)]
    [InlineData("alder", 7)]
    [InlineData("tansy", 1)]
    [InlineData("teasel", 9)]
    [InlineData("sedge", 14)]
    [InlineData("burdock", 5)]
    public void The_registry_may_stand_in_any_order(string aircraft, int from)
    {
        var fleet = Repository.Fleet;
        var run = new ScriptedPilot(new Rehearsal(fleet, Situations.Calm with { Aircraft = aircraft })).Fly(1500);
        Compare(run, Registry.Kinds.Reverse());
        Compare(run, Registry.Kinds.Skip(from).Concat(Registry.Kinds.Take(from)));
    }

    private static void Compare(RunLog run, IEnumerable<SystemKind> kinds)
    {
        var plain = Repository.Fleet.Build(run.Header);
        var turned = new Machine(plain.Aircraft with { }, plain.Place, Repository.Fleet.Faults, run.Header, kinds);
        var pairs = plain.Signals.All.Select(s => (s.Name, Here: s.Index, There: turned.Signals.Find(s.Name)!.Index)).ToArray();
        foreach (var command in run.Commands)
        {
            while (turned.StepIndex < command.Step)
            {
                plain.Step();
                turned.Step();
                var (a, b) = (plain.Signals.Values, turned.Signals.Values);
                if (turned.StepIndex % Steps.PerTick == 1 && pairs.Any(p => Math.Abs(a[p.Here] - b[p.There]) > 1e-6 * Math.Max(1, Math.Abs(a[p.Here]))))
                {
                    Assert.Fail($"at {turned.Time:0.0} s: {string.Join(", ", pairs.Where(p => a[p.Here] != b[p.There]).Select(p => p.Name).Take(8))}");
                }
            }

            plain.Apply(command);
            turned.Apply(command);
        }
    }

    /// <summary>One to four engines, and not all of one type: each keeps its own idle, its own limits, and the advisor watches it.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void Engines_of_another_type_run_beside_the_others(int outer)
    {
        var (fleet, juniper, small) = (Repository.Fleet, Repository.Fleet.FindAircraft("juniper"), Repository.Fleet.FindAircraft("bramble").Engine);
        var right = juniper.Engines.First(e => e.Id == "right");
        var lever = juniper.Engine.ThrottleN2Pct.ToDictionary(p => p.Key, p => p.Key == "idle" ? small.IdleN2Pct : p.Value);
        var several = juniper with
        {
            EngineTypes = new Dictionary<string, EngineDefinition> { ["small"] = small with { ThrottleN2Pct = lever } },
            Engines = [.. juniper.Engines, .. Enumerable.Range(1, outer).Select(i => right with { Id = $"outer-{i}", Type = "small", Rival = null })],
        };
        var bench = new Bench(Situations.Calm, several).Set("battery", "on").Run(1);
        bench.StartRight();
        bench.Run(90);
        Assert.InRange(bench["right.n2"], juniper.Engine.IdleN2Pct - 1, juniper.Engine.IdleN2Pct + 1);
        Assert.All(Enumerable.Range(1, outer), i => Assert.InRange(bench[$"outer-{i}.n2"], small.IdleN2Pct - 1, small.IdleN2Pct + 1));
        Assert.All(Enumerable.Range(1, outer), i => Assert.Equal(1, bench[$"outer-{i}.lit"]));
        Assert.Equal(0, bench["left.n2"], 1);
        var unknown = Assert.Throws<FormatException>(() => new Bench(Situations.Calm, several with { EngineTypes = new Dictionary<string, EngineDefinition>() }));
        Assert.Equal("engines.outer-1.type: there is no engine type \"small\"", unknown.Message);
    }
}
