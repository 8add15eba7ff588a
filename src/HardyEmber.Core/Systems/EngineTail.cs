namespace HardyEmber.Core.Systems;

/// <summary>
/// A fire in the tail pipe: fuel that drips past a shut valve into a core that has been hot burns behind its turbine once the air through it is too
/// little to carry it away. The gauge climbs with the fuel off and the core all but still; motored, it is blown out.
/// </summary>
public sealed partial class Engine
{
    /// <summary>A warped valve drips once the core has been so warm, °C; at its worst so many idle flow seconds each second.</summary>
    private const double DripsC = 150, DripPerS = 0.06;

    /// <summary>So much of it, metal so hot, and the core slower than this, % N2: it lights.</summary>
    private const double TailPuddle = 0.15, TailMetalC = 240, TailN2Pct = 12;

    /// <summary>It burns so much of it each second, drives the gas towards this with that time constant, and leaves so little.</summary>
    private const double TailBurnPerS = 0.015, TailC = 720, TailS = 8, TailLeft = 0.02;

    /// <summary>Faster than this for so long, and it is blown out.</summary>
    private const double BlowsN2Pct = 14, BlowsS = 5;

    private double _blownS;

    /// <summary>It burns behind the turbine.</summary>
    public bool TailFire { get; private set; }

    private void Tail(double dt)
    {
        if (Lit || In.Mach > FlyingMach)
        {
            TailFire = false;
            return;
        }

        if (Faults.Drip > 0 && !In.FuelOn && MetalC > DripsC)
        {
            Puddle = Math.Min(PuddleMax, Puddle + dt * DripPerS * Faults.Drip);
        }

        if (!TailFire)
        {
            TailFire = !In.FuelOn && Puddle > TailPuddle && MetalC > TailMetalC && N2Pct < TailN2Pct;
            _blownS = 0;
            return;
        }

        Puddle = Math.Max(0, Puddle - dt * TailBurnPerS);
        GasC += Math.Min(1, dt / TailS) * (TailC - GasC);
        _blownS = N2Pct > BlowsN2Pct ? _blownS + dt : 0;
        TailFire = Puddle > TailLeft && _blownS < BlowsS;
    }
}
