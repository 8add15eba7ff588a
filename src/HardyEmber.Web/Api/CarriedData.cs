using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Web.Work;

namespace HardyEmber.Web.Api;

/// <summary>A run with data of its own cannot be taken; nothing was kept of it.</summary>
internal sealed class CarriedDataException(string message) : Exception(message);

/// <summary>
/// Data that a run's file carries may be anything. Before they are kept they are read within a limit, and the run is flown with them within
/// another; a machine that is too slow for a live run, or whose values stop being numbers, is refused.
/// </summary>
internal static class CarriedData
{
    // Sound data take a tenth of a second to read, a run of six hours half a second to fly.
    private static readonly TimeSpan MostReading = TimeSpan.FromSeconds(0.8), MostFlying = TimeSpan.FromSeconds(0.8);

    // A step of our own aircraft takes one or two; a debrief of six hours has a million of them.
    private const double MostStepMicroseconds = 10;
    private const int Trials = 4, TrialSteps = 1000, LookEverySteps = 500;

    /// <summary>The run flown with the data that it carries.</summary>
    /// <exception cref="CarriedDataException">They take too long, or fail.</exception>
    /// <exception cref="Core.Definitions.DataFaultException">They are unsound.</exception>
    /// <exception cref="RunFileException">The run does not fit them.</exception>
    public static Rehearsal Fly(RunLog run, DataVersion data, CancellationToken gone)
    {
        try
        {
            var fleet = Within(MostReading, "reading them", data.Load, gone);
            return Within(MostFlying, "flying it", cancel =>
            {
                Try(new Rehearsal(fleet, run.Header));
                var flown = Rehearsal.Replay(fleet, run, sample: m => ThrowUnlessNumbers(m, LookEverySteps), cancel: cancel);
                ThrowUnlessNumbers(flown.Machine, 1);
                return flown;
            }, gone);
        }
#pragma warning disable CA1031 // such data may break what nobody has thought of; that is a refusal, and no error of the server
        catch (Exception e) when (e is InvalidOperationException or ArgumentException or IndexOutOfRangeException or NullReferenceException or ArithmeticException
            or KeyNotFoundException or InvalidCastException or System.Text.Json.JsonException)
#pragma warning restore CA1031
        {
            throw new CarriedDataException($"no aircraft can be made of them ({e.GetType().Name})");
        }
    }

    private static T Within<T>(TimeSpan most, string what, Func<CancellationToken, T> work, CancellationToken gone)
    {
        using var limit = new WorkLimit(most, gone);
        try
        {
            return work(limit.Token);
        }
        catch (OperationCanceledException) when (limit.Exceeded)
        {
            throw new CarriedDataException(FormattableString.Invariant($"{what} takes more than {most.TotalSeconds} s of a processor"));
        }
    }

    // The quickest of some trials: the first steps compile what they run.
    private static void Try(Rehearsal trial)
    {
        var quickest = double.MaxValue;
        for (var i = 0; i < Trials; i++)
        {
            var before = ThreadTime.Now;
            trial.AdvanceTo(trial.Machine.StepIndex + TrialSteps);
            quickest = Math.Min(quickest, (ThreadTime.Now - before).TotalMicroseconds / TrialSteps);
        }

        if (quickest > MostStepMicroseconds)
        {
            throw new CarriedDataException(FormattableString.Invariant($"a step takes {quickest:0} microseconds; {MostStepMicroseconds:0} can be borne"));
        }
    }

    private static void ThrowUnlessNumbers(Machine machine, int every)
    {
        if (machine.StepIndex % every == 0 && machine.NoNumber() is { } signal)
        {
            throw new CarriedDataException(FormattableString.Invariant($"with them {signal} is no number at {machine.Time:0.0} s"));
        }
    }
}
