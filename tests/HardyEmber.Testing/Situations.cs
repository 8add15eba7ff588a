using HardyEmber.Core.Definitions;

namespace HardyEmber.Testing;

/// <summary>Headers that tests and benches begin from.</summary>
public static class Situations
{
    /// <summary>15 °C, calm, sea level, first start.</summary>
    public static RunHeader Calm { get; } = new()
    {
        Aircraft = "juniper",
        Place = "skerrow-main",
        Spot = "A1",
        Seed = 7,
        Beginning = "first",
        Conditions = new RunConditions(15, 0, 0, PressureAltitudeFt: 0),
    };

    /// <summary>The demo day: −24 °C, QNH 987, wind on the nose of spot A1.</summary>
    public static RunHeader DemoDay { get; } = Calm with { Conditions = new RunConditions(-24, 310, 17, QnhHpa: 987) };

    /// <summary>A calm day by some answers of a school; every answer can be chosen, so three drills were flown and the last shutdown stored the heading where the type
    /// can.</summary>
    public static RunHeader Taught(string aircraft, params (string Question, string Answer)[] school) => Calm with
    {
        Aircraft = aircraft,
        Drilled = 3,
        School = school.ToDictionary(s => s.Question, s => s.Answer),
        Parked = Repository.Fleet.FindAircraft(aircraft).Inertial?.Stored is null ? null : new ParkedHeader(true),
    };

    /// <summary>The first engine of a type flamed out in its best glide; any other is lost.</summary>
    public static RunHeader Aloft(string aircraft, double heightFt = 20_000, params (string Question, string Answer)[] school)
    {
        var type = Repository.Fleet.FindAircraft(aircraft);
        return Calm with
        {
            Aircraft = aircraft,
            Beginning = "air",
            Flight = new RunFlight(heightFt, type.Flight.GlideEasKt, type.Engines[0].Id),
            School = school.ToDictionary(s => s.Question, s => s.Answer),
        };
    }

    /// <summary>In its best glide with everything running.</summary>
    public static RunHeader AllRun(string aircraft, double heightFt = 15_000) =>
        Calm with { Aircraft = aircraft, Beginning = "air", Flight = Aloft(aircraft, heightFt).Flight! with { Dead = RunFlight.NoneDead } };

    /// <summary>Right engine flamed out at 25 000 ft and 230 kt, the left one lost.</summary>
    public static RunHeader Air { get; } = Calm with { Beginning = "air", Flight = new RunFlight(25000, 230, "right") };
}
