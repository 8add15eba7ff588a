using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Systems;

/// <summary>The numbers on the card, from weights and the field. Weights in lb, speeds in kt, trim in degrees nose-up.</summary>
public sealed record CardNumbers(double GrossLb, double FuelLb, double TrimDeg, double RotateKt, double LiftOffKt, double QnhHpa, double QfeHpa, double FuelReminderLb)
{
    public static CardNumbers For(AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        var n = aircraft.Numbers;
        var fuel = header.Loading?.FuelLb ?? n.InternalFuelLb;
        var stores = header.Loading?.StoresLb ?? 0;
        if (!(fuel >= 0 && fuel <= 2 * n.InternalFuelLb))
        {
            throw new FormatException(FormattableString.Invariant($"loading.fuelLb: {fuel} is outside 0 to {2 * n.InternalFuelLb}"));
        }

        if (!(stores >= 0 && stores <= n.EmptyLb))
        {
            throw new FormatException(FormattableString.Invariant($"loading.storesLb: {stores} is outside 0 to {n.EmptyLb}"));
        }

        var gross = n.EmptyLb + fuel + stores;
        // Lift grows with the square of speed: the speeds scale with the square root of weight.
        var scale = Math.Sqrt(gross / n.ReferenceLb);
        var qnh = header.Conditions.QnhHpa ?? place.Usual.QnhHpa;
        return new CardNumbers(gross, fuel, Math.Round(Interpolate(n.Trim, gross), 1), Math.Round(n.RotateKt * scale), Math.Round(n.LiftOffKt * scale),
            qnh, Math.Round(Altimetry.QfeHpa(place.ElevationFt, qnh)), n.GoHomeLb + n.ReserveLb);
    }

    /// <summary>Piecewise-linear table, flat beyond its ends.</summary>
    public static double Interpolate(IReadOnlyList<TablePoint> table, double x)
    {
        if (x <= table[0].X)
        {
            return table[0].Y;
        }

        for (var i = 1; i < table.Count; i++)
        {
            if (x <= table[i].X)
            {
                var (a, b) = (table[i - 1], table[i]);
                return a.Y + (b.Y - a.Y) * (x - a.X) / (b.X - a.X);
            }
        }

        return table[^1].Y;
    }
}
