using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>How many more times a start can be tried: the least of what pays for it and of what has to rest after it.</summary>
public sealed class StartAttempts : MachineSystem
{
    /// <summary>More than so many are not counted.</summary>
    public const int Most = 5;

    private readonly int _attempts;
    private readonly List<string> _stores = [], _auxiliaryStores = [];
    private int[] _limits = [], _auxiliaryLimits = [], _others = [];
    private (int Lit, int Tries)[] _starters = [];
    private int _auxiliary = -1;
    private readonly bool _fromBattery;
    private int _battery = -1;
    private double[] _v = [];

    public StartAttempts(MachineContext context)
    {
        var a = context.Aircraft;
        _attempts = context.Signals.AddNumber("start.attempts", "", 1, Most);
        _fromBattery = a.Electrics.Battery is not null && a.Electrics.Buses.Any(b => b.Feeds.Any(f => f.From == "battery"));
        if (a.Air.Bottles is not null)
        {
            _stores.Add("bottle.left");
        }

        if (a.AuxiliaryUnit is { } unit)
        {
            _auxiliaryStores.Add("aux.tries");
            if (unit.Accumulator is not null)
            {
                _auxiliaryStores.Add("aux.accumulator-starts");
            }
        }
    }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        int[] All(IEnumerable<string> names) => [.. names.Select(n => context.Reads(n, Phase.Tick))];
        (_limits, _auxiliaryLimits) = (All(_stores), All(_auxiliaryStores));
        _starters = [.. context.Aircraft.Engines.Select(e => (context.Reads($"{e.Id}.lit", Phase.Tick), context.Reads($"{e.Id}.starter-tries", Phase.Tick)))];
        _others = All(context.Aircraft.Electrics.Sources.Select(s => $"source.{s.Id}.good").Concat(context.Aircraft.Engines.Select(e => $"{e.Id}.generator")));
        _auxiliary = _auxiliaryLimits.Length > 0 ? context.Reads("aux.running", Phase.Tick) : -1;
        _battery = _fromBattery ? context.Reads("battery.attempts", Phase.Tick) : -1;
    }

    public override void Slow(double dt)
    {
        double least = Most;
        foreach (var limit in _limits)
        {
            least = Math.Min(least, _v[limit]);
        }

        foreach (var (lit, tries) in _starters)
        {
            least = _v[lit] > 0.5 ? least : Math.Min(least, _v[tries]); // what runs needs no starter
        }

        // A unit that runs has been paid for.
        if (_auxiliary >= 0 && _v[_auxiliary] < 0.5)
        {
            foreach (var limit in _auxiliaryLimits)
            {
                least = Math.Min(least, _v[limit]);
            }
        }

        _v[_attempts] = _battery >= 0 && !Powered() ? Math.Min(least, _v[_battery]) : least;
    }

    // Somebody else pays.
    private bool Powered()
    {
        foreach (var other in _others)
        {
            if (_v[other] > 0.5)
            {
                return true;
            }
        }

        return false;
    }
}
