namespace HardyEmber.Core.Runs;

/// <summary>One method of restart flown ahead on the whole machine by a steady pilot who follows the guide, until the core idles or there is nothing left to try.</summary>
/// <param name="FromFt">Height at its beginning.</param>
/// <param name="EndFt">Height at idle, or where it was given up.</param>
/// <param name="AboveFt">The same above the decision height.</param>
/// <param name="LitFt">Height at the light; null where it never lit.</param>
/// <param name="BurntS">From the light to the end.</param>
/// <param name="Runs">It came to idle.</param>
/// <param name="AttemptsLeft">Start attempts that battery, bottle or unit had left at the end.</param>
internal sealed record MethodFlight(double FromFt, double EndFt, double AboveFt, double Seconds, double? LitFt, double BurntS, bool Runs, int AttemptsLeft)
{
    private const double LongestS = 900, SparksS = 12;

    /// <summary>It came to idle above the decision height.</summary>
    public bool Works => Runs && AboveFt > 0;

    /// <summary>Why it fails; null where it does not.</summary>
    public string? Why => Works ? null : Runs ? "it comes to idle below the decision height" : LitFt is null ? "it does not light above the decision height"
        : "it lights and does not reach idle above it";

    /// <summary>Attempts that fit above the decision height, this one counted.</summary>
    /// <param name="betweenS">Between two of them the core is blown dry so long.</param>
    public int Tries(double betweenS) => !Works ? 0 : 1 + (int)Math.Floor(AboveFt / Math.Max(1, (LitFt!.Value - EndFt) * (1 + betweenS / Math.Max(1, BurntS))));

    /// <summary>Flies it from the moment just before <paramref name="step"/> of a run.</summary>
    /// <param name="method">The school's answer; null where the procedure knows one method only.</param>
    /// <param name="handsOff">Nobody does anything: what has just gone out is left to its spark for as long as that may take.</param>
    /// <param name="dead">The engine that it is about, and the speed at which it counts as running, % N2.</param>
    /// <param name="belowFt">It is given up so far below the decision height.</param>
    public static MethodFlight By(Fleet fleet, RunLog now, long step, string? method, string dead, double idle, bool handsOff = false, double belowFt = 3000)
    {
        var school = method is null ? now.Header.School : new Dictionary<string, string>(now.Header.School) { [RelightOutlook.Question] = method };
        var rehearsal = Rehearsal.Replay(fleet, now with { Header = now.Header with { School = school } }, step);
        var m = rehearsal.Machine;
        var (fromFt, fromS) = (m["flight.height"], m.Time);
        var (lit, litS) = ((double?)null, 0.0);
        bool Runs() => m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= idle;
        bool Enough()
        {
            if (lit is null && m[$"{dead}.lit"] > 0.5)
            {
                (lit, litS) = (m["flight.height"], m.Time);
            }

            return Runs() || m.Time > fromS + (lit is null && handsOff ? SparksS : LongestS) || m["flight.above-decision"] < -belowFt || m["flight.airborne"] < 0.5;
        }

        if (handsOff)
        {
            while (!Enough())
            {
                rehearsal.Step();
            }
        }
        else
        {
            _ = new ScriptedPilot(rehearsal).FlyUntil(Enough);
        }

        return new MethodFlight(fromFt, m["flight.height"], m["flight.above-decision"], m.Time - fromS, lit, m.Time - litS, Runs(), (int)m["start.attempts"]);
    }
}
