using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Where the pilot sits. Warmth follows what is let in, first order: bleed air when it comes, else the air outside, a little warmer under a shut
/// canopy. Pressure over the outside's builds under a canopy that seals. Temperatures in °C, pressure in psi.
/// </summary>
public sealed class Cabin : MachineSystem
{
    /// <summary>What the air supply is set to give, °C.</summary>
    private const double SetC = 22;

    /// <summary>A pilot, boxes and light warm a shut cabin so much over the outside, °C.</summary>
    private const double ShutRiseC = 7;

    // An open one is full of wind; a shut one without air keeps what it has.
    private const double OpenS = 60, ShutS = 420;

    // Half of the air goes over the rail of an open one.
    private const double OpenShare = 0.5;
    private const double EmptiesS = 2;

    private const double StillPsi = 0.01;
    private readonly CabinDefinition _d;
    private readonly Switch _shut, _air;
    private readonly double _ambientC;
    private readonly int _temperature, _psi, _unsealed, _seal;
    private int _bleed;
    private double _cabinC, _held, _inS;
    private bool _wasShut, _letIn;
    private double[] _v = [], _f = [];

    public Cabin(MachineContext context, CabinDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        (_shut, _air) = (context.Switch(_d.Shut, "cabin.shut"), context.Switch(_d.Air, "cabin.air"));
        (_cabinC, _ambientC) = (context.Soak.CabinC, context.Header.Conditions.OatC);
        var s = context.Signals;
        (_temperature, _psi, _unsealed) = (s.AddNumber("cabin.temperature", "°C", 1, _cabinC), s.AddNumber("cabin.psi", "psi", 0.1), s.AddFlag("cabin.unsealed"));
        _seal = context.Faults.Add("cabin.seal", 1);
        if (context.Explains)
        {
            var bleed = Term.Fact(AirSupply.CabinSignal);
            context.Gate("cabin.temperature", GateKind.Moves, "cabin", "Cabin: warm or cool air", Term.All(_air, bleed));
            context.Gate("cabin.psi", GateKind.Moves, "cabin", "Cabin: pressure", Term.All(_shut, _air, bleed));
            context.Gate("cabin.unsealed", GateKind.Ends, "cabin", "Cabin: let the pressure go", Term.Any(Term.Not(_shut), Term.Not(_air)));
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _bleed = context.Reads(AirSupply.CabinSignal, Phase.Tick);
    }

    // What is caught up on before a change goes by what was.
    public override void Logic() => (_wasShut, _letIn) = (_shut.On, _air.On);

    public override void Slow(double dt)
    {
        var (shut, air) = (_wasShut, _letIn && _v[_bleed] > 0.5);
        var (target, constantS) = (shut, air) switch
        {
            (true, true) => (SetC, _d.TimeConstantS),
            (true, false) => (_ambientC + ShutRiseC, ShutS),
            (false, true) => (_ambientC + OpenShare * (SetC - _ambientC), OpenS),
            _ => (_ambientC, OpenS),
        };
        _cabinC = target + Math.Exp(-dt / constantS) * (_cabinC - target);
        var built = shut && air;
        var psi = built ? _d.HoldsPsi * _f[_seal] : 0;
        // Three time constants are as good as there.
        _held = psi + Math.Exp(-dt / (built ? _d.BuildS / 3 : EmptiesS)) * (_held - psi);
        _inS = built ? _inS + dt : 0;
        (_v[_temperature], _v[_psi]) = (_cabinC, _held);
        _v[_unsealed] = _inS > _d.BuildS && _held < _d.LeastPsi ? 1 : 0;
        PaceS = Math.Abs(_held - psi) > StillPsi || built && _inS <= _d.BuildS ? Easing : Drifting;
    }
}
