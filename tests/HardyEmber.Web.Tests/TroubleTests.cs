using System.Diagnostics;
using System.Text.Json;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;
using HardyEmber.Testing;

namespace HardyEmber.Web.Tests;

/// <summary>Trouble around the server: killed, started twice, given an unusable folder; and the program without a browser.</summary>
public sealed class TroubleTests
{
    [Fact]
    public async Task After_kill_9_every_acknowledged_command_is_there_and_the_run_goes_on()
    {
        await using var server = await ServerProcess.StartAsync(stepped: true);
        var id = await server.CreateAsync();
        var acknowledged = 0;
        double reached;
        await using (var page = await HubPage.OpenAsync(server, id))
        {
            await page.SendAsync("Set", "battery", "on");
            await page.SendAsync("Set", "aux-unit", "on");
            acknowledged += 2;
            await page.StepUntilAsync(p => p.Value("aux.ready") > 0.5, "the auxiliary unit");
            reached = page.Time;
            var kill = Task.CompletedTask;
            try
            {
                // Hammer the log until the process dies under it.
                while (true)
                {
                    await page.SendAsync("Set", "radio", acknowledged % 2 == 0 ? "on" : "off");
                    if (++acknowledged == 20)
                    {
                        kill = server.KillAsync();
                    }
                }
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                await kill;
            }
        }

        await server.RestartAsync();
        await using var again = await HubPage.OpenAsync(server, id);
        Assert.InRange(again.Actions.Count, acknowledged, acknowledged + 1); // one more may have reached the disk unacknowledged
        Assert.Equal(1, again.Value("aux.ready"));
        Assert.True(again.Time >= reached - 1.1, $"resumed at {again.Time}, had reached {reached}");
        Assert.True(again.Paused);
        await again.CallAsync("Pause", false);
        await again.SendAsync("Set", "battery", "off");
    }

    [Fact]
    public async Task A_second_server_on_the_same_data_or_port_gets_one_clear_line()
    {
        await using var server = await ServerProcess.StartAsync();
        var (code, error) = await Programs.RunAsync("HardyEmber.Web", "--urls", $"http://127.0.0.1:{ServerProcess.FreePort()}", "--data", server.Data);
        Assert.Equal(2, code);
        Assert.Contains("another server already uses the data folder", error, StringComparison.Ordinal);
        var other = Repository.TemporaryFolder();
        (code, error) = await Programs.RunAsync("HardyEmber.Web", "--urls", server.Address.ToString(), "--data", other);
        Assert.Equal(2, code);
        Assert.Contains("the server could not start", error, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_unusable_data_folder_is_one_clear_line()
    {
        // Root may write anywhere, so a read-only folder is one the kernel keeps.
        var (code, error) = await Programs.RunAsync("HardyEmber.Web", "--urls", $"http://127.0.0.1:{ServerProcess.FreePort()}", "--data", "/proc/hardy-ember");
        Assert.Equal(2, code);
        Assert.Single(error.Trim().Split('\n'));
        Assert.Contains("cannot be written", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Ember_up_starts_with_the_demo_logbook_and_serves_the_page()
    {
        var address = $"http://127.0.0.1:{ServerProcess.FreePort()}";
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "ember"), ["up"]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["EMBER_URL"] = address;
        start.Environment["EMBER_DATA"] = Repository.TemporaryFolder();
        using var process = Process.Start(start)!;
        try
        {
            var error = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
            using var limit = new CancellationTokenSource(TimeSpan.FromMinutes(3));
            string? line;
            do
            {
                line = await process.StandardOutput.ReadLineAsync(limit.Token);
            }
            while (line is not null && !line.Contains(address, StringComparison.Ordinal));
            Assert.True(line is not null, line is null ? await error : "");
            using var client = new HttpClient { BaseAddress = new Uri(address) };
            Assert.Contains("<script", await client.GetStringAsync(Pages.Path("/"), limit.Token), StringComparison.Ordinal);
            var runs = JsonSerializer.Deserialize<JsonElement>(await client.GetStringAsync(Pages.Path("/api/runs"), limit.Token)).GetProperty("runs");
            Assert.Equal(DemoFolder.Load(DemoFolder.Find()).Flights.Count, runs.GetArrayLength());
            Assert.All(runs.EnumerateArray(), r => Assert.True(r.GetProperty("ended").GetBoolean()));
        }
        finally
        {
            process.Kill(entireProcessTree: true);
        }
    }

    [Fact]
    public async Task Check_lists_every_fault_of_a_folder_and_names_its_line()
    {
        var folder = Repository.TemporaryFolder();
        var parts = Directory.EnumerateFiles(Path.Combine(Repository.Root, "fleet", "parts")).Select(f => $"parts/{Path.GetFileName(f)}");
        foreach (var file in parts.Concat(["faults.json", "places/skerrow-main.json", "aircraft/sedge.json", "procedures/sedge-ground.json"]))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(folder, file))!);
            File.Copy(Path.Combine(Repository.Root, "fleet", file), Path.Combine(folder, file));
        }

        Assert.Equal((0, "", "sound: 1 aircraft, 1 procedures, 1 places, 62 kinds of fault\n"), await Programs.RunForOutputAsync("HardyEmber.Cli", "check", folder));
        var broken = Path.Combine(folder, "procedures/sedge-ground.json");
        var lines = await File.ReadAllLinesAsync(broken, TestContext.Current.CancellationToken);
        var line = Array.FindIndex(lines, l => l.Contains("\"set\": \"speed-brake\"", StringComparison.Ordinal));
        lines[line] = lines[line].Replace("\"speed-brake\"", "\"speed-break\"", StringComparison.Ordinal);
        await File.WriteAllLinesAsync(broken, lines, TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(folder, "faults.json"),
            (await File.ReadAllTextAsync(Path.Combine(folder, "faults.json"), TestContext.Current.CancellationToken))
            .Replace("\"withinS\": 180,", "\"withinS\": \"soon\",", StringComparison.Ordinal), TestContext.Current.CancellationToken);
        var (code, error) = await Programs.RunAsync("HardyEmber.Cli", "check", folder);
        Assert.Equal(2, code);
        Assert.Contains("faults.json:", error, StringComparison.Ordinal);
        Assert.Contains("a number is needed here", error, StringComparison.Ordinal);
        Assert.Equal(2, (await Programs.RunAsync("HardyEmber.Cli", "check", Path.Combine(folder, "nowhere"))).Code);
        File.Copy(Path.Combine(Repository.Root, "fleet", "faults.json"), Path.Combine(folder, "faults.json"), overwrite: true);
        Assert.Contains($"sedge-ground.json:{line + 1}:", (await Programs.RunAsync("HardyEmber.Cli", "check", folder)).Error, StringComparison.Ordinal);
    }

    /// <summary>A run's file may carry any words; what stands in a cell of the telemetry begins with a name, and is quoted where it must be.</summary>
    [Fact]
    public async Task Telemetry_holds_no_formula_and_every_row_has_as_many_cells()
    {
        var header = Pages.Header with { Aircraft = "sedge" };
        DataVersion With(string from, string to) => DataVersion.Of(Repository.Fleet.VersionFor("sedge", header.Place).Files.Select(f => f.Path == "aircraft/sedge.json"
            ? f with { Text = f.Text.Replace(from, to, StringComparison.Ordinal) } : f));
        foreach (var formula in new[] { "=1+1", "+1", "-1", "@x" })
        {
            var faults = Assert.Throws<Core.Definitions.DataFaultException>(() => With("\"arm\"", $"\"{formula}\"").Load()).Faults;
            Assert.Contains(faults, f => f.Problem.StartsWith("a name has", StringComparison.Ordinal));
            Assert.Throws<Core.Definitions.DataFaultException>(() => With("\"id\": \"master-arm\"", $"\"id\": \"{formula}\"").Load());
        }

        var data = With("\"unit\": \"hPa\"", "\"unit\": \"=h,\\\"Pa\"");
        var (file, csv) = (Path.Combine(Repository.TemporaryFolder(), "run.ndjson"), Path.Combine(Repository.TemporaryFolder(), "out.csv"));
        await using (var text = new StreamWriter(file))
        {
            RunFile.Write(text, new RunLog(header with { Data = data.Digest }, [new(100, CommandKind.End)]) { Data = data });
        }

        Assert.Equal((0, ""), await Programs.RunAsync("HardyEmber.Cli", "sim", file, "--telemetry", csv));
        var rows = await File.ReadAllLinesAsync(csv, TestContext.Current.CancellationToken);
        Assert.Contains(" [=h,\"\"Pa]\",", rows[0], StringComparison.Ordinal);
        Assert.All(rows.Skip(1), r => Assert.Equal(rows[0].Count(c => c == ',') - 1, r.Count(c => c == ','))); // one comma of the heading is quoted
    }

    [Fact]
    public async Task Sim_prints_a_summary_and_writes_telemetry_and_findings()
    {
        var folder = Repository.TemporaryFolder();
        var file = Path.Combine(folder, "run.ndjson");
        await File.WriteAllTextAsync(file, JsonSerializer.Serialize(Pages.Header, Core.Definitions.FleetJson.Line)
            + "\n{\"t\":1,\"set\":\"battery\",\"to\":\"on\"}\n{\"t\":30,\"end\":true}\n", TestContext.Current.CancellationToken);
        var csv = Path.Combine(folder, "out.csv");
        var json = Path.Combine(folder, "out.json");
        var (code, error, output) = await Programs.RunForOutputAsync("HardyEmber.Cli", "sim", file, "--telemetry", csv, "--findings", json);
        Assert.Equal((0, ""), (code, error));
        var summary = JsonSerializer.Deserialize<JsonElement>(output);
        Assert.Equal("not-ready", summary.GetProperty("verdict").GetString());
        Assert.Equal(1, summary.GetProperty("milestones").GetProperty("battery-on").GetDouble(), 1);
        var lines = await File.ReadAllLinesAsync(csv, TestContext.Current.CancellationToken);
        Assert.Contains("battery.volts [V]", lines[0], StringComparison.Ordinal);
        Assert.Equal(301, lines.Length); // header and ten rows a second
        Assert.All(lines, l => Assert.Equal(lines[0].Count(c => c == ','), l.Count(c => c == ',')));
        Assert.True(JsonSerializer.Deserialize<JsonElement>(await File.ReadAllTextAsync(json, TestContext.Current.CancellationToken)).GetProperty("findings").GetArrayLength() > 0);
    }

    [Fact]
    public async Task Sim_repeats_a_header_with_progress_and_refuses_counts_and_wear_that_are_none()
    {
        var file = Path.Combine(Repository.TemporaryFolder(), "header.ndjson");
        await File.WriteAllTextAsync(file, JsonSerializer.Serialize(Pages.Header with { Aircraft = "teasel", Loading = null }, Core.Definitions.FleetJson.Line) + "\n",
            TestContext.Current.CancellationToken);
        var (code, error, output) = await Programs.RunForOutputAsync("HardyEmber.Cli", "sim", file, "--repeat", "200", "--wear", "0.2");
        Assert.Equal(0, code);
        Assert.Contains("200 of 200 starts", error, StringComparison.Ordinal);
        var chance = JsonSerializer.Deserialize<JsonElement>(output);
        Assert.Equal(200, chance.GetProperty("starts").GetInt32());
        Assert.InRange(chance.GetProperty("ready").GetDouble(), 0.5, 0.999);
        Assert.True(chance.GetProperty("readyS").GetProperty("low").GetDouble() > 100);
        foreach (var bad in new string[][] { ["--repeat", "0"], ["--repeat", "10", "--wear", "2"] })
        {
            (code, error, output) = await Programs.RunForOutputAsync("HardyEmber.Cli", ["sim", file, .. bad]);
            Assert.Equal((2, ""), (code, output));
            Assert.Contains(bad[^2], error, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("{\"t\":1,\"set\":\"warp\",\"to\":\"on\"}", "line 2, set: there is no control \"warp\"")]
    [InlineData("{\"t\":2,\"end\":true}\n{\"t\":1,\"end\":true}", "line 3, t:")]
    [InlineData("{\"t\":1,\"set\":\"bat", "line 2")]
    public async Task Sim_names_line_and_field_exits_2_and_writes_nothing(string commands, string complaint)
    {
        var folder = Repository.TemporaryFolder();
        var file = Path.Combine(folder, "bad.ndjson");
        await File.WriteAllTextAsync(file, JsonSerializer.Serialize(Pages.Header, Core.Definitions.FleetJson.Line) + "\n" + commands, TestContext.Current.CancellationToken);
        var csv = Path.Combine(folder, "out.csv");
        var (code, error) = await Programs.RunAsync("HardyEmber.Cli", "sim", file, "--telemetry", csv);
        Assert.Equal(2, code);
        Assert.Contains(complaint, error, StringComparison.Ordinal);
        Assert.Single(error.Trim().Split('\n'));
        Assert.False(File.Exists(csv));
    }

    [Fact]
    public async Task Sim_refuses_a_file_of_fifty_megabytes_and_one_that_is_not_there()
    {
        var file = Path.Combine(Repository.TemporaryFolder(), "huge.ndjson");
        await using (var stream = File.Create(file))
        {
            stream.SetLength(50 << 20);
        }

        var (code, error) = await Programs.RunAsync("HardyEmber.Cli", "sim", file);
        Assert.Equal(2, code);
        Assert.Contains("50 MB", error, StringComparison.Ordinal);
        (code, error) = await Programs.RunAsync("HardyEmber.Cli", "sim", file + ".none");
        Assert.Equal(2, code);
        Assert.Contains("no such file", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_scripted_flight_from_the_command_line_is_a_run_file_that_sim_reads()
    {
        var folder = Repository.TemporaryFolder();
        var header = Path.Combine(folder, "header.ndjson");
        await File.WriteAllTextAsync(header, JsonSerializer.Serialize(Pages.Header, Core.Definitions.FleetJson.Line), TestContext.Current.CancellationToken);
        var (code, _, flown) = await Programs.RunForOutputAsync("HardyEmber.Cli", "fly", header);
        Assert.Equal(0, code);
        using var reader = new StringReader(flown);
        Assert.True(RunFile.Read(reader).Ended);
    }
}
