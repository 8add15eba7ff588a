using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What is left of the position if the set is put to navigate at a moment.</summary>
/// <param name="AlignedS">Seconds since the alignment began.</param>
/// <param name="ErrorNm">Half of all legs end within so much.</param>
public sealed record GoPoint(double AlignedS, double ErrorNm);

/// <summary>
/// Go now or wait: the position error at the end of the planned leg against the moment at which navigate is selected. The errors are carried through
/// a take-off and the leg at a constant speed, by <see cref="InertialErrors"/>, each source by itself; of the four quarters of the compass
/// the worst course counts. What this very set has for errors nobody knows and is not used.
/// </summary>
/// <param name="Leg">The leg and what it can bear.</param>
/// <param name="EarliestS">Seconds after the beginning from which navigate can be selected.</param>
/// <param name="NowS">Seconds since the alignment began; null where none runs.</param>
/// <param name="NowNm">The error with the alignment as it is, at the earliest that is possible.</param>
/// <param name="Taken">Navigate has been selected.</param>
/// <param name="Curve">A point each half minute from the earliest on, for an hour at most.</param>
/// <param name="Sentence">What to do.</param>
public sealed record GoOrWait(LegHeader Leg, double EarliestS, double? NowS, double NowNm, bool Taken, IReadOnlyList<GoPoint> Curve, string Sentence)
{
    private const double EveryS = 30, BeyondGoodS = 120, MostS = 3600;

    // So near to what endless waiting would give, nothing is gained any more.
    private const double NothingNm = 0.02, NothingShare = 0.05;

    /// <summary>The question to a machine as it stands.</summary>
    /// <exception cref="ArgumentException">The aircraft has no inertial set.</exception>
    public static GoOrWait For(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var set = machine.Aircraft.Inertial ?? throw new ArgumentException("this aircraft has no inertial set");
        var aligned = machine[InertialSet.AlignedFor];
        var alignment = new Alignment(set, machine.Place.LatitudeDeg, Soak.Of(machine.Header).SetC, (AlignmentMode)(int)machine[InertialSet.AlignedBy]);
        var answer = For(set, alignment, machine.Place.LatitudeDeg, machine.Header.Leg ?? set.Leg, aligned > 0 ? aligned : null, machine["ins.navigating"] > 0);
        return machine["ins.aided"] > 0 ? answer with { Sentence = $"Satellites hold it while they last. Without them: {answer.Sentence}" } : answer;
    }

    /// <summary>The same for a set at a place.</summary>
    /// <param name="alignment">How it aligns there.</param>
    /// <param name="alignedS">Seconds since the alignment began; null where none runs.</param>
    public static GoOrWait For(InertialDefinition set, Alignment alignment, double latitudeDeg, LegHeader leg, double? alignedS, bool taken)
    {
        ArgumentNullException.ThrowIfNull(set);
        ArgumentNullException.ThrowIfNull(alignment);
        ArgumentNullException.ThrowIfNull(leg);
        var flown = new Flown(set, alignment, latitudeDeg, leg);
        var earliest = alignment.HeadingFromS;
        var goodAt = double.IsFinite(alignment.GoodAtS) ? alignment.GoodAtS : earliest;
        var last = EveryS * Math.Ceiling(Math.Min(Math.Max(goodAt + BeyondGoodS, alignedS ?? 0) - earliest, MostS) / EveryS);
        var curve = new List<GoPoint>();
        for (var t = 0.0; t <= last; t += EveryS)
        {
            curve.Add(new GoPoint(earliest + t, flown.ErrorNm(earliest + t)));
        }

        var now = Math.Max(alignedS ?? 0, earliest);
        var best = flown.BestNm;
        var enough = flown.When(leg.MarkNm, earliest);
        var settled = flown.When(best + Math.Max(NothingNm, NothingShare * best), earliest)!.Value;
        return new GoOrWait(leg, earliest, alignedS, flown.ErrorNm(now), taken, curve, Say(flown, leg, alignedS, now, taken, enough, settled));
    }

    private static string Say(Flown flown, LegHeader leg, double? alignedS, double now, bool taken, double? enough, double settled)
    {
        var mark = Nm(leg.MarkNm);
        var atBest = Nm(flown.ErrorNm(settled));
        if (taken)
        {
            return $"Taken after {Up(now)}: {Nm(flown.ErrorNm(now))} at the end of the leg{(flown.ErrorNm(now) > leg.MarkNm ? $", more than the {mark} it can bear" : "")}.";
        }

        if (alignedS is not { } aligned)
        {
            return enough is not { } from ? $"Best after {Up(settled)}: {atBest}. The leg needs {mark}: out of reach."
                : settled > from + 1 ? $"Usable after {Up(from)}: {Nm(flown.ErrorNm(from))}. Best after {Up(settled)}: {atBest}."
                : $"Usable after {Up(from)}, and best: {Nm(flown.ErrorNm(from))}.";
        }

        if (enough is { } good && good > aligned)
        {
            return settled > good + 1
                ? $"Go in {Up(good - aligned)}: {Nm(flown.ErrorNm(good))}, as the leg needs. Best in {Up(settled - aligned)}: {atBest}."
                : $"Go in {Up(good - aligned)}: {Nm(flown.ErrorNm(good))}, the best it gives.";
        }

        if (settled > aligned)
        {
            return enough is null
                ? $"Go in {Up(settled - aligned)}: {atBest}, the best it gives. The leg needs {mark}: out of reach."
                : $"Usable now: {Nm(flown.ErrorNm(now))}. Best in {Up(settled - aligned)}: {atBest}.";
        }

        return $"Go now: {Nm(flown.ErrorNm(now))}, the best it gives.{(enough is null ? $" The leg needs {mark}: out of reach." : "")}";
    }

    // A moment is told when it has surely come.
    private static string Up(double seconds) => Clock.Span(Math.Ceiling(seconds));

    private static string Nm(double value) => string.Create(CultureInfo.InvariantCulture, $"{value:0.0#} NM");

    /// <summary>What a position error comes of, each alone.</summary>
    private enum Source { Heading, DriftNorth, DriftEast, DriftDown, PlaceNorth, PlaceEast }

    /// <summary>The leg flown with each source of error alone: the end of it is linear in all of them.</summary>
    private sealed class Flown
    {
        private const double UnitRad = 1e-3;
        private static readonly Source[] Sources = Enum.GetValues<Source>();
        private const double LongestS = 3 * 3600, NearS = 0.5;
        private readonly Alignment _alignment;
        private readonly (double N, double E)[,] _ends = new (double N, double E)[4, Sources.Length];

        public Flown(InertialDefinition set, Alignment alignment, double latitudeDeg, LegHeader leg)
        {
            _alignment = alignment;
            var one = InertialDraw.DriftOf(set);
            var latitude = latitudeDeg * Math.PI / 180;
            var seconds = leg.Minutes * 60;
            var speed = leg.LengthNm * InertialErrors.MetresPerNauticalMile / seconds;
            Span<double> x = stackalloc double[InertialErrors.States], drift = stackalloc double[3];
            for (var course = 0; course < 4; course++)
            {
                var (north, east) = course switch { 0 => (speed, 0.0), 1 => (0.0, speed), 2 => (-speed, 0.0), _ => (0.0, -speed) };
                foreach (var source in Sources)
                {
                    x.Clear();
                    drift.Clear();
                    switch (source)
                    {
                        case Source.Heading:
                            x[InertialErrors.Heading] = UnitRad;
                            break;
                        case Source.PlaceNorth or Source.PlaceEast:
                            x[source == Source.PlaceNorth ? InertialErrors.North : InertialErrors.East] = InertialDraw.PlaceM;
                            break;
                        default:
                            drift[source - Source.DriftNorth] = one;
                            x[InertialErrors.Heading] = source == Source.DriftEast ? one / (InertialErrors.EarthRate * Math.Cos(latitude)) : 0;
                            break;
                    }

                    InertialErrors.Accelerate(x, north, east);
                    InertialErrors.Advance(x, drift, latitude, north, east, seconds);
                    _ends[course, (int)source] = (x[InertialErrors.North], x[InertialErrors.East]);
                }
            }
        }

        /// <summary>What endless waiting would give.</summary>
        public double BestNm => WithHeading(_alignment.Settling(_alignment.FloorDeg));

        public double ErrorNm(double alignedS) => WithHeading(_alignment.Settling(_alignment.HeadingDeg(alignedS)));

        /// <summary>When an error is reached, seconds after the beginning, or null.</summary>
        public double? When(double errorNm, double earliest)
        {
            if (ErrorNm(earliest) <= errorNm)
            {
                return earliest;
            }

            if (BestNm >= errorNm)
            {
                return null;
            }

            var (low, high) = (earliest, earliest + LongestS);
            while (high - low > NearS)
            {
                var middle = (low + high) / 2;
                (low, high) = ErrorNm(middle) > errorNm ? (middle, high) : (low, middle);
            }

            return high;
        }

        private double WithHeading(double settling)
        {
            var worst = 0.0;
            for (var course = 0; course < 4; course++)
            {
                var (nn, ee, ne) = (0.0, 0.0, 0.0);
                foreach (var source in Sources)
                {
                    var (n, e) = _ends[course, (int)source];
                    var by = source == Source.Heading ? settling / UnitRad : 1;
                    nn += by * by * n * n;
                    ee += by * by * e * e;
                    ne += by * by * n * e;
                }

                worst = Math.Max(worst, HalfCircle.Radius(nn, ee, ne));
            }

            return worst / InertialErrors.MetresPerNauticalMile;
        }
    }
}
