namespace HardyEmber.Core.Numbers;

/// <summary>The circle in which half of all errors lie.</summary>
public static class HalfCircle
{
    private const int Rays = 32, Halvings = 40;

    // Narrower than this the error is a line for all purposes: the radius is off by less than 0.3 %.
    private const double Narrowest = 0.05;

    /// <summary>Shapes of the error for which it is solved once and for all, from the narrowest to the round one: a pilot's page asks for some hundred radii at a time.</summary>
    private const int Steps = 500;
    private static readonly double[] Known = [.. Enumerable.Range(0, Steps + 1).Select(i => Solved(Narrowest + (1 - Narrowest) * i / Steps))];

    /// <summary>
    /// Radius of the circle about the mean that holds half of a normal error in two dimensions, in the unit whose square the variances have:
    /// the density is integrated along rays and the radius found by halving. 1.1774 σ where both are alike, 0.6745 σ on a line.
    /// </summary>
    public static double Radius(double varianceX, double varianceY, double covariance)
    {
        var (mean, apart) = ((varianceX + varianceY) / 2, Math.Sqrt(Math.Pow((varianceX - varianceY) / 2, 2) + covariance * covariance));
        var large = Math.Sqrt(mean + apart);
        if (!(large > 0))
        {
            return 0;
        }

        // Nearly a straight line between two neighbours: right to two parts in a million.
        var at = (Math.Max(Math.Sqrt(Math.Max(0, mean - apart)) / large, Narrowest) - Narrowest) / (1 - Narrowest) * Steps;
        var below = Math.Min((int)at, Steps - 1);
        return large * (Known[below] + (at - below) * (Known[below + 1] - Known[below]));
    }

    // The radius where the larger deviation is 1.
    private static double Solved(double small)
    {
        var (low, high) = (0.5, 1.3);
        for (var i = 0; i < Halvings; i++)
        {
            var middle = (low + high) / 2;
            (low, high) = Inside(middle, small) < 0.5 ? (middle, high) : (low, middle);
        }

        return (low + high) / 2;
    }

    // Share of an error with deviations 1 and small that lies within a radius.
    private static double Inside(double radius, double small)
    {
        var sum = 0.0;
        for (var i = 0; i < Rays; i++)
        {
            var (sin, cos) = Math.SinCos((i + 0.5) / Rays * Math.PI / 2);
            var a = cos * cos + sin * sin / (small * small);
            sum += (1 - Math.Exp(-radius * radius * a / 2)) / a;
        }

        return sum / (Rays * small);
    }
}
