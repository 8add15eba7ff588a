using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// What all machines of an aircraft have alike: names and places of signals and fault inputs, gates, compiled conditions.
/// The first one built writes it down, the others share it, so that a machine is little more than its values.
/// </summary>
internal sealed class Blueprint
{
    private static readonly ConditionalWeakTable<AircraftDefinition, Blueprint> All = [];
    private readonly ConcurrentDictionary<string, (Condition, ConditionProgram)> _compiled = new(StringComparer.Ordinal);
    private Finished? _finished;
    private ConditionWatch.Plan? _watch;

    /// <summary>What the first machine left.</summary>
    /// <param name="Switches">What each of its switches says, in their order.</param>
    /// <param name="Alike">What its parts have alike on every machine, by the kind of thing it is.</param>
    internal sealed record Finished(SignalTable Signals, FaultInputs Faults, IReadOnlyList<Gate> Gates, StepOrder Order, SwitchWords[] Switches,
        IReadOnlyDictionary<Type, object> Alike);

    public static Blueprint Of(AircraftDefinition aircraft) => All.GetValue(aircraft, _ => new Blueprint());

    /// <summary>Null until a machine of the aircraft was built without an error.</summary>
    public Finished? Example => _finished;

    public void Finish(Finished finished) => Interlocked.CompareExchange(ref _finished, finished, null);

    /// <exception cref="FormatException">The text is malformed or names what does not exist.</exception>
    public (Condition Condition, ConditionProgram Program) Compile(string text, SignalTable signals) =>
        _compiled.GetOrAdd(text, static (t, signals) =>
        {
            var condition = ConditionParser.Parse(t, signals);
            return (condition, ConditionProgram.Compile(condition));
        }, signals);

    /// <summary>The watch over all switches; they stand in the same order on every machine.</summary>
    public ConditionWatch.Plan Watch(Func<ConditionWatch.Plan> make) => _watch ?? Interlocked.CompareExchange(ref _watch, make(), null) ?? _watch;
}
