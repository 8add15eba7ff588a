using System.CommandLine;
using HardyEmber.Cli;

var file = new Argument<FileInfo>("file") { Description = "A run file (NDJSON: a header line, then commands)." };
var telemetry = new Option<FileInfo?>("--telemetry") { Description = "Write one row a tenth of a second, one column a signal, as CSV." };
var findings = new Option<FileInfo?>("--findings") { Description = "Write the judge's findings as JSON." };
var sim = new Command("sim", "Simulate and judge a run; print its summary as JSON.") { file, telemetry, findings };
var withData = new Option<FileInfo?>("--with-data") { Description = "Write the run again with the data that it rests on, so that others fly it with the same." };
sim.Options.Add(withData);
var repeat = new Option<int?>("--repeat") { Description = "Instead: fly the header so many times with scattered weather, wear and pilots; print the chances." };
var wear = new Option<double>("--wear") { Description = "With --repeat: the chance that a start carries a drawn fault, 0 to 1.", DefaultValueFactory = _ => 0.1 };
sim.Options.Add(repeat);
sim.Options.Add(wear);
sim.SetAction((args, cancel) =>
{
    var run = args.GetValue(file)!;
    return Task.FromResult(args.GetValue(repeat) is { } times
        ? ChanceCommand.Run(run, times, args.GetValue(wear), Console.Out, Console.Error, cancel)
        : SimCommand.Run(run, args.GetValue(telemetry), args.GetValue(findings), args.GetValue(withData), Console.Out, Console.Error));
});

var header = new Argument<FileInfo>("file") { Description = "A run file; only its header is read." };
var reaction = new Option<double>("--reaction") { Description = "Mean reaction time, s.", DefaultValueFactory = _ => 1.2 };
var fly = new Command("fly", "Let a scripted pilot fly a run's header by the guide's cues; print the run file.") { header, reaction };
fly.SetAction(args => FlyCommand.Run(args.GetValue(header)!, args.GetValue(reaction), Console.Out, Console.Error));

var folder = new Argument<string?>("folder") { Description = "The folder with the data files; the product's own where none is named.", Arity = ArgumentArity.ZeroOrOne };
var check = new Command("check", "Check the data files; every fault with its file, line and place.") { folder };
check.SetAction(args => CheckCommand.Run(args.GetValue(folder), Console.Out, Console.Error));

var aircraft = new Argument<string>("aircraft") { Description = "The aircraft's id, such as juniper." };
var beginning = new Option<string>("--beginning") { Description = "first, turnaround or air.", DefaultValueFactory = _ => "first" };
var school = new Option<string[]>("--school") { Description = "Answers of the school, question=answer, with commas between.", DefaultValueFactory = _ => [] };
var json = new Option<bool>("--json") { Description = "Print JSON: every step with what it takes, what it waits for and what comes before it." };
var procedure = new Command("procedure", "Print the procedure of an aircraft as a situation and a school leave it.") { aircraft, beginning, school, json };
procedure.SetAction(args => ProcedureCommand.Run(args.GetValue(aircraft)!, args.GetValue(beginning)!, args.GetValue(school)!, args.GetValue(json), Console.Out, Console.Error));

var schemas = new Command("schemas", "Write the JSON Schemas of the data files to fleet/schema.");
schemas.SetAction(_ => SchemaCommand.Run());

var figures = new Command("figures", "Fly the cases of the behaviour table and draw docs/models/starts.md.");
figures.SetAction(_ => FiguresCommand.Run());

var demo = new Command("demo", "Fly those of the demo squadron's kept flights that have no run file yet, and write how all of them fly to demo/kept.json.");
demo.SetAction(_ => DemoCommand.Run(Console.Error));

var copy = new Argument<FileInfo>("file") { Description = "Where the copy goes; it must not be there yet." };
var data = new Option<string>("--data") { Description = "The data folder.", DefaultValueFactory = _ => "data" };
var backup = new Command("backup", "Copy the database, also while the server runs, and check the copy to the last page.") { copy, data };
backup.SetAction(args => BackupCommand.Run(args.GetValue(copy)!, args.GetValue(data)!, Console.Out, Console.Error));

var from = new Argument<FileInfo>("file") { Description = "A copy that backup made." };
var restore = new Command("restore", "Put a copy of the database in the place of the one that is there, which is kept aside. No server may have it open.") { from, data };
restore.SetAction(args => RestoreCommand.Run(args.GetValue(from)!, args.GetValue(data)!, Console.Out, Console.Error));

var parsed = new RootCommand("Hardy Ember without a browser. A rehearsal aid: the approved manual and local rules always win.") { sim, fly, check, procedure, schemas, figures,
    demo, backup, restore }.Parse(args);
// A command that was not understood is told with its usage, and is a 2 like every other bad input.
return parsed.Errors.Count > 0 ? Usage.Refuse(parsed, Console.Error) : parsed.Invoke();
