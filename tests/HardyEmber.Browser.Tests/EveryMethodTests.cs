using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;
using OpenQA.Selenium;

namespace HardyEmber.Browser.Tests;

/// <summary>
/// Every method of restart on every type that has it, flown on the page by mouse and by keys, with the guide and alone. Too long for every run of the
/// tests, which fly some of them: <c>./ember hands</c> flies them all.
/// </summary>
[Collection(nameof(BrowserOne))]
public sealed class EveryMethodTests(BrowserFixture fixture)
{
    private const double LowFt = 1200;

    private readonly Cockpit _page = new(fixture);

    /// <summary>From the height at which each has its chance: type, method, ft, the other engine.</summary>
    private static readonly (string Type, string Method, double HeightFt, string Other)[] Methods =
    [
        ("juniper", "windmill", 25_000, RunFlight.LostOther), ("juniper", "starter", 15_000, RunFlight.LostOther), ("juniper", "cross-bleed", 14_000, RunFlight.IdleOther),
        ("alder", "windmill", 20_000, RunFlight.LostOther), ("alder", "starter", 15_000, RunFlight.LostOther), ("alder", "cross-bleed", 15_000, RunFlight.IdleOther),
        ("bramble", "windmill", 25_000, RunFlight.LostOther), ("bramble", "starter", 15_000, RunFlight.LostOther),
        ("tansy", "windmill", 20_000, RunFlight.LostOther), ("tansy", "starter", 12_000, RunFlight.LostOther),
        ("teasel", "windmill", 20_000, RunFlight.LostOther), ("teasel", "starter", 12_000, RunFlight.LostOther),
        ("burdock", "windmill", 24_000, RunFlight.LostOther), ("sedge", "windmill", 18_000, RunFlight.LostOther),
    ];

    public static TheoryData<string, string> All => [.. Methods.Select(m => (m.Type, m.Method))];

    public static TheoryData<string, string, string, string> Flights =>
        [.. from m in Methods from mode in new[] { "guided", "alone" } from way in new[] { "mouse", mode == "guided" ? "keyboard" : "command line" } select (m.Type, m.Method,
            mode, way)];

    private static RunHeader HeaderOf(string type, string method, double? heightFt = null)
    {
        var m = Methods.Single(m => m.Type == type && m.Method == method);
        var asked = Repository.Fleet.ProcedureFor(Situations.Aloft(type, m.HeightFt)).Schools.Any(q => q.Id == RelightOutlook.Question);
        var header = asked ? Situations.Aloft(type, heightFt ?? m.HeightFt, (RelightOutlook.Question, method)) : Situations.Aloft(type, heightFt ?? m.HeightFt);
        return header with { Flight = header.Flight! with { Other = m.Other } };
    }

    [Theory(Explicit = true), MemberData(nameof(Flights))]
    public async Task It_brings_the_core_back(string type, string method, string mode, string way)
    {
        var header = HeaderOf(type, method) with { Mode = mode };
        await _page.OpenRunAsync(header);
        var hands = new Hands(_page);
        if (mode == "guided")
        {
            hands.Follow(way, () => _page.CueKind == "finished", 900);
        }
        else
        {
            var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, header with { Mode = "guided" })).Fly();
            if (way == "command line")
            {
                _page.Press("/");
            }

            var now = 0.0;
            foreach (var command in log.Commands.Where(c => c.Kind != CommandKind.End))
            {
                if (command.Time > now)
                {
                    _page.Step(command.Time - now);
                    now = command.Time;
                }

                hands.Give(way, command);
            }

            if (way == "command line")
            {
                _page.Find("[aria-label=Command]").SendKeys(Keys.Escape);
            }

            Assert.False(_page.Has("[aria-label=Guide]"));
        }

        _page.Find("[data-testid=end-run]").Click();
        _ = _page.Find("[data-testid=verdict]");
        Assert.StartsWith("Restarted, nothing against it", _page.Text("h1"), StringComparison.Ordinal);
        Assert.Empty(_page.Console());
    }

    [Theory(Explicit = true), MemberData(nameof(All))]
    public async Task Too_low_it_says_why_it_fails(string type, string method)
    {
        var aircraft = Repository.Fleet.FindAircraft(type);
        await _page.OpenRunAsync(HeaderOf(type, method, Math.Round(aircraft.Flight.DecisionHeightFt + Repository.Fleet.FindPlace("skerrow-main").ElevationFt
            + (method == "windmill" ? LowFt : LowFt / 4))));
        _page.UntilTrue(() => _page.Has($"[data-method={method}][data-works=false]"), "a method that fails");
        Assert.Matches("decision height|does not light|lights and does not", _page.Text($"[data-method={method}]"));
        Assert.Empty(_page.Console());
    }
}
