using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The simulated crew chief and tower: hear a request, take a few seconds, grant or refuse it. Sometimes something stands
/// in the way for a while; then the refusal names it, and asking again later is the cure.
/// </summary>
public sealed class Crew : MachineSystem
{
    private readonly Request[] _requests;
    private readonly int _forced, _held;
    private double[] _v = [], _f = [];

    private sealed class Request(CrewRequestDefinition definition, Switch ask, Switch needs, Switch hears, RandomStream random, int[] signals)
    {
        public CrewRequestDefinition Definition { get; } = definition;
        public Switch Ask { get; } = ask;
        public Switch Needs { get; } = needs;
        public Switch Hears { get; } = hears;
        public RandomStream Random { get; } = random;
        public int Granted { get; } = signals[0];
        public int Refused { get; } = signals[1];
        public int Left { get; } = signals[2];

        /// <summary>Which obstacle the refusal names, counted from 1; 0 for the plain refusal.</summary>
        public int Reason { get; } = signals[3];
        public int[] Ends { get; set; } = [];
        public bool WasAsked, Drawn;
        public double WaitS = -1, ClearS;
        public int Obstacle;
    }

    public Crew(MachineContext context)
    {
        var s = context.Signals;
        _requests = [.. context.Aircraft.Crew.Select(c => new Request(c,
            context.Switch(c.Ask, $"crew.{c.Id}.ask"), context.Switch(c.Needs, $"crew.{c.Id}.needs"), context.Switch(c.Hears, $"crew.{c.Id}.hears"), context.Random($"crew-{c.Id}"),
            [s.AddFlag($"crew.{c.Id}"), s.AddFlag($"crew.{c.Id}.refused"), s.AddNumber($"crew.{c.Id}.left", "s", 1), s.AddNumber($"crew.{c.Id}.reason", "", 1)]))];
        foreach (var request in _requests)
        {
            var d = request.Definition;
            request.Ends = [.. (d.Ends ?? []).Select(e => context.IndexOf($"crew.{e}", $"crew.{d.Id}.ends", "request"))];

            if (context.Explains)
            {
                context.Gate($"crew.{d.Id}", GateKind.Comes, $"crew.{d.Id}", $"{d.Label}: {(d.Who == "tower" ? "the tower's" : "the crew's")} word",
                    Term.All(request.Needs, request.Hears, Term.Any(request.Ask, Term.Fact($"crew.{d.Id}.left > 0"))), "Ask, and wait for the answer; refused, ask again when it is clear.");
            }
        }

        _held = s.AddFlag("crew.held");
        _forced = context.Faults.Add("crew.obstacle", 0);
    }

    public override void Bind(MachineContext context) => (_v, _f) = (context.Signals.Values, context.Faults.Values);

    public override void Logic()
    {
        foreach (var r in _requests)
        {
            if (r.Ask.On && !r.WasAsked && r.WaitS < 0 && r.Hears.On)
            {
                r.WaitS = r.Random.Between(r.Definition.MinS, r.Definition.MaxS);
                _v[r.Left] = r.WaitS;
                _v[r.Refused] = 0;
                Look(r);
            }

            r.WasAsked = r.Ask.On && (r.Hears.On || r.WasAsked);
        }
    }

    // What is in the way is drawn with the first question, so that it is there before anybody asks again.
    private void Look(Request r)
    {
        if (r.Drawn || r.Definition.Obstacles is not { Count: > 0 } obstacles)
        {
            return;
        }

        r.Drawn = true;
        for (var i = 0; i < obstacles.Count && r.Obstacle == 0; i++)
        {
            var there = r.Random.Next() < obstacles[i].Odds || _f[_forced] > 0.5 && i == obstacles.Count - 1;
            if (there)
            {
                r.Obstacle = i + 1;
                r.ClearS = r.WaitS + r.Random.Between(obstacles[i].MinS, obstacles[i].MaxS);
            }
        }
    }

    public override void Slow(double dt)
    {
        _v[_held] = 0;
        PaceS = Asleep;
        foreach (var r in _requests)
        {
            _v[_held] = _v[r.Reason] > 0.5 ? 1 : _v[_held];
            r.ClearS -= dt;
            PaceS = r.ClearS > 0 ? Math.Min(PaceS, Drifting) : PaceS;
            if (r.WaitS < 0)
            {
                continue;
            }

            if (!r.Hears.On)
            {
                // The line went dead while they thought about it: nothing is heard, and the question stands anew.
                (r.WaitS, r.WasAsked) = (-1, false);
                _v[r.Left] = 0;
                continue;
            }

            r.WaitS -= dt;
            PaceS = Math.Clamp(r.WaitS, 0, PaceS);
            _v[r.Left] = Math.Max(0, r.WaitS);
            if (r.WaitS < 0)
            {
                Answer(r);
            }
        }
    }

    private void Answer(Request r)
    {
        var blocked = r.Obstacle > 0 && r.ClearS > 0;
        var granted = r.Needs.On && !blocked;
        _v[r.Granted] = granted ? 1 : 0;
        _v[r.Refused] = granted ? 0 : 1;
        _v[r.Reason] = r.Needs.On && blocked ? r.Obstacle : 0;
        if (granted)
        {
            foreach (var ended in r.Ends)
            {
                _v[ended] = 0;
            }
        }
    }
}
