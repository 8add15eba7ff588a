using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>How a flight ended, told soberly.</summary>
public enum FlightEnd
{
    /// <summary>It still flies, and nothing that it was about is done.</summary>
    Flying,

    /// <summary>The engine that it was about runs.</summary>
    Restarted,

    /// <summary>Another engine holds its height.</summary>
    HomeOnOne,

    /// <summary>It was left.</summary>
    Left,

    /// <summary>It came down at its place, slowly enough.</summary>
    Landed,

    /// <summary>It came down elsewhere, or too fast.</summary>
    HitGround,
}

/// <param name="Sentence">The same in words, without a full stop; empty while it flies.</param>
public sealed record FlightOutcome(FlightEnd End, string Sentence)
{
    /// <summary>The sentence of one that was left begins with it.</summary>
    public const string LeftWord = "Left";

    private const double IdleBandPct = 3;

    /// <summary>Of a run in flight, as it stands.</summary>
    public static FlightOutcome Of(Machine m)
    {
        ArgumentNullException.ThrowIfNull(m);
        var dead = m.Header.RestartEngine(m.Aircraft);
        var engines = m.Aircraft.Engines.Select(e => e.Id).ToList();
        bool Runs(string engine) => m[$"{engine}.lit"] > 0.5 && m[$"{engine}.n2"] > m.Aircraft.EngineOf(engine).IdleN2Pct - IdleBandPct;
        bool Is(string flag) => m.Signals.Find(flag) is { } info && m.Signals.Values[info.Index] > 0.5; // flights of earlier data know fewer of them
        string Where() => string.Create(CultureInfo.InvariantCulture,
            $"at {Math.Round(m["flight.height"] / 10) * 10:#,##0} ft and {m["flight.eas"]:0} kt, "
            + $"{Math.Round(Math.Abs(m["flight.above-decision"]) / 10) * 10:#,##0} ft {(m["flight.above-decision"] < 0 ? "below" : "above")} the decision height");
        if (Is("flight.left"))
        {
            return new FlightOutcome(FlightEnd.Left, $"{LeftWord} {Where()}");
        }

        if (Is("flight.landed"))
        {
            var running = engines.Count(Runs);
            return new FlightOutcome(FlightEnd.Landed,
                $"Landed at {m.Place.Name} {(running == 0 ? "without an engine" : running == engines.Count ? "with everything running" : "on one engine")}");
        }

        if (Is("flight.hit-ground"))
        {
            return new FlightOutcome(FlightEnd.HitGround, "It hit the ground");
        }

        if (engines.Exists(e => Is($"fire.{e}.had") && !Runs(e)) && engines.Exists(Runs))
        {
            return new FlightOutcome(FlightEnd.HomeOnOne, "The fire is out of reach of fuel, home on one engine");
        }

        if (Runs(dead))
        {
            var neverOut = m.Header.Flight?.Dead == RunFlight.NoneDead && (m.Signals.Find($"{dead}.flame-outs") is not { } outs || m.Signals.Values[outs.Index] < 0.5);
            return new FlightOutcome(FlightEnd.Restarted, neverOut ? "Flown on" : "Restarted");
        }

        return Is("flight.holds") ? new FlightOutcome(FlightEnd.HomeOnOne, "Home on one engine") : new FlightOutcome(FlightEnd.Flying, "");
    }
}
