namespace HardyEmber.Core.Simulation;

/// <summary>
/// A generator carries its rating for ever. Above it its voltage sags and its windings warm, by the square of the current; once
/// they have taken as much as <c>overloadS</c> at a quarter too much would give them, it trips, and stays off until its switch has
/// been off. Watts, seconds; loads as a share of the rating.
/// </summary>
public sealed class Generator
{
    /// <summary>The overload for which a type's file gives the time.</summary>
    public const double StatedLoad = 1.25;

    /// <summary>What it loses of its voltage at twice its rating.</summary>
    private const double SagPerUnit = 0.4;

    /// <summary>Windings give back in this time what they have taken, at no load.</summary>
    private const double CoolS = 90;

    private const double Longest = 999;
    private readonly double _overloadS;
    private readonly int _loadSignal, _tripSignal, _leftSignal, _carriesSignal;
    private double _warm;
    private double[] _v = [];

    public Generator(MachineContext context, string id, string label, double ratedW, double overloadS)
    {
        (Id, Label, RatedW, _overloadS) = (id, label, ratedW, overloadS);
        var s = context.Signals;
        (_loadSignal, _tripSignal) = (s.AddNumber($"{id}.generator-load", "%", 1), s.AddFlag($"{id}.generator-tripped"));
        _leftSignal = s.AddNumber($"{id}.generator-left", "s", 1, Longest);
        _carriesSignal = s.AddFlag($"{id}.generator-over");
    }

    public string Id { get; }
    public string Label { get; }
    public double RatedW { get; }

    /// <summary>Its machine turns it and its switch is on.</summary>
    public bool Online { get; private set; }

    /// <summary>Overloaded for too long; its switch off and on again resets it.</summary>
    public bool Tripped { get; private set; }

    /// <summary>What it carries now. Set by the electrics.</summary>
    public double DemandW { get; set; }
    public double Load => DemandW / RatedW;
    public bool Over => Online && Load > 1;

    /// <summary>Voltage as a share of what it should be.</summary>
    public double PerUnit => Math.Max(0.5, 1 - SagPerUnit * Math.Max(0, Load - 1));

    public void Bind(MachineContext context) => _v = context.Signals.Values;

    /// <summary>The owner says whether it could deliver; true where it does.</summary>
    public bool Decide(bool offers, bool switchedOn)
    {
        Tripped &= switchedOn;
        return Online = offers && switchedOn && !Tripped;
    }

    /// <summary>Seconds for which it bears this load.</summary>
    private double LeftS => Over ? Math.Min(Longest, (1 - _warm) / WarmsPerS) : Longest;

    private double WarmsPerS => (Load * Load - 1) / ((StatedLoad * StatedLoad - 1) * _overloadS);

    /// <returns>It has tripped just now.</returns>
    public bool Slow(double dt)
    {
        _warm = Over ? _warm + dt * WarmsPerS : Math.Max(0, _warm - dt / CoolS);
        var trips = Over && _warm >= 1 && !Tripped;
        Tripped |= trips;
        return trips;
    }

    public void Publish()
    {
        _v[_loadSignal] = Online ? 100 * Load : 0;
        _v[_tripSignal] = Tripped ? 1 : 0;
        _v[_leftSignal] = LeftS;
        _v[_carriesSignal] = Over ? 1 : 0;
    }

    /// <summary>When it may trip, s.</summary>
    public double NextS => Over ? LeftS : double.PositiveInfinity;
}
