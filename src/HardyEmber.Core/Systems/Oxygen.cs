using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Oxygen for the mask. A bottle loses in proportion to the time breathed from it, twice as fast undiluted, and by a leak whether it is on or not; its
/// alarm comes when it is low, or when the canopy has been shut for a while and nothing flows. Pressures in psi, times in minutes.
/// </summary>
public sealed class Oxygen : MachineSystem
{
    /// <summary>Below this nothing reaches the mask, psi.</summary>
    private const double EmptyPsi = 50;

    /// <summary>Shut so long without a flow, the alarm comes: a canopy is closed before or after, s.</summary>
    private const double AlarmS = 20;
    private const double PureShare = 2;
    private const double UsualLegMinutes = 60;
    private readonly OxygenDefinition _d;
    private readonly Switch _flows, _shut;
    private readonly Switch? _pure;
    private readonly double _legMinutes;
    private readonly int _flow, _alarm, _psi = -1, _left = -1, _short = -1, _leak = -1;
    private int _bleed;
    private double _bottlePsi, _withoutS;
    private bool _on, _wasShut, _undiluted;
    private double[] _v = [], _f = [];

    public Oxygen(MachineContext context, OxygenDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        (_flows, _shut) = (context.Switch(_d.Flows, "oxygen.flows"), context.Switch(_d.Shut, "oxygen.shut"));
        _pure = _d.Pure is null ? null : context.Switch(_d.Pure, "oxygen.pure");
        _legMinutes = context.Header.Leg?.Minutes ?? context.Aircraft.Inertial?.Leg.Minutes ?? UsualLegMinutes;
        var s = context.Signals;
        (_flow, _alarm) = (s.AddFlag("oxygen.flow"), s.AddFlag("oxygen.alarm"));
        if (_d.FullPsi is { } full)
        {
            _bottlePsi = full;
            (_psi, _left, _short) = (s.AddNumber("oxygen.psi", "psi", 10, full), s.AddNumber("oxygen.minutes", "min", 1, _d.Minutes), s.AddFlag("oxygen.short"));
            _leak = context.Faults.Add("oxygen.leak", 0);
        }

        if (context.Explains)
        {
            context.Gate("oxygen.flow", GateKind.Is, "oxygen", "Oxygen: flows into the mask", Term.All(_flows, _psi < 0 ? null : Term.Fact($"oxygen.psi > {EmptyPsi}")));
            context.Gate("oxygen.alarm", GateKind.Ends, "oxygen", "Oxygen: its alarm", Term.Any(Term.Not(_shut), Term.Fact("oxygen.flow")));
            if (_pure is not null)
            {
                context.Gate("oxygen.psi", GateKind.Moves, "oxygen", "Oxygen: undiluted", Term.All(_pure));
            }
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _bleed = context.Reads(AirSupply.CabinSignal, Phase.Tick);
    }

    // What is caught up on before a change goes by what was.
    public override void Logic()
    {
        (_on, _wasShut, _undiluted) = (_flows.On, _shut.On, _pure is { On: true });
        Flow();
    }

    private void Flow() => _v[_flow] = _on && (_psi < 0 || _bottlePsi > EmptyPsi) ? 1 : 0;

    public override void Slow(double dt)
    {
        var flows = _v[_flow] > 0.5;
        if (_psi >= 0)
        {
            var breathedPsiPerS = _d.FullPsi!.Value / (60 * _d.Minutes) * (_undiluted ? PureShare : 1);
            var losesPsiPerS = breathedPsiPerS + _f[_leak];
            _bottlePsi = Math.Max(0, _bottlePsi - dt * (flows ? losesPsiPerS : _f[_leak]));
            (_v[_psi], _v[_left]) = (_bottlePsi, _bottlePsi / losesPsiPerS / 60);
            _v[_short] = _v[_left] < _legMinutes ? 1 : 0;
            Flow();
        }

        // A generator has nothing to give before the cabin's air comes.
        _withoutS = _wasShut && !flows && (_psi >= 0 || _v[_bleed] > 0.5) ? _withoutS + dt : 0;
        _v[_alarm] = _withoutS > AlarmS || _on && _psi >= 0 && _bottlePsi < _d.LowPsi ? 1 : 0;
        PaceS = _withoutS > 0 && _withoutS <= AlarmS ? AlarmS - _withoutS + 0.01 : _psi >= 0 ? Drifting : Asleep;
    }
}
