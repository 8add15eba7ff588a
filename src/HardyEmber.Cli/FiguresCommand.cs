using System.Globalization;
using System.Text;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;

namespace HardyEmber.Cli;

/// <summary><c>ember figures</c>: flies every type through the cases of the behaviour table and draws docs/models/starts.md with its curves.</summary>
internal static class FiguresCommand
{
    private const double Width = 720, Height = 300, Left = 46, Right = 150, Top = 14, Bottom = 34, SpanS = 70;
    private const double GapY = 13;

    private sealed record Case(string Name, string Colour, string Dash, Func<RunHeader, Fleet, RunHeader?> Of);

    private static readonly RunConditions Calm = new(15, 0, 0, PressureAltitudeFt: 0);

    private static readonly Case[] Cases =
    [
        new("standard", "#1f1d1a", "", (h, _) => h),
        new("early fuel", "#7a5aa6", "", (h, fleet) => fleet.ProcedureFor(h).Schools.Any(q => q.Id == "fuelOn")
            ? h with { School = new Dictionary<string, string> { ["fuelOn"] = "early" } } : null),
        new("−35 °C", "#2a6f97", "6 3", (h, _) => h with { Conditions = Calm with { OatC = -35 } }),
        new("+45 °C, 6 000 ft", "#b3541e", "6 3", (h, _) => h with { Conditions = Calm with { OatC = 45, PressureAltitudeFt = 6000 } }),
        new("air 60 %", "#3f7d4e", "2 3", (h, fleet) => fleet.FindAircraft(h.Aircraft).AuxiliaryUnit is not null
            ? h with { Faults = [new RunFault("weak-air", Level: 0.6)] } : null),
        new("tailwind 25 kt", "#c0392b", "", (h, _) => h with { Spot = "A4", Conditions = Calm with { WindFromDeg = 310, WindKt = 25 } }),
    ];

    public static int Run()
    {
        var folder = FleetFolder.Find();
        var fleet = FleetFolder.Load(folder);
        var docs = Path.Combine(Path.GetDirectoryName(folder)!, "docs", "models");
        Directory.CreateDirectory(Path.Combine(docs, "starts"));
        var page = new StringBuilder("""
            # The starts of the seven types, as the product flies them

            Written by `./ember figures`: a steady pilot by the book in the whole machine, first engine, who lets it burn. `./ember test`
            fails when this page is no longer what the product computes. Gas temperature over seconds from the crank; the line
            across is the start limit. Standard is 15 °C, calm, sea level, the school's first answers.


            """);
        foreach (var aircraft in fleet.Aircraft)
        {
            var flown = Cases.Select(c => (Case: c, Start: Fly(fleet, aircraft, c))).Where(f => f.Start is not null).Select(f => (f.Case, Start: f.Start!.Value)).ToList();
            File.WriteAllText(Path.Combine(docs, "starts", $"{aircraft.Id}.svg"), Draw(aircraft, flown));
            page.Append(CultureInfo.InvariantCulture, $"## {aircraft.Name}\n\n![Gas temperature of {aircraft.Name}'s starts](starts/{aircraft.Id}.svg)\n\n");
            page.Append("| case | fuel after s | at % | light-off s | peak °C | margin °C | crank to idle s | starter s |\n|---|---|---|---|---|---|---|---|\n");
            foreach (var (at, (card, _)) in flown)
            {
                page.Append(CultureInfo.InvariantCulture,
                    $"| {at.Name} | {card.FuelS:0.0} | {card.FuelN2Pct:0.0} | {card.LightS:0.0} | {card.PeakC:0} | {card.MarginC:0} | "
                    + $"{(card.IdleS is { } idle ? idle.ToString("0.0", CultureInfo.InvariantCulture) : "never")} | {card.StarterS:0.0} |\n");
            }

            page.Append('\n');
        }

        File.WriteAllText(Path.Combine(docs, "starts.md"), page.ToString().TrimEnd() + "\n");
        return 0;
    }

    private static (StartCard Card, List<double> GasC)? Fly(Fleet fleet, AircraftDefinition aircraft, Case of)
    {
        var calm = new RunHeader { Aircraft = aircraft.Id, Place = "skerrow-main", Spot = "A1", Seed = 7, Beginning = "first", Conditions = Calm };
        if (of.Of(calm, fleet) is not { } header)
        {
            return null;
        }

        var rehearsal = new Rehearsal(fleet, header);
        var m = rehearsal.Machine;
        var gas = new List<double>();
        var from = double.MaxValue;
        _ = new ScriptedPilot(rehearsal, new PilotTraits(LetsItBurn: true)).FlyUntil(() =>
        {
            if (m.StepIndex % Steps.PerTick == 2 && rehearsal.Starts.Cards is [var first, ..])
            {
                from = Math.Min(from, m.Time);
                if (m.Time <= from + SpanS)
                {
                    gas.Add(m[$"{first.Engine}.egt-true"]);
                }
            }

            // Thick oil makes a long start: the curve ends, the wait for idle goes on.
            return m.Time > 1200 || m.Time > from + SpanS && (rehearsal.Starts.Cards[0].Outcome != StartOutcome.Open || m.Time > from + 2.5 * SpanS);
        });
        return rehearsal.Starts.Cards is [var card, ..] ? (card, gas) : null;
    }

    private static string Draw(AircraftDefinition aircraft, List<(Case Case, (StartCard Card, List<double> GasC) Start)> flown)
    {
        var limit = aircraft.Engine.StartLimitC;
        var most = Math.Ceiling(Math.Max(limit, flown.Max(f => f.Start.GasC.Max())) / 100 + 0.5) * 100;
        double X(double s) => Left + s / SpanS * (Width - Left - Right);
        double Y(double c) => Height - Bottom - Math.Max(0, c) / most * (Height - Top - Bottom);
        var svg = new StringBuilder();
        svg.Append(CultureInfo.InvariantCulture,
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {Width} {Height}\" font-family=\"sans-serif\" font-size=\"11\">\n"
            + $"<rect width=\"{Width}\" height=\"{Height}\" fill=\"#fbf9f5\"/>\n");
        for (var c = 0.0; c <= most; c += 200)
        {
            svg.Append(CultureInfo.InvariantCulture,
                $"<path d=\"M{Left} {Y(c):0.0}H{Width - Right}\" stroke=\"#ddd6c9\"/>"
                + $"<text x=\"{Left - 6}\" y=\"{Y(c) + 4:0.0}\" text-anchor=\"end\" fill=\"#6b645a\">{c:0}</text>\n");
        }

        for (var s = 0; s <= SpanS; s += 10)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<text x=\"{X(s):0.0}\" y=\"{Height - 18}\" text-anchor=\"middle\" fill=\"#6b645a\">{s}</text>\n");
        }

        svg.Append(CultureInfo.InvariantCulture,
            $"<text x=\"{X(SpanS / 2):0.0}\" y=\"{Height - 4}\" text-anchor=\"middle\" fill=\"#6b645a\">seconds from the crank</text>\n"
            + $"<path d=\"M{Left} {Y(limit):0.0}H{Width - Right}\" stroke=\"#c0392b\" stroke-width=\"1.5\"/>"
            + $"<text x=\"{Left + 4}\" y=\"{Y(limit) - 4:0.0}\" fill=\"#c0392b\">start limit {limit:0} °C</text>\n");
        // Labels stand at the ends of their curves, pushed apart where those lie close.
        var label = double.MinValue;
        foreach (var (at, (card, gas)) in flown.OrderBy(f => Y(f.Start.GasC[^1])))
        {
            var line = string.Concat(gas.Select((c, i) => string.Create(CultureInfo.InvariantCulture, $"{(i == 0 ? "M" : "L")}{X(i / 5.0):0.0} {Y(c):0.0}")));
            label = Math.Max(label + GapY, Y(gas[^1]) + 4);
            svg.Append(CultureInfo.InvariantCulture,
                $"<path d=\"{line}\" fill=\"none\" stroke=\"{at.Colour}\" stroke-width=\"1.8\" stroke-dasharray=\"{at.Dash}\"/>"
                + $"<text x=\"{Width - Right + 6}\" y=\"{label:0.0}\" fill=\"{at.Colour}\">{at.Name}: {card.PeakC:0} °C</text>\n");
        }

        return svg.Append("</svg>\n").ToString();
    }
}
