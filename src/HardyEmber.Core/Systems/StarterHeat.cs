using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Systems;

/// <summary>What cranking has put into a starter and rest takes out again, as a share of what it bears.</summary>
internal sealed class StarterHeat(StarterDutyDefinition? duty)
{
    public double Share { get; private set; }

    /// <summary>It has let go and refuses until one attempt fits again.</summary>
    public bool Hot { get; private set; }

    /// <summary>Attempts that it bears without a rest.</summary>
    public int Tries => duty is null ? StartAttempts.Most : Hot ? 0 : Math.Min(StartAttempts.Most, (int)((1 - Share) * duty.OnS / duty.AttemptS + 1e-9));

    /// <summary>Rest until the next attempt fits, s.</summary>
    public double RestS => duty is null ? 0 : Math.Max(0, (Share - FitsBelow) * duty.CoolS);

    private double FitsBelow => 1 - duty!.AttemptS / duty.OnS;

    /// <returns>It has become hot, or has cooled.</returns>
    public bool Slow(bool cranks, double dt)
    {
        if (duty is null)
        {
            return false;
        }

        var before = Hot;
        Share = Math.Clamp(Share + (cranks ? dt / duty.OnS : -dt / duty.CoolS), 0, 1);
        Hot = Share >= 1 || Hot && Share > FitsBelow;
        return Hot != before;
    }
}
