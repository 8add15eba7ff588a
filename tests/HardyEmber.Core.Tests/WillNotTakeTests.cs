using CsCheck;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>"Why will it not take" reads the texts that the systems obey; these properties hold the two together.</summary>
public sealed class WillNotTakeTests
{
    private static readonly Gen<RandomHands.Act[]> Acts = RandomHands.Any.Array[5, 40];

    private static readonly Gen<RunHeader> Headers = Gen.Select(RandomHands.OneOf(RandomHands.Types), RandomHands.OneOf("first", "turnaround"), Gen.Int[-35, 50],
        Gen.Int[1, 1000], Gen.Int[0, 3],
        (aircraft, start, oat, seed, surprises) => Situations.Calm with
        {
            Aircraft = aircraft,
            Beginning = start,
            Seed = seed,
            Surprises = surprises,
            Conditions = new RunConditions(oat, 0, 0)
        });

    /// <summary>What a rule calls its condition is what the machine does: never more, and without faults never less.</summary>
    [Fact]
    [Trait("search", "yes")]
    public void No_signal_comes_up_that_its_rule_forbids() =>
        Property.Holds(Gen.Select(Headers, Acts), c =>
        {
            var (header, acts) = c;
            var machine = Repository.Fleet.Build(header);
            var rules = machine.Gates.Select(r => (Gate: r, machine.Compile(r.Text, r.Where).Condition, machine.Signals.Find(r.Signal)!.Index)).ToList();
            var before = new double[rules.Count];
            var held = Enumerable.Repeat(-1L, rules.Count).ToArray();
            RandomHands.Play(machine, acts, () =>
            {
                for (var i = 0; i < rules.Count; i++)
                {
                    var (rule, condition, index) = rules[i];
                    var now = machine.Signals.Values[index];
                    held[i] = condition.Holds(machine.Signals.Values) ? machine.StepIndex : held[i];
                    // Decisions fall five times a second: a signal may outlive its condition by that long.
                    var could = machine.StepIndex - held[i] <= Steps.PerTick;
                    switch (rule.Kind)
                    {
                        case GateKind.Is:
                            Against(now < 0.5 || could, rule, machine);
                            break;
                        case GateKind.Comes:
                            Against(now <= before[i] || could, rule, machine);
                            break;
                        case GateKind.Goes:
                            Against(now >= before[i] || could, rule, machine);
                            break;
                    }

                    before[i] = now;
                }
            });
        }, 120);

    // The words are made only where they are needed: the check runs some millions of times.
    private static void Against(bool could, Gate rule, Machine machine)
    {
        if (!could)
        {
            Assert.Fail($"{rule.Signal} changed to {machine[rule.Signal]} at {machine.Time} against its rule {rule.Text}");
        }
    }

    /// <summary>Healthy machines: where the rule of a flag holds and nothing moved for a second, the flag is up.</summary>
    [Fact]
    [Trait("search", "yes")]
    public void A_healthy_machine_gives_what_its_rule_allows() =>
        Property.Holds(Gen.Select(Headers, Acts), c =>
        {
            var (header, acts) = c;
            var machine = Repository.Fleet.Build(header with { Surprises = 0 });
            RandomHands.Play(machine, acts, null);
            for (var i = 0; i < 60; i++)
            {
                machine.Step();
            }

            foreach (var rule in machine.Gates.Where(r => r.Kind == GateKind.Is && !r.Signal.StartsWith("lamp.", StringComparison.Ordinal)))
            {
                var holds = machine.Compile(rule.Text, rule.Where).Condition.Holds(machine.Signals.Values);
                // A load may be starved and a bus overloaded: the rule names a voltage where it matters, the remedy says the rest.
                Assert.True(!holds || machine[rule.Signal] > 0.5 || rule.Remedy is not null || Starved(machine, rule.Signal),
                    $"{rule.Signal} is down at {machine.Time} though {rule.Text}");
            }
        }, 120);

    /// <summary>
    /// In whatever state hands have left a jet: who does the nearest cure that is offered has what it was to bring, or is told something
    /// else next; the machine refuses no cure; and nobody is sent back and forth.
    /// </summary>
    [Fact]
    [Trait("search", "yes")]
    public void The_nearest_cure_helps_and_no_answer_runs_in_a_circle() =>
        Property.Holds(Gen.Select(Headers, Acts, Gen.Int[0, 1 << 20]), c =>
        {
            var (header, acts, pick) = c;
            var machine = Repository.Fleet.Build(header with { Surprises = 0 });
            RandomHands.Play(machine, acts, null);
            var targets = machine.Gates.Where(g => g.Kind is GateKind.Is or GateKind.Comes).Select(g => g.Signal).ToList();
            Follow(machine, targets[pick % targets.Count]);
        }, 400);

    private static void Follow(Machine machine, string target)
    {
        var why = new WillNotTake(machine);
        var moved = new Dictionary<(string Control, string? To), int>();
        var told = new List<string>();
        var began = machine[target] > 0.5;
        while (machine[target] > 0.5 == began)
        {
            var nearest = why.For(target).Effects.SelectMany(e => e.Chain).FirstOrDefault(u => u.Cure?.Control is not null);
            if (nearest?.Cure is not { } cure)
            {
                return; // it works, or only machines and time are missing
            }

            told.Add($"{machine.Time:0}: {nearest.Label} {nearest.Asked}: {cure.Words}");
            var times = moved[(cure.Control!, cure.To)] = moved.GetValueOrDefault((cure.Control!, cure.To)) + 1;
            if (times > 2)
            {
                Assert.Fail($"{machine.Aircraft.Name}, {target}, round and round: {string.Join("; ", told)}");
            }

            Do(machine, cure, []);
            for (var i = 0; i < 100; i++)
            {
                machine.Step();
            }

            var after = why.For(target).Effects.SelectMany(e => e.Chain).ToList();
            if (after.FirstOrDefault(u => u.Cure?.Control is not null) is { } next && next.Signal == nearest.Signal && next.Asked == nearest.Asked && next.Cure == cure)
            {
                Assert.Fail($"{machine.Aircraft.Name}, {target}: done, and asked for again: {string.Join("; ", told)}");
            }
        }
    }

    private static bool Starved(Machine machine, string signal) =>
        machine.Aircraft.Electrics.Loads.FirstOrDefault(l => signal == $"load.{l.Id}") is { MinV: > 0 } load && machine[$"bus.{load.Bus}"] < load.MinV + 2;

    /// <summary>Doing nothing but what the answers say brings the thing: from a dead jet to light, air, fuel gauges, fire loop.</summary>
    [Theory]
    [InlineData("juniper", "load.outside-lights")]
    [InlineData("juniper", "aux.ready")]
    [InlineData("juniper", "fire.inner-proved")]
    [InlineData("juniper", "crew.tower")]
    [InlineData("juniper", "fuel.test-settled")]
    [InlineData("juniper", "source.cart.good")]
    [InlineData("sedge", "bus.instruments.live")]
    [InlineData("sedge", "fuel.test-settled")]
    [InlineData("sedge", "load.boost-pump")]
    [InlineData("sedge", "ins.aligning")]
    [InlineData("sedge", "main.starter-valve")]
    [InlineData("tansy", "aux.ready")]
    [InlineData("tansy", "box.radio.ready")]
    [InlineData("tansy", "inverter.one")]
    [InlineData("tansy", "crew.start-main")]
    [InlineData("alder", "aux.generator")]
    [InlineData("alder", "bus.instruments.live")]
    [InlineData("bramble", "bottle.burning")]
    [InlineData("bramble", "task.computer-test")]
    [InlineData("teasel", "bus.avionics.live")]
    [InlineData("burdock", "load.boost-pumps")]
    public void Following_the_cures_brings_it(string aircraft, string target)
    {
        var machine = Repository.Fleet.Build(Situations.Calm with { Aircraft = aircraft });
        var why = new WillNotTake(machine);
        var held = new Dictionary<string, double>();
        while (machine[target] < 0.5)
        {
            Assert.True(machine.Time < 240,
                $"{target} after 240 s: {string.Join("; ", why.For(target).Effects.SelectMany(e => e.Chain).Select(u => $"{u.Label} {u.Asked}, is {u.Now}"))}");
            foreach (var unmet in why.For(target).Effects.SelectMany(e => e.Chain).Where(u => u.Cure?.Control is not null).Reverse().ToList())
            {
                Do(machine, unmet.Cure!, held);
            }

            for (var i = 0; i < 50; i++)
            {
                machine.Step();
            }
        }
    }

    private static void Do(Machine machine, Cure cure, Dictionary<string, double> held)
    {
        var already = held.TryGetValue(cure.Control!, out var since) && machine.Time - since < 30;
        var command = cure.Kind switch
        {
            "look" => new RunCommand(machine.StepIndex, CommandKind.Look, cure.Control!),
            "dial" => new RunCommand(machine.StepIndex, CommandKind.Set, cure.Control!, null, cure.Number),
            "hold" when already => null,
            "hold" => new RunCommand(machine.StepIndex, CommandKind.Hold, cure.Control!, cure.To),
            _ => new RunCommand(machine.StepIndex, CommandKind.Set, cure.Control!, cure.To),
        };
        if (command is not null)
        {
            machine.Apply(command);
            held[cure.Control!] = machine.Time;
        }
    }

    [Fact]
    public void Every_control_lamp_and_rule_has_an_answer_in_words()
    {
        foreach (var aircraft in Repository.Fleet.Aircraft)
        {
            var machine = Repository.Fleet.Build(Situations.Calm with { Aircraft = aircraft.Id });
            var why = new WillNotTake(machine);
            foreach (var target in aircraft.Controls.Select(c => c.Id).Concat(aircraft.Lamps.Select(l => $"lamp.{l.Id}")).Concat(machine.Gates.Select(r => r.Signal)))
            {
                var answer = why.For(target);
                Assert.True(answer.Sentence.Length > 10, target);
                Assert.All(answer.Effects.SelectMany(e => e.Chain), u => Assert.True(u.Label.Length > 1 && u.Asked.Length > 0 && u.Now.Length > 0, $"{target}: {u}"));
            }
        }
    }

    /// <summary>What a control is asked about is what it moves, not the lamps and cautions that tell of it.</summary>
    [Fact]
    public void No_lamp_and_no_call_is_what_a_control_is_for()
    {
        foreach (var aircraft in Repository.Fleet.Aircraft)
        {
            var why = new WillNotTake(Repository.Fleet.Build(Situations.Calm with { Aircraft = aircraft.Id }));
            Assert.All(aircraft.Controls, c => Assert.DoesNotContain(why.For(c.Id).Effects,
                e => e.Signal.StartsWith("lamp.", StringComparison.Ordinal) || e.Signal.StartsWith("caution.", StringComparison.Ordinal)));
        }
    }

    [Fact]
    public void A_lit_caution_says_what_puts_it_out()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1);
        var answer = new WillNotTake(bench.Machine).For("lamp.generator-right");
        Assert.Contains("burns", answer.Sentence, StringComparison.Ordinal);
        Assert.Contains(answer.Effects[0].Chain, u => u.Signal == "right.generator");
        Assert.Contains(answer.Effects[0].Chain, u => u.Cure is { Control: "generator-right", To: "on" });
    }

    [Fact]
    public void What_is_not_there_is_refused_by_name() =>
        Assert.Contains("no control, lamp or signal \"ashtray\"", Assert.Throws<ArgumentException>(() => new WillNotTake(new Bench(Situations.Calm).Machine)
            .For("ashtray")).Message, StringComparison.Ordinal);
}
