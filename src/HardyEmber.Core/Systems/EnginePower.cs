using System.Runtime.CompilerServices;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Systems;

/// <summary>A core above idle, and one that gives air away: what its file's two figures make of the start's equations.</summary>
public sealed partial class Engine
{
    // Computed once for a type of engine: all its cores share them, and a machine has six.
    private static readonly ConditionalWeakTable<EngineDefinition, Curves> AllCurves = [];
    private readonly Curves _curves;

    /// <summary>Factors by whole percents of speed (airflow, drag, work of the turbine), the price of bleed, and the thinnest air for a spark.</summary>
    private sealed record Curves(double[] Air, double[] Drag, double[] Turbine, double BleedLoss, double BleedTargetPct, double LeastPressure);

    private Curves CurvesOf()
    {
        var ((air, drag, turbine), (loss, target)) = (AboveIdle(), BleedCost());
        return new Curves(air, drag, turbine, loss, target, LeastPressure());
    }

    private double Shape(double n2)
    {
        var low = (int)n2;
        return _curves.Turbine[low] + (n2 - low) * (_curves.Turbine[low + 1] - _curves.Turbine[low]);
    }

    /// <summary>The factor of a table at a speed; 1 up to idle.</summary>
    private double Above(double[] table, double n2)
    {
        if (n2 <= _d.IdleN2Pct)
        {
            return 1;
        }

        var low = (int)n2;
        return table[low] + (n2 - low) * (table[low + 1] - table[low]);
    }

    /// <summary>Drag grows above idle with this power of speed besides, where the type's file tells its full power: what a stage does for its air.</summary>
    private const double DragExponent = 1;

    // Powers of speed over idle: of airflow so that full fuel gives the full temperature, of the work that fuel does so that it holds the full speed.
    private (double[] Air, double[] Drag, double[] Turbine) AboveIdle()
    {
        var (air, drag, work) = (AboveIdleExponent, 0.0, 0.0);
        if (_d.Full is { } full)
        {
            var ratio = Math.Log(full.N2Pct / _d.IdleN2Pct);
            var airflow = full.Fuel * (_d.IdleGasC - 15) / (full.GasC - 15);
            air = Math.Log(airflow / ((full.N2Pct + _d.Gas.AirflowOffsetN2Pct) * _perAirflow)) / ratio;
            drag = DragExponent;
            work = drag - Math.Log(full.Fuel * _turbineGain * TurbineShape(full.N2Pct) / IdleDrag(full.N2Pct, 1, HotOil)) / ratio;
        }

        double[] Table(double exponent) => [.. Enumerable.Range(0, (int)FastestPct + 2).Select(n => Math.Pow(Math.Max(n, _d.IdleN2Pct) / _d.IdleN2Pct, exponent))];
        return (Table(air), Table(drag), [.. Table(work).Select((above, n) => above * TurbineShape(n))]);
    }

    /// <summary>Viscosity of oil that has run long enough, see <see cref="Slow"/>.</summary>
    private const double HotOil = 0.5;

    // Share of the turbine's work and speed asked of the governor that together make a core at idle lose the speed and gain the heat of its file.
    private (double Loss, double TargetPct) BleedCost()
    {
        if (_d.Bleed is not { } cost)
        {
            return (0, 0);
        }

        double Holds(double n2) => IdleDrag(n2, 1, HotOil) / (_turbineGain * TurbineShape(n2));
        var at = _d.IdleN2Pct - cost.N2Pct;
        var airflow = (at + _d.Gas.AirflowOffsetN2Pct) * _perAirflow;
        var fuel = airflow * (_d.IdleGasC - 15) * Holds(_d.IdleN2Pct) / (_d.IdleGasC - 15) + airflow * cost.GasC / (_d.IdleGasC - 15);
        double low = at - 5, high = _d.IdleN2Pct;
        for (var i = 0; i < 40; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = Holds(middle) + GovernorGain * (middle - at) < fuel ? (middle, high) : (low, middle);
        }

        return (1 - Holds(at) / fuel, _d.IdleN2Pct - high);
    }
}
