using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The helmet sight as a task of hand and eye: what the dials do, what saving takes, what it loses.</summary>
public sealed class HelmetSightTests
{
    private const double Nothing = 9999;

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Where(a => a.Sight is not null).Select(a => a.Id)];

    /// <summary>A jet flown by the guide until its sight is warm and shows its mark.</summary>
    private static (HandFlown Jet, SightDefinition Sight) AtTheMark(string type, long seed = 24)
    {
        var jet = new HandFlown(Situations.Calm with { Aircraft = type, Seed = seed }).Until(c => c["sight.azimuth"] < Nothing);
        return (jet, jet.Machine.Aircraft.Sight!);
    }

    private static void Align(HandFlown m, SightDefinition s)
    {
        m.Set(s.Control, s.Turn);
        m.Dial(s.Azimuth, m["sight.azimuth-due"]);
        m.Dial(s.Elevation, m["sight.elevation-due"]);
        m.Dial(s.Roll, m["sight.roll-due"]);
    }

    // What is shown is of the last tick; a hand that turns a dial by nothing sees it as it is now.
    private static double Seen(HandFlown m, SightDefinition s, string signal)
    {
        m.Dial(s.Azimuth, m[s.Azimuth]);
        return m[signal];
    }

    /// <summary>Holds the key; gives what was seen meanwhile, at each tick.</summary>
    private static List<(double X, double Y, double Roll)> Save(HandFlown m, SightDefinition s, double seconds)
    {
        m.Hold(s.Save, s.Saving);
        var seen = new List<(double, double, double)>();
        for (var end = m.Machine.Time + seconds; m.Machine.Time < end - 1e-9; m.Run(0.2))
        {
            seen.Add((Seen(m, s, "sight.azimuth"), Seen(m, s, "sight.elevation"), Seen(m, s, "sight.roll")));
        }

        seen.Add((Seen(m, s, "sight.azimuth"), Seen(m, s, "sight.elevation"), Seen(m, s, "sight.roll")));
        m.Release(s.Save);
        return seen;
    }

    [Fact]
    public void Three_types_have_one() => Assert.Equal(["alder", "bramble", "juniper"], Repository.Fleet.Aircraft.Where(a => a.Sight is not null).Select(a => a.Id).Order());

    [Theory]
    [MemberData(nameof(Types))]
    public void A_dial_moves_the_cross_by_what_it_is_turned(string type)
    {
        var (m, s) = AtTheMark(type);
        Assert.Equal(Nothing, m["sight.roll"]); // upright or not is not seen yet
        foreach (var (dial, signal) in new[] { (s.Azimuth, "sight.azimuth"), (s.Elevation, "sight.elevation") })
        {
            var before = Seen(m, s, signal);
            m.Dial(dial, m[dial] + 4.5);
            Assert.Equal(before + 4.5, m[signal], 6);
        }

        m.Set(s.Control, s.Turn);
        var turned = Seen(m, s, "sight.roll");
        m.Dial(s.Roll, m[s.Roll] - 3);
        Assert.Equal(turned - 3, m["sight.roll"], 6);
    }

    /// <summary>What is saved is the mean of what was seen in the last seconds of the hold, a turn counted for a look 30° off the nose.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void What_is_saved_is_the_mean_of_what_was_seen(string type)
    {
        foreach (var seed in Enumerable.Range(1, 8))
        {
            var (m, s) = AtTheMark(type, seed);
            m.Set(s.Control, s.Turn);
            m.Dial(s.Azimuth, m["sight.azimuth-due"] + 3);
            m.Dial(s.Roll, m["sight.roll-due"] - 6);
            while (m.Machine.StepIndex % Steps.PerTick != 0)
            {
                m.Rehearsal.Step();
            }

            var seen = Save(m, s, s.HoldS + 0.2 * seed).TakeLast((int)Math.Round(s.HoldS / 0.2) + 1).ToList();
            Assert.Equal(1, m["sight.saved"]);
            // The trapezoid of ten intervals against the mean in closed form.
            double Mean(Func<(double X, double Y, double Roll), double> of) => (seen.Sum(of) - 0.5 * (of(seen[0]) + of(seen[^1]))) / (seen.Count - 1);
            var (x, y, roll) = (Mean(p => p.X), Mean(p => p.Y), Mean(p => p.Roll) * 0.5);
            Assert.Equal(Math.Sqrt(x * x + y * y + roll * roll), m["sight.residual"], 0.1);
        }
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Let_go_in_the_last_tenth_nothing_is_saved_and_turning_meanwhile_begins_anew(string type)
    {
        var (m, s) = AtTheMark(type);
        Align(m, s);
        _ = Save(m, s, s.HoldS - 0.2);
        Assert.Equal((0, Nothing, 0), (m["sight.saved"], m["sight.residual"], m["sight.held"]));

        m.Hold(s.Save, s.Saving);
        m.Run(s.HoldS - 0.4);
        m.Dial(s.Azimuth, m[s.Azimuth] + 0.5);
        m.Run(s.HoldS - 0.4);
        Assert.Equal(0, m["sight.saved"]);
        m.Run(0.8);
        Assert.Equal(1, m["sight.saved"]);
    }

    /// <summary>Who holds on gets there, on every head: no bad moment is kept for good.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void Holding_on_comes_within_the_mark_on_every_head(string type)
    {
        foreach (var seed in Enumerable.Range(1, 40))
        {
            var (m, s) = AtTheMark(type, seed);
            Align(m, s);
            m.Hold(s.Save, s.Saving);
            var end = m.Machine.Time + 10;
            while (m["sight.residual"] > s.MarkMrad)
            {
                Assert.True(m.Machine.Time < end, $"{type} {seed}: {m["sight.residual"]} mrad after ten seconds");
                m.Rehearsal.Step();
            }
        }
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Without_power_what_was_saved_is_gone(string type)
    {
        var (m, s) = AtTheMark(type);
        Align(m, s);
        _ = Save(m, s, s.HoldS + 0.4);
        Assert.Equal(1, m["sight.saved"]);
        m.Set(s.Control, "off");
        m.Run(1);
        Assert.Equal((0, Nothing, Nothing), (m["sight.saved"], m["sight.residual"], m["sight.azimuth"]));
        m.Set(s.Control, s.Place);
        m.Run(12);
        Assert.Equal(0, m["sight.saved"]);
        Assert.NotEqual(Nothing, m["sight.azimuth"]);
    }

    /// <summary>Neither a press of a key nor a wild guess: a hand that takes what it sees at one moment for the place of the cross saves within the mark now and then
    /// only.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void The_sway_makes_it_a_task_and_the_guide_can_do_it(string type)
    {
        var (hasty, guided) = (0, 0);
        const int Tries = 40;
        foreach (var seed in Enumerable.Range(1, Tries))
        {
            var (m, s) = AtTheMark(type, seed);
            m.Set(s.Control, s.Turn);
            foreach (var (dial, signal) in new[] { (s.Azimuth, "sight.azimuth"), (s.Elevation, "sight.elevation"), (s.Roll, "sight.roll") })
            {
                m.Dial(dial, Math.Clamp(Math.Round((m[dial] - m[signal]) * 2) / 2, -30, 30));
            }

            m.Run(3);
            _ = Save(m, s, s.HoldS + 0.4);
            hasty += m["sight.residual"] <= s.MarkMrad ? 1 : 0;
            Align(m, s);
            m.Run(1);
            _ = Save(m, s, s.HoldS + 0.4);
            guided += m["sight.residual"] <= s.MarkMrad ? 1 : 0;
        }

        Assert.InRange(hasty, Tries / 10, Tries * 2 / 3);
        Assert.InRange(guided, Tries * 3 / 4, Tries);
        Assert.True(guided > hasty);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Saved_far_off_is_found_at_the_end(string type)
    {
        var (m, s) = AtTheMark(type);
        m.Dial(s.Azimuth, m["sight.azimuth-due"] > 0 ? -10 : 10).Hold(s.Save, s.Saving, 3);
        var found = Assert.Single(m.Report.Findings, f => f.Code == "sight-off");
        Assert.Contains("mrad off", found.What, StringComparison.Ordinal);
    }

    /// <summary>However far off it was saved by hand, and wherever its switch was left, the guide does it over.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void Saved_far_off_the_guide_does_it_over(string type)
    {
        foreach (var left in new[] { true, false })
        {
            var (m, s) = AtTheMark(type);
            m.Set(s.Control, s.Turn).Dial(s.Azimuth, 20).Dial(s.Roll, -20).Hold(s.Save, s.Saving, 3);
            Assert.InRange(m["sight.residual"], 5, 60);
            _ = left ? m.Set(s.Control, "on") : m;
            Assert.DoesNotContain(m.GoOn().Findings, f => f.Code == "sight-off");
            Assert.InRange(m["sight.residual"], 0, s.MarkMrad);
        }
    }
}
