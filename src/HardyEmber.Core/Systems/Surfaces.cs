using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// What moves outside. Swinging ones follow stick and pedals led round the corners: pitch and roll a quarter of a turn apart, yaw behind them. Others go
/// where their control stands. All at a rate that the pressure allows and that stiff fluid takes from. Positions in % (−100 to 100, or 0 to 100), °C.
/// </summary>
public sealed class Surfaces : MachineSystem
{
    /// <summary>Once round the corners, s.</summary>
    private const double RoundS = 4;

    /// <summary>So long swept, everything has moved that will, s.</summary>
    private const double SeenS = 4.6;

    /// <summary>Less than this from end to end, it does not follow, %.</summary>
    private const double FollowsPct = 60;

    /// <summary>So long after its time at the slowest, a part that is not where its lever wants it has not moved, s.</summary>
    private const double MissedS = 2;

    // The pump alone warms the fluid to so much over the air, as slowly as this.
    private const double PumpedRiseC = 40, PumpedS = 900;
    private const double StiffestShare = 1.0 / 3, StiffRangeC = 40;
    private const double RunsPctPerS = 8;

    /// <summary>One that moves at its full rate takes this share of what one pump gives at idle.</summary>
    private const double FlowEach = 0.25;

    private const double LeastGiven = 0.1;

    /// <summary>Flow that is drawn, as a share of what the turning pumps give.</summary>
    public const string DrawSignal = "hydraulics.draw";
    private readonly SurfacesDefinition _d;
    private readonly Surface[] _surfaces;
    private readonly Switch _sweep, _pumped;
    private readonly Switch? _utility;
    private readonly double _ambientC;
    private readonly int _fluid, _cold, _still, _late, _draw;
    private (int N2, double IdlePct)[] _pumps = [];
    private int _time;
    private double _fluidC, _sweptS, _sweepFrom;
    private bool _swept, _stirred = true;
    private double[] _v = [], _f = [];

    private sealed class Surface(SurfaceDefinition definition, int index)
    {
        public SurfaceDefinition Definition { get; } = definition;
        public int Signal { get; } = index;
        public required Switch Moves { get; init; }
        public required Switch? Still { get; init; }
        public required Switch? Cut { get; init; }
        public required int Follows { get; init; }
        public required int Runs { get; init; }
        public int Control = -1;
        public double[] At = [];
        public double Position, Least, Most, AskedS;
        public bool Swings => Definition.Axis is not null;
    }

    public Surfaces(MachineContext context, SurfacesDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        (_sweep, _pumped) = (context.Switch(_d.Sweep, "surfaces.sweep"), context.Switch(_d.Pumped, "surfaces.pumped"));
        _utility = _d.Utility is { } utility ? context.Switch(utility.On, "surfaces.utility.on") : null;
        (_fluidC, _ambientC) = (context.Soak.FluidC, context.Header.Conditions.OatC);
        var s = context.Signals;
        (_fluid, _cold, _still) = (s.AddNumber("fluid.temperature", "°C", 1, _fluidC), s.AddFlag("fluid.cold"), s.AddFlag("surface.still"));
        _late = s.AddFlag("part.still");
        _draw = s.AddNumber(DrawSignal, "", 0.01, hidden: true);
        _surfaces = [.. _d.Items.Select(i => new Surface(i, s.AddNumber($"surface.{i.Id}", "%", 5))
        {
            Moves = context.Switch(i.Moves, $"surfaces.{i.Id}.moves"),
            Still = i.Still is null ? null : context.Switch(i.Still, $"surfaces.{i.Id}.still"),
            Cut = i.Cut is null ? null : context.Switch(i.Cut, $"surfaces.{i.Id}.cut"),
            Follows = i.Cut is null ? context.Faults.Add(i.Axis is null ? $"part.{i.Id}" : $"surface.{i.Id}", 1) : -1,
            Runs = i.Cut is null ? -1 : context.Faults.Add($"{i.Id}.runaway", 0),
        })];
        if (context.Explains)
        {
            context.Gate("fluid.temperature", GateKind.Moves, "surfaces", "Fluid: warm", Term.Any(_sweep, _pumped), "Sweep stick and pedals: what moves warms it.");
            if (_utility is not null)
            {
                context.Gate(DrawSignal, GateKind.Moves, "surfaces.utility", "Utility hydraulics: fed", _utility);
            }

            foreach (var x in _surfaces)
            {
                context.Gate($"surface.{x.Definition.Id}", GateKind.Moves, "surfaces", x.Definition.Label,
                    Term.All(x.Moves, x.Still is null ? null : Term.Not(x.Still), x.Cut is null ? null : Term.Not(x.Cut)));
            }
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _time = context.IndexOf("time", "surfaces", "signal");
        _pumps = [.. context.Aircraft.Engines.Select(e => (context.Reads(EngineBay.TrueSpeedSignal(e.Id), Phase.Tick), context.Aircraft.EngineOf(e).IdleN2Pct))];
        foreach (var x in _surfaces.Where(x => x.Definition.Control is not null))
        {
            var (id, control) = (x.Definition.Id, context.Aircraft.Controls.FirstOrDefault(c => c.Id == x.Definition.Control));
            x.Control = context.IndexOf(x.Definition.Control!, $"surfaces.{id}.control", "control");
            x.At = [.. (control?.Positions ?? []).Select(p => x.Definition.At.GetValueOrDefault(p))];
            foreach (var lost in x.Definition.At.Keys.Where(p => control?.Positions.Contains(p) == false))
            {
                context.Wrong($"surfaces.{id}.at", $"\"{x.Definition.Control}\" has no position \"{lost}\"");
            }
        }
    }

    public override void Begin()
    {
        foreach (var x in _surfaces)
        {
            _v[x.Signal] = x.Position = x.Control < 0 ? 0 : x.At.ElementAtOrDefault((int)_v[x.Control]);
        }
    }

    public override void Logic()
    {
        if (_sweep.On && !_swept)
        {
            (_sweepFrom, _sweptS) = (_v[_time], 0);
            foreach (var x in _surfaces)
            {
                x.Least = x.Most = x.Position;
            }
        }

        _stirred = true;
        _swept = _sweep.On; // what is caught up on before a change goes by what was
    }

    /// <summary>Nothing that it decides by has changed.</summary>
    public override void Quiet() { }

    public override void Slow(double dt)
    {
        Warm(dt);
        if (_stirred || _swept)
        {
            Move(dt);
        }
        else
        {
            _v[_draw] = Utility() / Math.Max(LeastGiven, Given());
            PaceS = _utility is { On: true } ? 0 : Drifting;
        }
    }

    private double Utility() => _utility is { On: true } ? _d.Utility!.Draw : 0;

    private void Move(double dt)
    {
        var stiff = Math.Clamp(1 - (_d.StiffC - _fluidC) / StiffRangeC * (1 - StiffestShare), StiffestShare, 1);
        var (moving, late, flow) = (false, false, 0.0);
        _stirred = false;
        foreach (var x in _surfaces)
        {
            var target = Target(x);
            var rate = 100 / x.Definition.Seconds * stiff * (x.Swings ? 2 : 1);
            if (x.Runs >= 0 && _f[x.Runs] != 0 && x.Cut is { On: false })
            {
                (target, rate) = (100 * Math.Sign(_f[x.Runs]), RunsPctPerS);
            }

            if (x.Moves.On && x.Cut is not { On: true } && (x.Follows < 0 || _f[x.Follows] > 0.5))
            {
                var way = Math.Clamp(target - x.Position, -rate * dt, rate * dt);
                x.Position += way;
                flow += dt > 0 ? Math.Abs(way) / (rate * dt) : 0;
            }

            x.AskedS = !x.Swings && x.Moves.On && Math.Abs(target - x.Position) > 1 ? x.AskedS + dt : 0;
            late |= x.AskedS > MissedS + x.Definition.Seconds / StiffestShare;
            moving |= x.Moves.On && Math.Abs(target - x.Position) > 0.5;
            _stirred |= x.Moves.On && target != x.Position;
            (x.Least, x.Most) = (Math.Min(x.Least, x.Position), Math.Max(x.Most, x.Position));
            _v[x.Signal] = x.Position;
        }

        _v[_late] = late ? 1 : 0;
        _v[_draw] = (FlowEach * flow + Utility()) / Math.Max(LeastGiven, Given());
        Follow(dt);
        PaceS = _swept || moving || _utility is { On: true } ? 0 : Drifting;
    }

    // What the pumps that turn give, in pumps at idle.
    private double Given()
    {
        var given = 0.0;
        foreach (var (n2, idle) in _pumps)
        {
            given += _v[n2] / idle;
        }

        return given;
    }

    private void Warm(double dt)
    {
        if (_pumped.On)
        {
            _fluidC += (1 - Math.Exp(-dt / PumpedS)) * (_ambientC + PumpedRiseC - _fluidC);
            _fluidC += _swept && _fluidC < _d.StiffC ? dt * _d.WarmsCPerS : 0;
        }

        (_v[_fluid], _v[_cold]) = (_fluidC, _fluidC < _d.ColdC ? 1 : 0);
    }

    // Whoever sweeps looks out, and sees what stays where it was.
    private void Follow(double dt)
    {
        _sweptS = _swept && _pumped.On ? _sweptS + dt : 0;
        if (_sweptS > SeenS)
        {
            _v[_still] = Array.Exists(_surfaces, x => x.Swings && x.Moves.On && x.Still is not { On: true } && x.Most - x.Least < FollowsPct) ? 1 : 0;
        }
    }

    private double Target(Surface x)
    {
        if (!x.Swings)
        {
            return x.Control < 0 ? 0 : x.At.ElementAtOrDefault((int)_v[x.Control]);
        }

        if (!_swept || x.Still is { On: true })
        {
            return 0;
        }

        var turn = (_v[_time] - _sweepFrom) / RoundS * 2 * Math.PI;
        return 100 * (x.Definition.Axis switch { "pitch" => Math.Sin(turn), "roll" => Math.Cos(turn) * (x.Definition.Side == "right" ? -1 : 1), _ => Math.Sin(turn / 2) });
    }
}
