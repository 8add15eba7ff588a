using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The state of each link of the chain of energy: the first of its states whose condition holds.</summary>
public sealed class ChainLinks : MachineSystem
{
    private readonly (int Signal, Switch[] States)[] _links;
    private double[] _v = [];

    public ChainLinks(MachineContext context)
    {
        _links = [.. context.Aircraft.Chain.Select(link => (
            context.Signals.AddPositions($"chain.{link.Id}", [.. link.States.Select(s => s.Word)], link.States.Count - 1),
            link.States.Select((s, i) => context.Word(s.When, $"chain.{link.Id}.states[{i}].when")).ToArray()))];
    }

    public override void Bind(MachineContext context) => (_v, PaceS) = (context.Signals.Values, Asleep);

    /// <summary>Before the first step nothing has been decided; the chain must say so, and not that all is well.</summary>
    public override void Begin() => Logic();

    public override void Quiet() { }

    public override void Logic()
    {
        foreach (var (signal, states) in _links)
        {
            var at = 0;
            while (at < states.Length - 1 && !states[at].On)
            {
                at++;
            }

            _v[signal] = at;
        }
    }
}
