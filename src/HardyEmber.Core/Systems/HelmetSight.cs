using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// The helmet sight: its cross stands off the mark by what this head and this helmet make of it, plus what the dials say, plus the sway of the head.
/// Saving takes the mean over the last few seconds before the key is let go; what is left then is what every look will be wrong by. Angles in milliradians, time in seconds.
/// </summary>
public sealed class HelmetSight : MachineSystem
{
    /// <summary>What is left is told for a look so far off the nose, where a turned sight counts by the sine of it.</summary>
    private const double OffNoseDeg = 30;

    // The dials reach so far: a helmet that stands off farther would be another one's.
    private const double MostSigmas = 2;

    private static readonly string[] Axes = ["azimuth", "elevation", "roll"];
    private readonly SightDefinition _d;
    private readonly Switch _on, _place, _turn, _saving;
    private readonly double[] _stands = new double[Axes.Length];
    private readonly Sway[] _sway = new Sway[Axes.Length];
    private readonly int[] _seen = new int[Axes.Length], _due = new int[Axes.Length], _off = new int[Axes.Length], _dials = new int[Axes.Length];
    private readonly int _held, _saved, _residual;
    private readonly double[] _steps = new double[Axes.Length];
    private readonly double[] _dialled = new double[Axes.Length];
    private double _heldFrom = -1;
    private int _time;
    private double[] _v = [];

    public HelmetSight(MachineContext context, SightDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        _d = definition;
        _on = context.Switch(_d.On, "sight.on");
        (_place, _turn) = (context.Switch($"{_d.Control} is {_d.Place}", "sight.place"), context.Switch($"{_d.Control} is {_d.Turn}", "sight.turn"));
        _saving = context.Switch($"{_d.Save} is {_d.Saving}", "sight.save");
        var random = context.Random("helmet-sight");
        var s = context.Signals;
        for (var i = 0; i < Axes.Length; i++)
        {
            var sigma = i < 2 ? _d.OffMrad : _d.RollMrad;
            _stands[i] = Math.Clamp(random.Normal(), -MostSigmas, MostSigmas) * sigma;
            _sway[i] = new Sway(random, _d.SwayMrad);
            _seen[i] = s.AddNumber($"sight.{Axes[i]}", "mrad", 0.1, InertialSet.Nothing);
        }

        _held = s.AddNumber("sight.held", "s", 0.1);
        _saved = s.AddFlag("sight.saved");
        _residual = s.AddNumber("sight.residual", "mrad", 0.1, InertialSet.Nothing);
        for (var i = 0; i < Axes.Length; i++)
        {
            _due[i] = s.AddNumber($"sight.{Axes[i]}-due", "mrad", 0.1, hidden: true);
            _off[i] = s.AddNumber($"sight.{Axes[i]}-off", "mrad", 0.1, hidden: true);
        }

        if (context.Explains)
        {
            context.Gate("sight.saved", GateKind.Comes, "sight", "Helmet sight: saved", Term.All(_on, Term.Any(_place, _turn), _saving),
                FormattableString.Invariant($"Hold its key for {_d.HoldS} s."));
            context.Gate("sight.saved", GateKind.Ends, "sight", "Helmet sight: no power", Term.Not(_on));
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _v = context.Signals.Values;
        _time = context.IndexOf("time", "sight", "signal");
        string[] dials = [_d.Azimuth, _d.Elevation, _d.Roll];
        for (var i = 0; i < Axes.Length; i++)
        {
            _dials[i] = context.IndexOf(dials[i], $"sight.{Axes[i]}", "control");
            _steps[i] = context.Aircraft.Controls.FirstOrDefault(c => c.Id == dials[i])?.Step ?? 1;
        }
    }

    public override void Begin()
    {
        for (var i = 0; i < Axes.Length; i++)
        {
            _v[_due[i]] = Math.Round(-_stands[i] / _steps[i]) * _steps[i];
        }

        Logic();
    }

    public override void Logic()
    {
        var turned = false;
        for (var i = 0; i < Axes.Length; i++)
        {
            _v[_off[i]] = Math.Abs(Still(i));
            turned |= _dialled[i] != _v[_dials[i]];
            _dialled[i] = _v[_dials[i]];
        }

        if (!_on.On)
        {
            _v[_saved] = 0;
            _v[_residual] = InertialSet.Nothing;
        }

        var holds = _on.On && (_place.On || _turn.On) && _saving.On;
        if (!holds)
        {
            _heldFrom = -1;
            _v[_held] = 0;
        }
        else if (_heldFrom < 0 || turned)
        {
            // What is turned meanwhile begins the mean anew.
            _heldFrom = _v[_time];
            _v[_held] = 0;
        }

        Show();
    }

    // Where the cross stands without the sway.
    private double Still(int axis) => _stands[axis] + _v[_dials[axis]];

    // Upright or not is seen when it is being turned; before, there is only a cross.
    private void Show()
    {
        var (placing, turning) = (_on.On && _place.On, _on.On && _turn.On);
        for (var i = 0; i < Axes.Length; i++)
        {
            _v[_seen[i]] = turning || placing && i < 2 ? Still(i) + _sway[i].At(_v[_time]) : InertialSet.Nothing;
        }
    }

    public override void Slow(double dt)
    {
        Show();
        if (_heldFrom >= 0)
        {
            var held = _v[_time] - _heldFrom;
            if (held >= _d.HoldS)
            {
                Save();
            }

            _v[_held] = Math.Min(held, _d.HoldS);
        }

        PaceS = _on.On && (_place.On || _turn.On) ? 0 : Asleep;
    }

    // As long as the key is held the last seconds count: nobody is stuck with a bad moment, and who lets go chooses.
    private void Save()
    {
        double Left(int axis) => Still(axis) + _sway[axis].Mean(_v[_time] - _d.HoldS, _v[_time]);
        var turned = Left(2) * Math.Sin(OffNoseDeg * Math.PI / 180);
        _v[_residual] = Math.Sqrt(Left(0) * Left(0) + Left(1) * Left(1) + turned * turned);
        _v[_saved] = 1;
    }
}
