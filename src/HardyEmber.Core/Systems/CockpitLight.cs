using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Whether there is light to read by: by day always, at night while one of the cockpit's own lights has power. A gauge may live and not be seen.</summary>
public sealed class CockpitLight : MachineSystem
{
    public const string LitSignal = "cockpit.lit";
    private readonly Switch _light;
    private readonly int _lit;
    private double[] _v = [];

    /// <param name="light">The condition of the type's file under which one of its lights burns.</param>
    public CockpitLight(MachineContext context, string light)
    {
        ArgumentNullException.ThrowIfNull(context);
        var day = context.Header.Conditions.Night != true;
        _ = context.Signals.AddFlag("cockpit.day", day);
        _light = context.Switch($"cockpit.day or {light}", "cockpitLight");
        _lit = context.Signals.AddFlag(LitSignal, day);
        if (context.Explains)
        {
            context.Gate(LitSignal, GateKind.Is, "bus", "Cockpit: light to read by", Term.All(_light),
                "At night nothing can be read but by its own lights, and they need a live bus.");
        }
    }

    public override string Name => "Cockpit light";

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _v = context.Signals.Values;
    }

    public override void Logic() => _v[_lit] = _light.On ? 1 : 0;
}
