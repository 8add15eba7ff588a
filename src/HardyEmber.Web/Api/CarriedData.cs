using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Web.Work;

namespace HardyEmber.Web.Api;

/// <summary>A run with data of its own cannot be taken; nothing was kept of it.</summary>
public sealed class CarriedDataException(string message) : Exception(message);

/// <summary>What a run with data of its own may cost.</summary>
/// <param name="Reading">Processor time for reading them; sound ones take a tenth of a second.</param>
/// <param name="Flying">Processor time for flying the run with them; six hours of our own aircraft take half a second.</param>
/// <param name="StepMicroseconds">Processor time of a step; of ours one or two. A debrief of six hours has a million of them.</param>
public sealed record CarriedLimits(TimeSpan Reading, TimeSpan Flying, double StepMicroseconds)
{
    public static CarriedLimits Usual { get; } = new(TimeSpan.FromSeconds(0.8), TimeSpan.FromSeconds(0.8), 15);
}

/// <summary>
/// Data that a run's file carries may be anything. Before they are kept they are read within a limit, and the run is flown with them within
/// another; a machine that is too slow for a live run, or whose values stop being numbers, is refused.
/// </summary>
public static class CarriedData
{
    private const int Trials = 4, TrialSteps = 1000, LookEverySteps = 500;

    /// <summary>The run flown with the data that it carries.</summary>
    /// <param name="gone">The request was cancelled.</param>
    /// <param name="limits">The usual ones where none are given.</param>
    /// <exception cref="CarriedDataException">They take too long, or fail.</exception>
    /// <exception cref="Core.Definitions.DataFaultException">They are unsound.</exception>
    /// <exception cref="RunFileException">The run does not fit them.</exception>
    public static Rehearsal Fly(RunLog run, DataVersion data, CarriedLimits? limits = null, CancellationToken gone = default)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(data);
        var most = limits ?? CarriedLimits.Usual;
        try
        {
            var fleet = Within(most.Reading, "reading them", data.Load, gone);
            return Within(most.Flying, "flying it", cancel =>
            {
                var flown = Rehearsal.Replay(fleet, run, sample: m => ThrowUnlessNumbers(m, LookEverySteps), cancel: cancel);
                ThrowUnlessNumbers(flown.Machine, 1);
                Try(new Rehearsal(fleet, run.Header), most.StepMicroseconds);
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
        T? done = default;
        try
        {
            done = work(limit.Token);
        }
        catch (OperationCanceledException) when (limit.IsExceeded)
        {
            // Told below, as what was done only just too late is.
        }

        return limit.IsExceeded ? throw new CarriedDataException(FormattableString.Invariant($"{what} takes more than {most.TotalSeconds} s of a processor")) : done!;
    }

    // The quickest of some trials: the first steps compile what they run.
    private static void Try(Rehearsal trial, double mostMicroseconds)
    {
        var quickest = double.MaxValue;
        for (var i = 0; i < Trials; i++)
        {
            var before = ThreadTime.Now;
            trial.AdvanceTo(trial.Machine.StepIndex + TrialSteps);
            quickest = Math.Min(quickest, (ThreadTime.Now - before).TotalMicroseconds / TrialSteps);
        }

        if (quickest > mostMicroseconds)
        {
            throw new CarriedDataException(FormattableString.Invariant($"a step takes {quickest:0.##} microseconds; {mostMicroseconds} can be borne"));
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
