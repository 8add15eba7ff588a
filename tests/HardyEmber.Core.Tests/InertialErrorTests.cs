using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>How the position error of an inertial set grows, against a set that is simulated whole, and what it is good for: go now or wait.</summary>
public sealed class InertialErrorTests
{
    private const double Degree = Math.PI / 180;

    /// <summary>A whole set by brute force, attitude, velocity and position over a turning sphere, with one error in it; the linear equations give the same end.</summary>
    [Theory]
    [InlineData(84, 0, 0, "heading")]
    [InlineData(63, 0, 0, "tilt")]
    [InlineData(84, 0, 0, "east drift")]
    [InlineData(168, 0, 0, "heading")]
    [InlineData(168, 0, 0, "north drift")]
    [InlineData(168, 0, 0, "down drift")]
    [InlineData(84, 0, 200, "heading")]
    [InlineData(84, 120, 0, "east drift")]
    [InlineData(168, 0, -100, "north drift")]
    [InlineData(147, 20, 90, "velocity")]
    public void Errors_grow_as_in_a_set_simulated_whole(double minutes, double velocityNorth, double velocityEast, string source)
    {
        var x = new double[InertialErrors.States];
        var drift = new double[3];
        switch (source)
        {
            case "heading": x[InertialErrors.Heading] = 0.1 * Degree; break;
            case "tilt": x[InertialErrors.TiltEast] = 0.003 * Degree; break;
            case "velocity": x[InertialErrors.VelocityEast] = 0.2; break;
            default: drift[source switch { "north drift" => 0, "east drift" => 1, _ => 2 }] = 0.01 * Degree / 3600; break;
        }

        var whole = new WholeSet(48 * Degree, velocityNorth, velocityEast, x, drift).After(minutes * 60);
        var latitude = 48 * Degree;
        const double part = 60;
        for (var t = 0.0; t < minutes * 60; t += part)
        {
            InertialErrors.Advance(x, drift, latitude + velocityNorth * part / 2 / InertialErrors.EarthRadiusM, velocityNorth, velocityEast, part);
            latitude += velocityNorth * part / InertialErrors.EarthRadiusM;
        }

        var size = Math.Sqrt(whole.North * whole.North + whole.East * whole.East);
        Assert.True(size > 50, $"{size} m is nothing to compare");
        var apart = Math.Sqrt(Math.Pow(whole.North - x[InertialErrors.North], 2) + Math.Pow(whole.East - x[InertialErrors.East], 2));
        Assert.True(apart < 0.03 * size, $"{apart:0.0} m apart of {size:0.0} m: {whole} against {x[0]:0.0}, {x[1]:0.0}");
    }

    /// <summary>
    /// The heading part: a leg ends aside by its length times the sine of the heading error, besides what the turning earth makes of that error at rest.
    /// </summary>
    [Theory]
    [InlineData(220, 0)]
    [InlineData(0, 220)]
    public void A_heading_error_sets_the_leg_aside_by_its_sine(double north, double east)
    {
        const double seconds = 1500, heading = 0.2 * Degree;
        double Aside(double n, double e)
        {
            var x = new double[InertialErrors.States];
            x[InertialErrors.Heading] = heading;
            InertialErrors.Accelerate(x, n, e);
            InertialErrors.Advance(x, new double[3], 0.01, n, e, seconds);
            return x[north > 0 ? InertialErrors.East : InertialErrors.North];
        }

        var expected = (north + east) * seconds * Math.Sin(heading);
        Assert.Equal(expected, Math.Abs(Aside(north, east) - Aside(0, 0)), 0.03 * expected);
    }

    /// <summary>Drift and the heading that gyrocompassing made of it cancel while the jet stands: that is what aligned means.</summary>
    [Fact]
    public void An_aligned_set_at_rest_stays_where_it_is()
    {
        var drift = new[] { 0, 0.01 * Degree / 3600, 0 };
        double[] aligned = new double[InertialErrors.States], wrong = new double[InertialErrors.States];
        aligned[InertialErrors.Heading] = drift[1] / (InertialErrors.EarthRate * Math.Cos(61 * Degree));
        InertialErrors.Advance(aligned, drift, 61 * Degree, 0, 0, 1800);
        InertialErrors.Advance(wrong, drift, 61 * Degree, 0, 0, 1800);
        Assert.True(Math.Abs(aligned[0]) < 0.05 * Math.Abs(wrong[0]), $"{aligned[0]} against {wrong[0]}");
    }

    [Theory]
    [InlineData(1, 1, 0, 1.1774)]
    [InlineData(1, 0, 0, 0.6745)]
    [InlineData(0.5, 0.5, 0.5, 0.6745)]
    [InlineData(1, 0.25, 0, 0.8703)] // 0.5:1, published tables of circular error
    [InlineData(0, 0, 0, 0)]
    public void Half_of_all_lie_in_the_circle(double xx, double yy, double xy, double radius) => Assert.Equal(radius, HalfCircle.Radius(xx, yy, xy), 0.004);

    public static TheoryData<string> WithASet => [.. Repository.Fleet.Aircraft.Where(a => a.Inertial is not null).Select(a => a.Id)];

    [Theory]
    [MemberData(nameof(WithASet))]
    public void Waiting_never_hurts_and_the_sentence_agrees_with_the_curve(string aircraft)
    {
        var set = Repository.Fleet.FindAircraft(aircraft).Inertial!;
        foreach (var latitude in new[] { 0.0, 22, 45, 61, 75 })
        {
            var still = GoOrWait.For(set, new Alignment(set, latitude, 15), latitude, set.Leg, null, false);
            Assert.Matches("^(Usable|Best) after ", still.Sentence);
            Assert.True(still.Curve.Count > 4);
            Assert.All(still.Curve.Zip(still.Curve.Skip(1)), p => Assert.True(p.Second.ErrorNm <= p.First.ErrorNm));
            foreach (var point in still.Curve)
            {
                var now = GoOrWait.For(set, new Alignment(set, latitude, 15), latitude, set.Leg, point.AlignedS, false);
                Assert.Equal(point.ErrorNm, now.NowNm, 9);
                Assert.False(now.Sentence.StartsWith("Go now", StringComparison.Ordinal) && point.ErrorNm > still.Curve[^1].ErrorNm * 1.06 + 0.02, $"{latitude}°: {now.Sentence}");
                Assert.False(now.Sentence.StartsWith("Usable now", StringComparison.Ordinal) && point.ErrorNm > set.Leg.MarkNm, $"{latitude}°: {now.Sentence}");
            }
        }
    }

    [Fact]
    public void A_mark_out_of_reach_is_said()
    {
        var set = Repository.Fleet.FindAircraft("juniper").Inertial!;
        var hopeless = GoOrWait.For(set, new Alignment(set, 61.4, -24), 61.4, new LegHeader(600, 80, 0.05), 5, false);
        Assert.Contains("out of reach", hopeless.Sentence, StringComparison.Ordinal);
        Assert.True(GoOrWait.For(set, new Alignment(set, 61.4, -24), 61.4, set.Leg, 20_000, false).Curve.Count <= 121);
        Assert.StartsWith("Taken after 4:00", GoOrWait.For(set, new Alignment(set, 61.4, 15), 61.4, set.Leg, 240, true).Sentence, StringComparison.Ordinal);
    }

    /// <summary>The circle is true: of many sets that are drawn, half stand within it when they have navigated, and half of their legs end in it.</summary>
    [Fact]
    public void Half_of_the_runs_end_within_the_circle()
    {
        var (within, flownWithin) = (0, 0);
        for (var seed = 0; seed < 40; seed++)
        {
            var bench = Bench.WithRightRunning(Situations.Calm with { Seed = seed }).Set("start-position", "spot").Set("inertial", "field");
            bench.Until("ins.good", 400);
            bench.Set("inertial", "navigate").Run(1);
            var flown = LegFlown.Of(bench.Machine)!;
            flownWithin += flown.CameNm <= flown.Asked.NowNm ? 1 : 0;
            bench.Run(900);
            within += bench["ins.position-error"] <= Standing(bench["ins.aligned"]) ? 1 : 0;
        }

        Assert.InRange(within, 12, 28); // 20 of 40; 2.5 deviations
        Assert.InRange(flownWithin, 12, 30); // the worst of four courses is asked for, one is flown
    }

    /// <summary>Flown on at no speed, the errors are those that the machine itself comes to.</summary>
    [Fact]
    public void What_is_said_to_come_is_what_comes()
    {
        const double minutes = 20;
        var bench = Bench.WithRightRunning(Situations.Calm with { Seed = 11, Leg = new LegHeader(1e-6, minutes, 1) }).Set("start-position", "spot").Set("inertial", "field");
        bench.Run(150);
        Assert.Null(LegFlown.Of(bench.Machine));
        bench.Set("inertial", "navigate").Run(200);
        var said = LegFlown.Of(bench.Machine)!;
        bench.Run(minutes * 60);
        Assert.True(said.CameNm > 0.1, $"{said.CameNm} NM is nothing to compare");
        Assert.Equal(bench["ins.position-error"], said.CameNm, 0.02 * said.CameNm + 0.01);
    }

    private static InertialDefinition Juniper => Repository.Fleet.FindAircraft("juniper").Inertial!;
    private static double Skerrow => Repository.Fleet.FindPlace("skerrow-main").LatitudeDeg;

    private static double Standing(double alignedS) =>
        GoOrWait.For(Juniper, new Alignment(Juniper, Skerrow, 15), Skerrow, new LegHeader(1e-6, 15, 1), alignedS, true).NowNm;

    /// <summary>
    /// Two strapdown sets side by side over the same true motion, one of them with an error: what differs is what the error does. Attitude as a matrix,
    /// velocity and position by the navigation equations on a turning sphere, nothing linear in it.
    /// </summary>
    private sealed class WholeSet(double latitude, double vN, double vE, double[] error, double[] drift)
    {
        private const double StepS = 0.25;

        public (double North, double East) After(double seconds)
        {
            var (good, bad) = (Fly(seconds, false), Fly(seconds, true));
            return ((bad.Latitude - good.Latitude) * InertialErrors.EarthRadiusM, (bad.Longitude - good.Longitude) * Math.Cos(good.Latitude) * InertialErrors.EarthRadiusM);
        }

        // The sensors are those of a set whose true axes stay north, east, down: what they feel is known, what the set makes of it is computed.
        private (double Latitude, double Longitude) Fly(double seconds, bool wrong)
        {
            double[] e = wrong ? error : new double[InertialErrors.States];
            var c = Small(-e[4], -e[5], -e[6]);
            double[] v = [vN + e[2], vE + e[3]];
            var (lat, lon, trueLat) = (latitude, 0.0, latitude);
            for (var i = 0; i < (int)(seconds / StepS); i++)
            {
                var half = trueLat + vN / InertialErrors.EarthRadiusM * StepS / 2;
                double[] gyro = Add(Rate(half, vN, vE), wrong ? drift : [0, 0, 0]);
                double[] force = Force(half, vN, vE);
                var (lat0, v0) = (lat, (double[])v.Clone());
                // Midpoint rule: first half a step, then a whole one with what was found there.
                var (cm, vm, latm) = Move(c, v0, lat0, c, v0, lat0, gyro, force, StepS / 2);
                var (cn, vn, latn) = Move(c, v0, lat0, cm, vm, latm, gyro, force, StepS);
                lon += vm[1] / (InertialErrors.EarthRadiusM * Math.Cos(latm)) * StepS;
                (c, v, lat) = (cn, vn, latn);
                trueLat += vN / InertialErrors.EarthRadiusM * StepS;
            }

            return (lat, lon);
        }

        private static (double[,] C, double[] V, double Lat) Move(double[,] c0, double[] v0, double lat0, double[,] c, double[] v, double lat, double[] gyro, double[] force,
            double dt)
        {
            var f = Turn(c, force);
            var coriolis = Force(lat, v[0], v[1]);
            double[] vn = [v0[0] + (f[0] - coriolis[0]) * dt, v0[1] + (f[1] - coriolis[1]) * dt];
            var nav = Rate(lat, v[0], v[1]);
            var body = Small(gyro[0] * dt, gyro[1] * dt, gyro[2] * dt);
            var axes = Small(-nav[0] * dt, -nav[1] * dt, -nav[2] * dt);
            return (Times(axes, Times(c0, body)), vn, lat0 + v[0] / InertialErrors.EarthRadiusM * dt);
        }

        // Turning rate of the local axes against the stars.
        private static double[] Rate(double lat, double n, double e) =>
        [
            InertialErrors.EarthRate * Math.Cos(lat) + e / InertialErrors.EarthRadiusM, -n / InertialErrors.EarthRadiusM,
            -InertialErrors.EarthRate * Math.Sin(lat) - e * Math.Tan(lat) / InertialErrors.EarthRadiusM,
        ];

        // What accelerometers feel at a constant ground velocity.
        private static double[] Force(double lat, double n, double e)
        {
            var (wN, wD) = (2 * InertialErrors.EarthRate * Math.Cos(lat) + e / InertialErrors.EarthRadiusM,
                -2 * InertialErrors.EarthRate * Math.Sin(lat) - e * Math.Tan(lat) / InertialErrors.EarthRadiusM);
            var wE = -n / InertialErrors.EarthRadiusM;
            return [-wD * e, wD * n, -InertialErrors.Gravity + wN * e - wE * n];
        }

        private static double[] Add(double[] a, double[] b) => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

        private static double[] Turn(double[,] c, double[] x) =>
            [.. Enumerable.Range(0, 3).Select(i => c[i, 0] * x[0] + c[i, 1] * x[1] + c[i, 2] * x[2])];

        private static double[,] Times(double[,] a, double[,] b)
        {
            var c = new double[3, 3];
            for (var i = 0; i < 3; i++)
            {
                for (var j = 0; j < 3; j++)
                {
                    c[i, j] = a[i, 0] * b[0, j] + a[i, 1] * b[1, j] + a[i, 2] * b[2, j];
                }
            }

            return c;
        }

        // Rotation by a small vector, to the third order.
        private static double[,] Small(double x, double y, double z)
        {
            var k = new[,] { { 0, -z, y }, { z, 0, -x }, { -y, x, 0 } };
            var (k2, k3) = (Times(k, k), Times(k, Times(k, k)));
            var c = new double[3, 3];
            for (var i = 0; i < 3; i++)
            {
                for (var j = 0; j < 3; j++)
                {
                    c[i, j] = (i == j ? 1 : 0) + k[i, j] + k2[i, j] / 2 + k3[i, j] / 6;
                }
            }

            return c;
        }
    }
}
