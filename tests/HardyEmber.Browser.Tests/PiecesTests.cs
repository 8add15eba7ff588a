using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Browser.Tests;

/// <summary>Pieces of the front end that need no run: what typed words could mean, where a diagram's boxes stand, how frames are put in order.</summary>
[Collection(nameof(BrowserTwo))]
public sealed class PiecesTests(BrowserFixture fixture)
{
    private readonly Cockpit _page = new(fixture);

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    // Runs a script that has the pieces as `units` and a type's panel as `panel`; what it returns comes back as JSON.
    private async Task<JsonElement> RunAsync(string script, string aircraft = "juniper")
    {
        if (!_page.Driver.Url.Contains("/logbook", StringComparison.Ordinal))
        {
            _page.Go("/logbook");
        }

        var panel = await _page.Server.Client.GetStringAsync(ServerCalls.Path($"/api/aircraft/{aircraft}"));
        var answer = (string)_page.Driver.ExecuteAsyncScript($$"""
            const [text, done] = arguments;
            import('/units/units.js').then(() => {
              const units = window.units, panel = JSON.parse(text);
              const readings = [...panel.gauges.map(g => ({ name: g.signal, label: g.label })), ...panel.lamps.map(l => ({ name: 'lamp.' + l.id, label: 'Lamp ' + l.label }))];
              const vocabulary = { controls: panel.controls, readings, faults: panel.faults };
              done(JSON.stringify((() => { {{script}} })()));
            }).catch(e => done(JSON.stringify({ error: String(e) })));
            """, panel)!;
        var json = JsonSerializer.Deserialize<JsonElement>(answer);
        Assert.False(json.ValueKind == JsonValueKind.Object && json.TryGetProperty("error", out _), answer);
        return json;
    }

    [Theory]
    [InlineData("batt on", "set battery on")]
    [InlineData("battery off", "set battery off")]
    [InlineData("fire test inner 17s", "hold fire-test inner 17")]
    [InlineData("trim 11,5", "set trim 11.5")]
    [InlineData("look parking brake", "look parking-brake")]
    [InlineData("release fire", "release fire-test")]
    [InlineData("why core speed right", "why right.n2")]
    [InlineData("report igniter right", "report igniter-dead right")]
    [InlineData("ashtray", "")]
    [InlineData("", "")]
    public async Task Typed_words_mean_what_they_say(string typed, string meant)
    {
        var best = await RunAsync($"const s = units.suggest(vocabulary, {JsonSerializer.Serialize(typed)})[0]; "
            + "return s ? [s.verb, s.target, s.position, s.number, s.seconds].filter(x => x !== undefined).join(' ') : '';");
        Assert.Equal(meant, best.GetString());
    }

    /// <summary>On every type each control is found by its whole name, in each of its positions or at both ends of its dial.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public async Task Every_position_of_every_control_can_be_typed(string aircraft)
    {
        var wrong = await RunAsync("""
            const wrong = [];
            for (const c of panel.controls) {
              for (const p of c.kind === 'dial' ? [c.min, c.max] : c.kind === 'position' ? ['spot', '61 24.3 n 18 12.7 w'] : c.sprung.length > 0 ? c.sprung : c.positions) {
                const best = units.suggest(vocabulary, `${c.id.replaceAll('-', ' ')} ${p}`)[0];
                if (!best || best.target !== c.id || (c.kind === 'dial' ? best.number : best.position) !== p) wrong.push(`${c.id} ${p}: ${best?.label}`);
              }
            }
            return wrong;
            """, aircraft);
        Assert.Empty(wrong.EnumerateArray().Select(w => w.GetString()));
    }

    [Fact]
    public async Task What_is_called_nothing_is_answered_with_what_comes_nearest()
    {
        Assert.Contains("Battery", (await RunAsync("return units.nearest(vocabulary, 'batery on');")).GetString(), StringComparison.Ordinal);
        Assert.Contains("it has off, on", (await RunAsync("return units.nearest(vocabulary, 'battery half');")).GetString(), StringComparison.Ordinal);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public async Task Every_bus_and_source_has_a_place_of_its_own_on_the_diagram(string aircraft)
    {
        var faults = await RunAsync("""
            const { nodes, edges, width, height } = units.layOut(panel.electrics, panel);
            const faults = [];
            for (const b of panel.electrics.buses) if (!nodes.some(n => n.id === 'bus.' + b.id)) faults.push('no ' + b.id);
            for (const e of edges) if (!nodes.some(n => n.id === e.from)) faults.push('from nowhere: ' + e.from);
            nodes.forEach((a, i) => nodes.slice(i + 1).forEach(b => { if (a.x === b.x && Math.abs(a.y - b.y) < 36) faults.push(`${a.id} over ${b.id}`); }));
            for (const n of nodes) if (n.x < 0 || n.y < 0 || n.x > width || n.y > height) faults.push('outside: ' + n.id);
            return faults;
            """, aircraft);
        Assert.Empty(faults.EnumerateArray().Select(f => f.GetString()));
    }

    public static TheoryData<RunHeader> Sorties =>
    [
        Cockpit.Calm with { Conditions = new RunConditions(-24, 310, 17, QnhHpa: 987), Seed = 4711 },
        Cockpit.Calm with { Conditions = new RunConditions(1, 20, 3, PressureAltitudeFt: 2500, QnhHpa: 1003), Beginning = "turnaround",
            School = new Dictionary<string, string> { ["canopy"] = "early" }, Mode = "alone" },
        Cockpit.Calm with { Conditions = new RunConditions(30, 0, 0, QnhHpa: 1013),
            Faults = [new RunFault("inner-line-short", At: 12.5, Level: 2), new RunFault("igniter-dead", "left")], Surprises = 2, Parked = new ParkedHeader(true, "hangared") },
        Situations.AllRun("juniper") with { Conditions = new RunConditions(5, 90, 30, QnhHpa: 1000), Leg = null,
            Flight = new RunFlight(21_000, 240, "left", "idle", FromNm: 30, BearingDeg: 200, CoreN2Pct: 50) },
    ];

    /// <summary>A sortie that is taken over fills the form, and the form makes the same sortie of it again: nothing of it is lost.</summary>
    [Theory]
    [MemberData(nameof(Sorties))]
    public async Task What_is_taken_over_is_flown_as_it_came(RunHeader header)
    {
        var fleet = await _page.Server.Client.GetStringAsync(ServerCalls.Path("/api/fleet"));
        var made = await RunAsync($"""
            const fleet = {fleet}, header = {JsonSerializer.Serialize(header, FleetJson.Line)}, s = units.situationOf(header, fleet);
            return units.headerOf(s, fleet.aircraft.find(a => a.id === s.aircraft), fleet.places.find(p => p.id === s.place));
            """);
        var again = made.Deserialize<RunHeader>(FleetJson.Line)!;
        string Plain(RunHeader h) => JsonSerializer.Serialize(SortieFile.Plain(h) with { Loading = null, Leg = null, Parked = h.Parked ?? new ParkedHeader() }, FleetJson.Line);
        Assert.Equal(Plain(header), Plain(again));
    }

    [Theory]
    [InlineData("12,5", 12.5)]
    [InlineData("−24", -24)]
    [InlineData("11 200", 11200)]
    [InlineData(" .5 ", 0.5)]
    [InlineData("12,500", double.NaN)]
    [InlineData("1e9", double.NaN)]
    [InlineData("0x10", double.NaN)]
    [InlineData("", double.NaN)]
    public async Task A_number_is_read_as_it_was_meant_or_not_at_all(string typed, double meant)
    {
        var read = await RunAsync($"return String(units.numberOf({JsonSerializer.Serialize(typed)}));");
        Assert.Equal(meant.ToString(System.Globalization.CultureInfo.InvariantCulture), read.GetString());
    }

    /// <summary>Frames in any order, some twice: each is applied once, in its order, and none is lost.</summary>
    [Fact]
    public async Task Frames_are_applied_in_order_whatever_order_they_come_in()
    {
        var faults = await RunAsync("""
            const frame = (n, base) => ({ n, base });
            let seed = 7;
            const random = (below) => (seed = (seed * 48271) % 2147483647) % below;
            const faults = [];
            for (let round = 0; round < 200; round++) {
              const order = new units.FrameOrder(), seen = [];
              const sent = Array.from({ length: 12 }, (_, i) => frame(11 + i, 10 + i)).map(f => [random(8), f]).sort((a, b) => a[0] - b[0]).map(x => x[1]);
              const joinAt = random(sent.length + 1);
              sent.forEach((f, i) => { if (i === joinAt) seen.push(...order.begin(10)); seen.push(...order.take(f)); if (random(4) === 0) seen.push(...order.take(f)); });
              if (joinAt === sent.length) seen.push(...order.begin(10));
              const got = seen.map(f => f.n).join();
              if (got !== '11,12,13,14,15,16,17,18,19,20,21,22' || order.gap || order.number !== 22) faults.push(got);
            }
            return faults;
            """);
        Assert.Empty(faults.EnumerateArray().Select(f => f.GetString()));
    }

    [Fact]
    public async Task A_frame_that_never_comes_is_missed_until_the_whole_state_is_taken()
    {
        var story = await RunAsync("""
            const order = new units.FrameOrder();
            order.begin(5);
            const late = [order.take({ n: 7, base: 6 }).length, order.gap, order.number];
            const caughtUp = [order.begin(7).length, order.gap, order.number];
            // A page that was slow gets one frame for several: it builds on what the page has.
            return [...late, ...caughtUp, order.take({ n: 12, base: 7 }).length, order.number, order.take({ n: 11, base: 6 }).length];
            """);
        Assert.Equal("[0,true,5,0,false,7,1,12,0]", story.GetRawText());
    }

    /// <summary>An answer may come after frames that build on it: the page does not go back to it, for nobody would bring it forward again.</summary>
    [Fact]
    public async Task A_whole_state_that_frames_have_overtaken_is_not_gone_back_to()
    {
        var story = await RunAsync("""
            const order = new units.FrameOrder();
            order.begin(5);
            order.take({ n: 6, base: 5 });
            order.take({ n: 7, base: 6 });
            const overtaken = [order.begin(6), order.number, order.take({ n: 8, base: 7 }).length, order.gap];
            order.forget(); // a new connection, and a run that counts anew
            return [...overtaken, order.begin(1).length, order.number];
            """);
        Assert.Equal("[null,7,1,false,0,1]", story.GetRawText());
    }

    [Fact]
    public async Task Times_and_numbers_read_as_they_should() =>
        Assert.Equal(["00:00", "01:05", "100:00", "12.5", "1\u202f234", "0"],
            (await RunAsync("return [units.clock(-3), units.clock(65.9), units.clock(6000), units.number(12.51, 0.1), units.number(1234.4, 1), units.number(-0.2, 1)];"))
                .EnumerateArray().Select(e => e.GetString()!));
}
