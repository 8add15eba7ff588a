using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Loops of wire through the zones: a short in one looks like a fire in its zone. Their tests are tasks of the aircraft's file.</summary>
public sealed class FireDetection : MachineSystem
{
    private readonly int[] _shorts, _alarms;
    private readonly int _alarm;
    private readonly Switch _sound;
    private double[] _v = [], _f = [];

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
            context.Gate($"fire.alarm-{i + 1}", GateKind.Comes, "fireDetection", $"Fire: {definition.Zones[i]}", _sound, "Nothing burns there.", aside: true);
        }
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
    }

    public override void Slow(double dt)
    {
        PaceS = Asleep;
        _v[_alarm] = 0;
        foreach (var alarm in _alarms)
        {
            _v[alarm] = 0;
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
