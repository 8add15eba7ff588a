namespace HardyEmber.Core.Numbers;

/// <summary>
/// The shortest way between two positions on a sphere on which a minute of arc is a nautical mile (haversine and initial course as in
/// Sinnott, Virtues of the Haversine, Sky and Telescope 68, 1984).
/// </summary>
public static class GreatCircle
{
    public const double FeetPerNauticalMile = 1852 / 0.3048;

    /// <summary>Distance, nautical miles.</summary>
    public static double DistanceNm(GeoPosition from, GeoPosition to)
    {
        var (a, b) = (Rad(from.LatitudeDeg), Rad(to.LatitudeDeg));
        var (byLatitude, byLongitude) = (Math.Sin((b - a) / 2), Math.Sin(Rad(to.LongitudeDeg - from.LongitudeDeg) / 2));
        var h = byLatitude * byLatitude + Math.Cos(a) * Math.Cos(b) * byLongitude * byLongitude;
        return 2 * Math.Asin(Math.Min(1, Math.Sqrt(h))) * 180 / Math.PI * 60;
    }

    /// <summary>Course at the beginning, degrees true from 0 to 360.</summary>
    public static double CourseDeg(GeoPosition from, GeoPosition to)
    {
        var (a, b, along) = (Rad(from.LatitudeDeg), Rad(to.LatitudeDeg), Rad(to.LongitudeDeg - from.LongitudeDeg));
        var course = Math.Atan2(Math.Sin(along) * Math.Cos(b), Math.Cos(a) * Math.Sin(b) - Math.Sin(a) * Math.Cos(b) * Math.Cos(along)) * 180 / Math.PI;
        return (course + 360) % 360;
    }

    /// <summary>The position so far away on that course.</summary>
    public static GeoPosition Towards(GeoPosition from, double courseDeg, double distanceNm)
    {
        var (a, d, c) = (Rad(from.LatitudeDeg), Rad(distanceNm / 60), Rad(courseDeg));
        var b = Math.Asin(Math.Sin(a) * Math.Cos(d) + Math.Cos(a) * Math.Sin(d) * Math.Cos(c));
        var along = Math.Atan2(Math.Sin(c) * Math.Sin(d) * Math.Cos(a), Math.Cos(d) - Math.Sin(a) * Math.Sin(b));
        return new GeoPosition(b * 180 / Math.PI, (from.LongitudeDeg + along * 180 / Math.PI + 540) % 360 - 180);
    }

    private static double Rad(double degrees) => degrees * Math.PI / 180;
}
