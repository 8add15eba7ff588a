using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The simulated crew chief: hears a request, takes a few seconds, grants or refuses it.</summary>
public sealed class Crew : MachineSystem
{
    private readonly Request[] _requests;
    private double[] _v = [];

    private sealed class Request(CrewRequestDefinition definition, Switch ask, Switch needs, RandomStream random, int granted, int refused, int left)
    {
        public CrewRequestDefinition Definition { get; } = definition;
        public Switch Ask { get; } = ask;
        public Switch Needs { get; } = needs;
        public RandomStream Random { get; } = random;
        public int Granted { get; } = granted;
        public int Refused { get; } = refused;
        public int Left { get; } = left;
        public bool WasAsked;
        public double WaitS = -1;
    }

    public Crew(MachineContext context)
    {
        var s = context.Signals;
        _requests = [.. context.Aircraft.Crew.Select(c => new Request(c,
            context.Switch(c.Ask, $"crew.{c.Id}.ask"), context.Switch(c.Needs, $"crew.{c.Id}.needs"), context.Random($"crew-{c.Id}"),
            s.AddFlag($"crew.{c.Id}"), s.AddFlag($"crew.{c.Id}.refused"), s.AddNumber($"crew.{c.Id}.left", "s", 1)))];
    }

    public override void Bind(MachineContext context) => _v = context.Signals.Values;

    public override void Logic()
    {
        foreach (var r in _requests)
        {
            if (r.Ask.On && !r.WasAsked && r.WaitS < 0)
            {
                r.WaitS = r.Random.Between(r.Definition.MinS, r.Definition.MaxS);
                _v[r.Refused] = 0;
            }

            r.WasAsked = r.Ask.On;
        }
    }

    public override void Slow(double dt)
    {
        foreach (var r in _requests)
        {
            if (r.WaitS < 0)
            {
                continue;
            }

            r.WaitS -= dt;
            _v[r.Left] = Math.Max(0, r.WaitS);
            if (r.WaitS < 0)
            {
                _v[r.Granted] = r.Needs.On ? 1 : 0;
                _v[r.Refused] = r.Needs.On ? 0 : 1;
            }
        }
    }
}
