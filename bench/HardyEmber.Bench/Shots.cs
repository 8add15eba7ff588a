using System.Net.Http.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace HardyEmber.Bench;

/// <summary>Takes the pictures of the documentation from the demo data, each in a known moment of a real run.</summary>
internal static class Shots
{
    private sealed record Shot(string Name, Func<ServerProcess, Task<string>> Path, string Wait, string Theme = "soot", int Width = 1280, int Height = 800, string[]? Press = null);

    private static readonly Shot[] All =
    [
        new("sortie", _ => Task.FromResult("/"), "[data-testid=begin]"),
        new("logbook", _ => Task.FromResult("/logbook"), "[data-testid=run-row]"),
        new("start-auxiliary", s => AtAsync(s, Headers.Cold(), log => Moment(log, "aux-unit", 9)), "[data-testid=cue]"),
        new("start-electrics", s => AtAsync(s, Headers.Cold() with { Aircraft = "tansy", Beginning = "turnaround", Loading = null }, log => Moment(log, "ask-tower", 1)),
            "[data-testid=cue]", Press: ["[data-link=buses]", "[data-node='inverter.two']"]),
        new("start-why", s => AtAsync(s, Headers.Cold() with { Aircraft = "sedge", Loading = null }, log => Moment(log, "battery", 4)), "[data-testid=cue]",
            Press: ["[data-link=core]", "[data-control=boost-pump] span", "w"]),
        new("start-crew", s => AtAsync(s, Headers.Cold(), log => Moment(log, "ask-start-right", 2)), "[data-testid=cue]", Press: ["[data-link=core]"]),
        new("start-spool", s => AtAsync(s, Headers.Cold() with { Spot = "A4", Conditions = Headers.Cold().Conditions with { WindKt = 24 } },
            log => Moment(log, "throttle-right", 2.2)), "[data-testid=cue]"),
        new("start-card", s => AtAsync(s, Headers.Cold() with { Conditions = new RunConditions(15, 0, 0) }, log => Moment(log, "inertial", 12)), "[data-testid=cue]",
            Press: ["[data-link=core]", "[data-tab=right]"]),
        new("start-alignment", s => AtAsync(s, Headers.Cold(), log => Moment(log, "inertial", 150)), "[data-testid=go-sentence]", Press: ["[data-link=alignment]"]),
        new("start-boxes", s => AtAsync(s, Headers.Cold(), log => Moment(log, "jammer", 6)), "[data-testid=cue]", Press: ["[data-link=boxes]"]),
        new("start-surfaces", s => AtAsync(s, Headers.Cold(), log => Moment(log, "launch-bar", 0.6)), "[data-testid=surfaces]", Press: ["[data-link=pressure]"]),
        new("start-sight", s => AtAsync(s, Headers.Cold(), log => Moment(log, "sight-azimuth", 4)), "[data-testid=sight]", Press: ["p"]),
        new("start-day", s => AtAsync(s, Headers.Cold(), log => Moment(log, "throttle-left", 9)), "[data-testid=cue]", "ash"),
        new("start-tablet", s => AtAsync(s, Headers.Cold() with { Faults = [new RunFault("canopy-seal")] }, log => Moment(log, "throttle-left", 40)), "[data-testid=sign]",
            Width: 820, Height: 1180),
        new("relight", s => AtAsync(s, Headers.Air(), log => Moment(log, "pitch", 24)), "[data-method]"),
        new("fire", s => AtAsync(s, Situations.AllRun("juniper") with { Pilot = "Tinder", Faults = [new RunFault("bay-fire", "right")] },
            log => Moment(log, "shut-off-right", 1)), "[data-testid=fire]"),
        new("debrief-flight", s => EndedAsync(s, Headers.Air()), "[aria-label='The flight'] [data-method]"),
        new("debrief", s => LoggedAsync(s, "not-ready"), "[data-testid=verdict]"),
        new("debrief-hot-start", s => LoggedAsync(s, "aircraft-damaged"), "[data-testid=verdict]"),
    ];

    // Pictures that the documentation does not show.
    private static readonly Shot[] More =
    [
        new("style", _ => Task.FromResult("/style"), "[data-group=Signatures]"),
        new("alone", s => AtAsync(s, Headers.Cold() with { Mode = "alone" }, log => Moment(log, "aux-unit", 9)), "[data-testid=clock]"),
        new("alone-flight", s => AtAsync(s, Headers.Air() with { Mode = "alone" }, log => Moment(log, "pitch", 24)), "[data-testid=clock]"),
        new("prompted", s => AtAsync(s, Headers.Cold() with { Mode = "prompted" }, log => Moment(log, "aux-unit", 9)), "[data-testid=clock]"),
        new("kept", _ => Task.FromResult("/"), "[data-testid=begin]", Press: ["[data-testid=returning] > div:last-child button"]),
        new("help", s => AtAsync(s, Headers.Cold(), log => Moment(log, "aux-unit", 9)), "[data-testid=cue]", Press: ["[aria-label='Help and keys']"]),
        new("debrief-going", async s => (await AtAsync(s, Headers.Air(), log => Moment(log, "pitch", 24))).Replace("/run/", "/debrief/", StringComparison.Ordinal),
            "[data-testid=verdict]"),
        new("dark", s => AtAsync(s, Headers.Air() with { Conditions = Headers.Air().Conditions with { Night = true } }, log => Moment(log, "pitch", 24)), "[data-method]"),
        new("home-blocked", s => AtAsync(s, Headers.Air() with { Aircraft = "alder", Conditions = new RunConditions(45, 0, 0), Loading = new LoadingHeader(10_700, 7_400),
            Flight = new RunFlight(12_000, 230, "right", RunFlight.IdleOther, 200, GroundFt: 9_500) }, log => 6), "[data-method]"),
        new("home-on-one", s => AtAsync(s, Headers.Air() with { Flight = new RunFlight(9_600, 240, "right", RunFlight.IdleOther, 40) }, log => 6), "[data-method]"),
        new("wheels", s => AtAsync(s, Headers.Cold() with { Aircraft = "tansy", Loading = null }, log => Moment(log, "beacon-outer", 1)), "[data-testid=cue]",
            Press: ["[data-link=boxes]"]),
        new("waits", s => AtAsync(s, Headers.Cold(), log => Moment(log, "aux-unit", 3)), "[data-testid=cue]"),
        new("beside-flight", async s => await EndedAsync(s, Headers.Air()) + "?with="
            + (await EndedAsync(s, Headers.Air() with { Flight = Headers.Air().Flight! with { HeightFt = 22_000 } }))["/debrief/".Length..], "[data-testid=beside-trail]"),
        new("beside", BesideAsync, "[data-testid=beside-start]"),
        new("faults", _ => Task.FromResult("/"), "[data-testid=begin]", Press: ["[data-testid=faults] button", "[aria-label='Add a fault']"]),
        new("choice", _ => Task.FromResult("/"), "[data-testid=begin]", Press: ["[data-choice='school.selfTests']"]),
    ];

    /// <summary>"sortie" takes a picture as it is in the documentation, "sortie@1920x1080@ash" one of another size and theme beside it.</summary>
    private static IEnumerable<Shot> Asked(string[] names) => names.Length == 0 ? All : names.Select(name =>
    {
        var parts = name.Split('@');
        var shot = All.Concat(More).FirstOrDefault(s => s.Name == parts[0])
            ?? throw new ArgumentException($"there is no picture \"{parts[0]}\": {string.Join(", ", All.Concat(More).Select(s => s.Name))}");
        foreach (var part in parts.Skip(1))
        {
            shot = part.Split('x') is [var width, var height] && int.TryParse(width, out var w) && int.TryParse(height, out var h)
                ? shot with { Name = $"{shot.Name}-{w}", Width = w, Height = h } : shot with { Name = $"{shot.Name}-{part}", Theme = part };
        }

        return shot;
    });

    public static async Task TakeAsync(string folder, string[] names)
    {
        Directory.CreateDirectory(folder);
        await using var server = await ServerProcess.StartAsync(demo: true).ConfigureAwait(false);
        using var browser = Chrome.Start();
        foreach (var shot in Asked(names).ToList())
        {
            browser.Resize(shot.Width, shot.Height);
            var path = await shot.Path(server).ConfigureAwait(false);
            browser.Navigate().GoToUrl(new Uri(server.Address, "/logbook"));
            browser.ExecuteScript($"localStorage.setItem('theme','{shot.Theme}');localStorage.setItem('dim','1');localStorage.setItem('tour','done')");
            browser.Navigate().GoToUrl(new Uri(server.Address, path));
            for (var i = 0; i < 200 && browser.FindElements(By.CssSelector(shot.Wait)).Count == 0; i++)
            {
                await Task.Delay(50).ConfigureAwait(false);
            }

            await Task.Delay(1500).ConfigureAwait(false); // fonts and the forecast settle; pictures are no test
            foreach (var press in shot.Press ?? [])
            {
                if (press.Length == 1)
                {
                    new OpenQA.Selenium.Interactions.Actions(browser).SendKeys(press).Perform();
                }
                else if (press[0] == '=')
                {
                    new OpenQA.Selenium.Interactions.Actions(browser).SendKeys(press[1..] + Keys.Enter).Perform(); // typed where the last press went
                }
                else
                {
                    new OpenQA.Selenium.Interactions.Actions(browser).MoveToElement(browser.FindElement(By.CssSelector(press))).Click().Perform();
                }

                await Task.Delay(700).ConfigureAwait(false);
            }

            browser.Picture(Path.Combine(folder, shot.Name + ".png"));
            Report(browser, shot.Name);
        }
    }

    private static void Report(ChromeDriver browser, string name)
    {
        var errors = browser.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level >= LogLevel.Warning).Select(l => l.Message).ToList();
        Console.WriteLine($"{name}.png{(errors.Count > 0 ? "  console: " + string.Join(" | ", errors) : "")}");
    }

    private static double Moment(RunLog log, string control, double after) => log.Commands.First(c => c.Target == control && c.Kind != CommandKind.Look).Time + after;

    // A run flown by the scripted pilot, forked at the moment of the picture.
    private static async Task<string> AtAsync(ServerProcess server, RunHeader header, Func<RunLog, double> moment)
    {
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();
        return $"/run/{await server.ForkAsync(await server.ImportAsync(log).ConfigureAwait(false), moment(log)).ConfigureAwait(false)}";
    }

    // A run flown by the scripted pilot to its end.
    private static async Task<string> EndedAsync(ServerProcess server, RunHeader header) =>
        $"/debrief/{await server.ImportAsync(new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly()).ConfigureAwait(false)}";

    // A hurried start beside a careful one of another school.
    private static async Task<string> BesideAsync(ServerProcess server)
    {
        var careful = await EndedAsync(server, Headers.Cold()).ConfigureAwait(false);
        var hurried = new ScriptedPilot(new Rehearsal(Repository.Fleet,
            Headers.Cold() with { School = new Dictionary<string, string> { ["fuelOn"] = "early", ["selfTests"] = "fire" } }),
            new PilotTraits(ReactionS: 2.2, Forgets: ["oxygen-on"])).Fly();
        return $"{careful}?with={await server.ImportAsync(hurried).ConfigureAwait(false)}";
    }

    private sealed record Created(string Id);

    private static async Task<string> LoggedAsync(ServerProcess server, string verdict)
    {
        var page = await server.Client.GetFromJsonAsync<Page>(new Uri($"/api/runs?verdict={verdict}", UriKind.Relative)).ConfigureAwait(false);
        return $"/debrief/{page!.Runs[0].Id}";
    }

    private sealed record Page(List<Created> Runs);
}
