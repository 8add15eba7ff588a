using HardyEmber.Core.Judging;

namespace HardyEmber.Core.Runs;

/// <summary>What is kept of a run when it ends: later versions of data or program do not judge it again.</summary>
public sealed record RunOutcome(RunSummary Summary, Judgement Judgement)
{
    public static RunOutcome Of(Rehearsal rehearsal)
    {
        ArgumentNullException.ThrowIfNull(rehearsal);
        var judgement = rehearsal.Conclude();
        return new RunOutcome(RunSummary.Of(rehearsal, judgement), judgement);
    }
}
