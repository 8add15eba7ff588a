using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>Counts the seconds in which hands did nothing while a useful step was open: the wait that nobody had to wait.</summary>
public sealed class IdleHands(Machine machine, ProcedureTracker tracker)
{
    /// <summary>So long everybody may read and think, s.</summary>
    public const double ThinkS = 8;

    /// <summary>Together so much is worth a word, s.</summary>
    private const double WorthS = 45;

    private const double LookEveryS = 1;
    private double _lastHandsT, _nextT, _totalS, _longestS, _longestFrom, _openS;
    private long _hands = -1;
    private string _openCue = "", _longestCue = "";

    public void Look(double t)
    {
        if (machine.Hands != _hands)
        {
            (_hands, _lastHandsT, _openS) = (machine.Hands, t, 0);
        }

        if (t < _nextT)
        {
            return;
        }

        var dt = t - (_nextT - LookEveryS);
        _nextT = t + LookEveryS;
        if (t - _lastHandsT <= ThinkS || tracker.Next() is not { Kind: CueKind.Act, Step: { } step })
        {
            return;
        }

        _totalS += Math.Min(dt, LookEveryS);
        _openS += Math.Min(dt, LookEveryS);
        _openCue = _openS <= LookEveryS ? step.Definition.Cue : _openCue;
        if (_openS > _longestS)
        {
            (_longestS, _longestFrom, _longestCue) = (_openS, t - _openS, _openCue);
        }
    }

    public Finding? Conclude() => _totalS < WorthS ? null : new Finding("needless-wait", Severity.Note, _longestFrom, _longestFrom + _longestS,
        $"Hands were idle for {_totalS:0} s in all while a step was open; longest {_longestS:0} s before “{_longestCue}”.",
        "The jet is ready later than it could be.", "Use the waits: what is open fits into what runs.", new Evidence("hands", Math.Round(_totalS), WorthS, "s"));
}
