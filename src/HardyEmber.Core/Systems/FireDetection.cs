using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Loops of wire through the zones: they report the heat of a fire, and a short in one looks like a fire in its zone. Their tests are tasks of the aircraft's
/// file.</summary>
public sealed class FireDetection : MachineSystem
{
    private readonly int[] _shorts, _alarms;
    private readonly int _alarm;
    private readonly Switch _sound;
    private double[] _v = [], _f = [];
    private int[] _sensed = [];

    /// <summary>How many loops feel the heat of a zone that can burn (see <see cref="Fires"/>), by its place among the zones, counted from 1.</summary>
    public static string SensedSignal(int zone) => $"fire.sensed-{zone}";

    public FireDetection(MachineContext context, FireDetectionDefinition definition)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(definition);
        _shorts = [.. definition.Loops.Select(l => context.Faults.Add($"fire.{l}-short", 0))];
        _alarm = context.Signals.AddNumber("fire.alarm", "", 1);
        _alarms = [.. definition.Zones.Select((_, i) => context.Signals.AddFlag($"fire.alarm-{i + 1}"))];
        _sound = context.Switch(definition.Sound, "fireDetection.sound");
        for (var i = 0; context.Explains && i < _alarms.Length; i++)
        {
            context.Gate($"fire.alarm-{i + 1}", GateKind.Comes, "fireDetection", $"Fire: {definition.Zones[i]}", _sound, "It reports what is hot there.", aside: true);
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _sensed = [.. _alarms.Select((_, i) => context.Signals.Find(SensedSignal(i + 1)) is { } s ? context.Reads(s.Name, Phase.Tick) : -1)];
    }

    public override void Slow(double dt)
    {
        PaceS = Asleep;
        _v[_alarm] = 0;
        for (var i = 0; i < _alarms.Length; i++)
        {
            var hot = _sound.On && _sensed[i] >= 0 && _v[_sensed[i]] > 0.5;
            _v[_alarms[i]] = hot ? 1 : 0;
            _v[_alarm] = hot ? i + 1 : _v[_alarm];
        }

        foreach (var input in _shorts)
        {
            var zone = (int)_f[input];
            if (_sound.On && zone > 0 && zone <= _alarms.Length)
            {
                (_v[_alarm], _v[_alarms[zone - 1]]) = (zone, 1);
            }
        }
    }
}
