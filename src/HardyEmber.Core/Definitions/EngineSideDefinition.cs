namespace HardyEmber.Core.Definitions;

/// <summary>One engine of the aircraft: its throttle control and the conditions on its own switches.</summary>
public sealed record EngineSideDefinition(string Id, string Label, string Throttle, string FuelOn, string StarterValve, string Igniter,
    string GeneratorSwitch, string IgniterBus)
{
    /// <summary>The throttle's positions that cut fuel off and that ask for idle.</summary>
    public required string CutOff { get; init; }

    /// <inheritdoc cref="CutOff"/>
    public required string Idle { get; init; }

    /// <summary>Condition: the pilot has it on its backup control, where its type has one.</summary>
    public string? Backup { get; init; }

    /// <summary>Where it sits across the aircraft, −1 far left to 1 far right: whence it is heard.</summary>
    public double Lateral { get; init; }

    /// <summary>Its type, where it is another than the aircraft's common one.</summary>
    public string? Type { get; init; }

    /// <summary>An electric starter: the bus it draws from and its power at standstill, W. Without one, duct air turns the core.</summary>
    public string? StarterBus { get; init; }
    public double StarterW { get; init; }

    /// <summary>The engine whose open starter valve keeps this one's shut: they share the same air or current.</summary>
    public string? Rival { get; init; }
}
