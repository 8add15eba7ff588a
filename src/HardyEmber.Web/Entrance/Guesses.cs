namespace HardyEmber.Web.Entrance;

/// <summary>
/// How often a token may be tried, by all together: many connections must not make many guesses. After a few wrong ones each makes the next wait twice as
/// long; what comes sooner is not looked at. Who is in already is not held up.
/// </summary>
public sealed class Guesses(TimeProvider time)
{
    private const int Free = 3;
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(60), Forgotten = TimeSpan.FromMinutes(30);
    private readonly Lock _gate = new();
    private DateTimeOffset _next = DateTimeOffset.MinValue, _last = DateTimeOffset.MinValue;

    /// <summary>Wrong ones in a row.</summary>
    public int Wrong { get; private set; }

    /// <summary>The wait after so many wrong ones in a row.</summary>
    public static TimeSpan WaitAfter(int wrong) =>
        wrong < Free ? TimeSpan.Zero : TimeSpan.FromSeconds(Math.Min(LongestWait.TotalSeconds, Math.Pow(2, Math.Min(wrong - Free, 16))));

    /// <summary>Looks at a guess, if its time has come.</summary>
    /// <param name="isRight">Compares it; called one at a time.</param>
    /// <returns>Whether it is right, or how long to wait before it is looked at.</returns>
    public (bool Right, TimeSpan Wait) Try(Func<bool> isRight)
    {
        lock (_gate)
        {
            var now = time.GetUtcNow();
            if (now < _next)
            {
                return (false, _next - now);
            }

            Wrong = now - _last > Forgotten ? 0 : Wrong;
            if (isRight())
            {
                Wrong = 0;
                return (true, TimeSpan.Zero);
            }

            (Wrong, _last) = (Wrong + 1, now);
            _next = now + WaitAfter(Wrong);
            return (false, TimeSpan.Zero);
        }
    }
}
