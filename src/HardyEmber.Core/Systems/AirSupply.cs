using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// Duct air for the starters from the auxiliary unit or another engine's bleed, and bleed air for cabin and cooling,
/// which the fire test latches shut. Duct pressure as a share of full supply, 0 to 1; shown in psi.
/// </summary>
public sealed class AirSupply : MachineSystem
{
    private const double FullDuctPsi = 46;
    private const double LagS = 0.5;
    private const double StillShare = 1e-4;
    private readonly Switch _bleedOpen, _crossFeed;
    private readonly Switch? _cart;
    private readonly double _coolingDraw, _starterDraw;
    private readonly int _duct, _latch, _cabin, _supply;
    private double _pressure;
    private bool _still;
    private double[] _v = [], _f = [];

    public AirSupply(MachineContext context)
    {
        var d = context.Aircraft.Air;
        _bleedOpen = context.Switch(d.BleedOpen, "air.bleedOpen");
        _crossFeed = context.Switch(d.CrossFeed, "air.crossFeed");
        _cart = d.Cart is null ? null : context.Switch(d.Cart, "air.cart");
        _coolingDraw = d.CoolingDraw;
        _starterDraw = d.StarterDraw;

        if (context.Explains)
        {
            var running = Term.Fact(string.Join(" or ", context.Aircraft.Engines.Select(e => $"{e.Id}.lit")));
            context.Gate("air.duct", GateKind.Moves, "air", "Duct air", Term.Any(context.Aircraft.AuxiliaryUnit is null ? null : Term.Fact("aux.ready"),
                d.Bottles is null ? null : Term.Fact("bottle.burning"), _cart, Term.All(_crossFeed, running)));
            context.Gate("air.cabin", GateKind.Comes, "air", "Cabin air", Term.All(_bleedOpen, Term.Fact("not air.latched")), "A running engine gives it.");
        }

        _duct = context.Signals.AddNumber("air.duct", "psi", 0.5);
        _latch = context.Signals.AddFlag("air.latched");
        _cabin = context.Signals.AddFlag("air.cabin");
        _supply = context.Faults.Add("air.supply", 1);
    }

    /// <summary>Duct pressure at one open starter valve, 0 to 1.</summary>
    public double Duct => _pressure;

    /// <summary>The fire test (or a fire) has shut the bleed valves and holds them.</summary>
    public bool Latched { get; set; }

    /// <summary>Bleed air reaches cabin and cooling.</summary>
    public bool CabinAir { get; private set; }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
    }

    /// <summary>Advances the duct by <paramref name="dt"/> seconds; <paramref name="bestBleed"/> is the greatest N2 of a running engine, %.</summary>
    /// <param name="stored">What a bottle's starter gives, 0 to 1.</param>
    public void Step(double dt, bool auxiliaryReady, double bestBleed, double stored, int openStarterValves)
    {
        var outside = auxiliaryReady || _cart is { On: true } ? 1 : stored;
        var fromBleed = _crossFeed.On && !Latched ? Math.Min(1, bestBleed / 78) : 0;
        var source = Math.Max(outside, fromBleed) * _f[_supply];
        if (CabinAir && outside < 1)
        {
            source *= 1 - _coolingDraw;
        }

        if (openStarterValves > 1)
        {
            source *= _starterDraw;
        }

        _still = Math.Abs(source - _pressure) < StillShare;
        _pressure = _still ? source : _pressure + Math.Min(1, dt / LagS) * (source - _pressure);
        CabinAir = _bleedOpen.On && !Latched && bestBleed > 45;
    }

    public override void Slow(double dt)
    {
        _v[_duct] = FullDuctPsi * _pressure;
        _v[_latch] = Latched ? 1 : 0;
        _v[_cabin] = CabinAir ? 1 : 0;
        PaceS = _still ? Drifting : 0;
    }
}
