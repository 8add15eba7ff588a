using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>The numbers on the card, readable to conditions and screens.</summary>
public sealed class CardSignals : MachineSystem
{
    /// <summary>Stores of the heaviest of three classes weigh so much, lb.</summary>
    private const double HeavyLb = 2500;

    /// <summary>So far from what the weight wants, a trim is felt at rotation.</summary>
    private const double FarDeg = 1;

    public CardSignals(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        PaceS = Asleep;
        string? Taught(string question) => context.Header.School?.GetValueOrDefault(question);
        var card = CardNumbers.For(context.Aircraft, context.Place, context.Header);
        var s = context.Signals;
        var trim = Taught("trim") == "standard" && context.Aircraft.Numbers.StandardTrim is { } standard ? standard : card.TrimDeg;
        s.AddNumber("numbers.trim", "°", 0.1, trim);
        s.AddNumber("numbers.trim-low", "°", 0.1, trim - 0.3);
        s.AddNumber("numbers.trim-high", "°", 0.1, trim + 0.3);
        s.AddNumber("numbers.trim-weight", "°", 0.1, card.TrimDeg);
        s.AddNumber("numbers.trim-weight-low", "°", 0.1, card.TrimDeg - FarDeg);
        s.AddNumber("numbers.trim-weight-high", "°", 0.1, card.TrimDeg + FarDeg);
        var hpa = Taught("altimeter") switch { "field" => card.QfeHpa, "standard" => Math.Round(Altimetry.StandardHpa), _ => card.QnhHpa };
        s.AddNumber("numbers.altimeter", "hPa", 1, hpa);
        s.AddNumber("numbers.altimeter-low", "hPa", 1, hpa - 1);
        s.AddNumber("numbers.altimeter-high", "hPa", 1, hpa + 1);
        // The data of runs flown before there was a choice ask for these.
        s.AddNumber("numbers.qnh", "hPa", 1, card.QnhHpa);
        s.AddNumber("numbers.qnh-low", "hPa", 1, card.QnhHpa - 1);
        s.AddNumber("numbers.qnh-high", "hPa", 1, card.QnhHpa + 1);
        s.AddNumber("numbers.fuel-reminder", "lb", 100, card.FuelReminderLb);
        s.AddNumber("numbers.fuel-reminder-low", "lb", 100, card.FuelReminderLb - 150);
        s.AddNumber("numbers.fuel-reminder-high", "lb", 100, card.FuelReminderLb + 150);
        s.AddNumber("numbers.height-bug", "ft", 10, context.Aircraft.Numbers.HeightBugFt);
        s.AddNumber("numbers.dive-path", "°", 1, context.Aircraft.Numbers.DivePathDeg);
        s.AddNumber("numbers.recover-path", "°", 1, context.Aircraft.Numbers.RecoverPathDeg);
        var windmill = context.Aircraft.Engine.Windmill;
        s.AddNumber("numbers.relight-speed", "kt", 1, context.Aircraft.Numbers.RelightKt ?? Math.Sqrt(windmill.MinEasKt * windmill.MaxEasKt));
        s.AddNumber("numbers.glide-speed", "kt", 1, Math.Round(FlightState.JetOf(context.Aircraft, context.Header, context.Station).GlideEasKt / 5) * 5);
        s.AddNumber("numbers.rotate", "kt", 1, card.RotateKt);
        s.AddNumber("numbers.lift-off", "kt", 1, card.LiftOffKt);
        s.AddNumber("numbers.latitude", "°", 1, Math.Round(context.Station.Spot.LatitudeDeg));
        s.AddNumber("numbers.latitude-low", "°", 1, Math.Round(context.Station.Spot.LatitudeDeg) - 1);
        s.AddNumber("numbers.latitude-high", "°", 1, Math.Round(context.Station.Spot.LatitudeDeg) + 1);
        s.AddNumber("numbers.stores-class", "", 1, (context.Header.Loading?.StoresLb ?? 0) switch { <= 0 => 1, < HeavyLb => 2, _ => 3 });
        s.AddNumber("numbers.runway", "°", 10, context.Place.RunwayFor(context.Header.Conditions.WindFromDeg)?.NumberDeg ?? 0);
        s.AddNumber("numbers.beacon-outer", "kHz", 1, context.Place.BeaconsKhz?.Outer ?? 0);
        s.AddNumber("numbers.beacon-inner", "kHz", 1, context.Place.BeaconsKhz?.Inner ?? 0);
        s.AddNumber("numbers.range-beacon", "", 1, context.Place.RangeBeacon);
        s.AddNumber("numbers.landing-aid", "MHz", 0.05, context.Place.LandingAidMhz);
        s.AddNumber("drills.flown", "", 1, context.Header.Drilled ?? 0);
        s.AddFlag("place.ship", context.Place.Ship is not null);
        s.AddNumber("numbers.tailwind", "kt", 1, context.Station.TailwindKt);
    }
}
