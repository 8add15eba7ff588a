using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A self-contained starter: each pressure bottle drives its turbine once, for so many seconds, and is empty. What is left in
/// the bottles is the only retry. Gives starting air as a share of full supply; cold bottles hold less pressure (p ∝ T at
/// constant volume).
/// </summary>
public sealed class StarterBottles : MachineSystem
{
    /// <summary>Starting air that they give, as a share of full supply.</summary>
    public const string ShareSignal = "bottle.share";

    private readonly BottlesDefinition _d;
    private readonly Switch[] _fire;
    private readonly Switch _stop, _needs;
    private readonly int[] _full;
    private readonly int _left, _burning, _seconds, _leak, _share;
    private readonly double _coldShare;
    private double _burnS, _shareNow;
    private bool[] _was = [];
    private double[] _v = [], _f = [];

    public StarterBottles(MachineContext context, BottlesDefinition definition)
    {
        _d = definition;
        _fire = [.. _d.Fire.Select((f, i) => context.Switch(f, $"air.bottles.fire[{i}]"))];
        _stop = context.Switch(_d.StopWhen, "air.bottles.stopWhen");
        _needs = context.Switch(_d.Needs, "air.bottles.needs");
        var s = context.Signals;
        _full = [.. _d.Fire.Select((_, i) => s.AddFlag($"bottle.{i + 1}", true))];
        (_left, _burning, _seconds) = (s.AddNumber("bottle.left", "", 1, _d.Fire.Count), s.AddFlag("bottle.burning"), s.AddNumber("bottle.seconds", "s", 0.2));
        _share = s.AddNumber(ShareSignal, "", 0.01, hidden: true);
        _leak = context.Faults.Add("bottle.pressure", 1);
        _coldShare = (context.Soak.BatteryC + Atmosphere.ZeroCelsiusK) / Atmosphere.SeaLevelTemperatureK;
        if (context.Explains)
        {
            Explain(context);
        }
    }

    private void Explain(MachineContext context)
    {
        for (var i = 0; i < _fire.Length; i++)
        {
            context.Gate($"bottle.{i + 1}", GateKind.Goes, $"air.bottles.fire[{i}]", $"Bottle {i + 1}: full", Term.All(_fire[i], _needs),
                "A spent bottle is filled on the ground, not here.");
        }

        var fired = _fire.Select((f, i) => Term.All(f, Term.Fact($"bottle.{i + 1} or bottle.burning")));
        context.Gate("bottle.burning", GateKind.Comes, "air.bottles", "Starter turbine: driven", Term.All(Term.Any([.. fired]), _needs), "Each bottle fires once.");
        context.Gate("bottle.burning", GateKind.Ends, "air.bottles.stopWhen", "Starter turbine: cut out", _stop);
    }

    public override void Bind(MachineContext context)
    {
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _was = new bool[_fire.Length];
    }

    public override void Logic()
    {
        for (var i = 0; i < _fire.Length; i++)
        {
            if (_fire[i].On && !_was[i] && _v[_full[i]] > 0.5 && _burnS <= 0 && _needs.On)
            {
                _v[_full[i]] = 0;
                _burnS = _d.Seconds;
                _v[_burning] = 1;
            }

            _was[i] = _fire[i].On;
        }

        if (_burnS > 0 && _stop.On)
        {
            _burnS = 0;
        }
    }

    public override void Slow(double dt)
    {
        _burnS = Math.Max(0, _burnS - dt);
        // The pressure falls as the bottle empties, and the turbine takes a moment to spool.
        var wanted = _burnS > 0 ? Math.Min(1.1, _coldShare) * _f[_leak] * (1 - _d.FadeShare * (1 - _burnS / _d.Seconds)) : 0;
        _shareNow += Math.Min(1, dt / _d.SpoolS) * (wanted - _shareNow);
        if (_shareNow < 1e-4)
        {
            _shareNow = 0;
        }

        _v[_share] = _shareNow;
        _v[_burning] = _burnS > 0 ? 1 : 0;
        _v[_seconds] = _burnS;
        var left = 0;
        foreach (var full in _full)
        {
            left += _v[full] > 0.5 ? 1 : 0;
        }

        _v[_left] = left;
        PaceS = _burnS > 0 || _shareNow > 0 ? 0 : Asleep;
    }
}
