using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

public sealed class RunFileTests
{
    private const string Header = """{"format":"hardy-ember/run","version":1,"aircraft":"juniper","place":"skerrow-main","spot":"A1","seed":7,"start":"first","conditions":"""
        + """{"oatC":15,"windFromDeg":0,"windKt":0}}""";

    private static RunFileException Refused(string text) =>
        Assert.Throws<RunFileException>(() => Rehearsal.Replay(Repository.Fleet, RunFile.Read(new StringReader(text))));

    [Theory]
    [InlineData("", 1, "format")]
    [InlineData("hello", 1, "line")]
    [InlineData("{\"format\":\"something\"}", 1, "format")]
    [InlineData("{\"format\":\"hardy-ember/run\",\"version\":2}", 1, "version")]
    public void A_bad_header_is_named(string text, int line, string field)
    {
        var e = Refused(text);
        Assert.Equal((line, field), (e.Line, e.Field));
    }

    [Theory]
    [InlineData("\"aircraft\":\"juniper\"", "\"aircraft\":\"kestrelet\"", "aircraft")]
    [InlineData("\"place\":\"skerrow-main\"", "\"place\":\"nowhere\"", "place")]
    [InlineData("\"spot\":\"A1\"", "\"spot\":\"Z9\"", "spot")]
    [InlineData("\"start\":\"first\"", "\"start\":\"second\"", "start")]
    [InlineData("\"oatC\":15", "\"oatC\":95", "conditions.oatC")]
    [InlineData("\"oatC\":15", "\"oatC\":\"warm\"", "conditions.oatC")]
    [InlineData("\"windKt\":0", "\"windKt\":-5", "conditions.windKt")]
    [InlineData("\"seed\":7", "\"seed\":7,\"school\":{\"fuelOn\":\"never\"}", "school.fuelOn")]
    [InlineData("\"seed\":7", "\"seed\":7,\"faults\":[{\"code\":\"gremlin\"}]", "faults")]
    [InlineData("\"seed\":7", "\"seed\":7,\"faults\":[{\"code\":\"weak-air\",\"level\":5}]", "faults.level")]
    [InlineData("\"seed\":7", "\"seed\":7,\"wings\":2", "wings")]
    [InlineData("\"start\":\"first\"", "\"start\":\"air\"", "flight")]
    [InlineData("\"windKt\":0", "\"windKt\":0,\"qnhHpa\":899", "conditions.qnhHpa")]
    [InlineData("\"windKt\":0", "\"windKt\":0,\"qnhHpa\":1061", "conditions.qnhHpa")]
    [InlineData("\"windKt\":0", "\"windKt\":1e999", "conditions.windKt")]
    [InlineData("\"seed\":7", "\"seed\":7,\"faults\":[{\"code\":\"weak-air\",\"at\":-1}]", "faults.at")]
    [InlineData("\"seed\":7", "\"seed\":7,\"faults\":[{\"code\":\"weak-air\",\"at\":1e300}]", "faults.at")]
    [InlineData("\"seed\":7", "\"seed\":7,\"faults\":[null]", "faults")]
    [InlineData("\"seed\":7", "\"seed\":7,\"school\":{\"fuelOn\":null}", "school.fuelOn")]
    [InlineData("\"seed\":7", "\"seed\":7,\"pilot\":\"bell\\u0007\"", "pilot")]
    [InlineData("\"seed\":7", "\"seed\":7,\"surprises\":9", "surprises")]
    public void A_header_that_names_what_does_not_exist_is_refused(string from, string to, string field)
    {
        var e = Refused(Header.Replace(from, to, StringComparison.Ordinal));
        Assert.Equal(1, e.Line);
        Assert.True(e.Field == field || e.Message.Contains(field, StringComparison.Ordinal), e.Message);
    }

    [Theory]
    [InlineData("""{"t":1,"set":"warp","to":"on"}""", 2, "set")]
    [InlineData("""{"t":1,"set":"battery","to":"sideways"}""", 2, "to")]
    [InlineData("""{"t":1,"set":"battery"}""", 2, "to")]
    [InlineData("""{"t":1,"set":"fire-test","to":"inner"}""", 2, "set")]
    [InlineData("""{"t":1,"hold":"battery","to":"on"}""", 2, "hold")]
    [InlineData("""{"t":1,"set":"trim","to":99}""", 2, "to")]
    [InlineData("""{"t":1,"set":"trim","to":"high"}""", 2, "to")]
    [InlineData("""{"t":1,"look":"nothing.here"}""", 2, "look")]
    [InlineData("""{"t":-1,"set":"battery","to":"on"}""", 2, "t")]
    [InlineData("""{"set":"battery","to":"on"}""", 2, "t")]
    [InlineData("""{"t":1}""", 2, "line")]
    [InlineData("""{"t":1,"set":"battery","to":"on","hold":"fire-test"}""", 2, "line")]
    [InlineData("""{"t":1,"set":"batt""", 2, "set")]
    [InlineData("{\"t\":5,\"set\":\"battery\",\"to\":\"on\"}\n{\"t\":4,\"set\":\"battery\",\"to\":\"off\"}", 3, "t")]
    [InlineData("{\"t\":5,\"end\":true}\n{\"t\":6,\"set\":\"battery\",\"to\":\"off\"}", 3, "t")]
    public void A_bad_command_is_named_by_line_and_field(string commands, int line, string field)
    {
        var e = Refused(Header + "\n" + commands);
        Assert.Equal(line, e.Line);
        Assert.True(e.Field == field || e.Field == "line", e.Message);
    }

    [Fact]
    public void A_huge_line_is_refused_without_being_read_whole()
    {
        var e = Refused(Header + "\n{\"t\":1,\"set\":\"" + new string('x', 1 << 20));
        Assert.Equal(2, e.Line);
        Assert.Contains("256 kB", e.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_written_run_reads_back_equal()
    {
        var run = new RunLog(Situations.DemoDay with { Faults = [new RunFault("weak-air", Level: 0.7, At: 3)], Pilot = "Clinker \"C\"" },
            [new(50, CommandKind.Set, "battery", "on"), new(51, CommandKind.Set, "trim", null, 11.5), new(90, CommandKind.Hold, "fire-test", "a"),
             new(99, CommandKind.Release, "fire-test"), new(100, CommandKind.Look, "battery.volts"), new(200, CommandKind.End)]);
        using var text = new StringWriter();
        RunFile.Write(text, run);
        var back = RunFile.Read(new StringReader(text.ToString()));
        Assert.Equal(run.Commands, back.Commands);
        using var again = new StringWriter();
        RunFile.Write(again, back);
        Assert.Equal(text.ToString(), again.ToString());
    }

    /// <summary>Runs from before the controls had their present names fly on: every former position means something. An old fire test drives a line.</summary>
    [Fact]
    public void Runs_with_former_names_of_controls_are_flown_in_todays()
    {
        foreach (var aircraft in Repository.Fleet.Aircraft)
        {
            var header = Situations.Calm with { Aircraft = aircraft.Id };
            foreach (var former in aircraft.Formerly)
            {
                var m = Rehearsal.Replay(Repository.Fleet, new RunLog(header,
                    [new RunCommand(50, CommandKind.Look, former.Control), new RunCommand(60, CommandKind.Set, former.Control, former.To)])).Machine;
                Assert.All(former.Now, now => Assert.Equal(m.Signals.Find(now.Key)!.PositionOf(now.Value), (int)m[now.Key]));
            }
        }

        var old = """
            {"t":1,"set":"battery","to":"on"}
            {"t":2,"hold":"fire-test","to":"a"}
            {"t":20,"release":"fire-test"}
            {"t":20.2,"hold":"fuel-valve-reset","to":"pressed"}
            {"t":20.8,"release":"fuel-valve-reset"}
            {"t":21,"set":"aux-unit","to":"on"}
            {"t":45,"set":"crank","to":"right"}
            {"t":56,"set":"throttle-right","to":"idle"}
            {"t":120,"set":"bleed","to":"left"}
            {"t":121,"set":"bleed","to":"off"}
            {"t":122,"set":"bleed","to":"right"}
            {"t":123,"set":"bleed","to":"both"}
            {"t":125,"end":true}
            """;
        var machine = Rehearsal.Replay(Repository.Fleet, RunFile.Read(new StringReader(Header + "\n" + old.Replace("\r", "", StringComparison.Ordinal)))).Machine;
        Assert.True(machine["right.n2"] > 60);
        Assert.Equal((1, 1), (machine["fire.inner-proved"], machine["air.cabin"]));
    }
}
