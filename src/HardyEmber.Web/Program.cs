using HardyEmber.Core.Aircraft;
using HardyEmber.Store;
using HardyEmber.Web;
using HardyEmber.Web.Api;
using HardyEmber.Web.Demo;
using HardyEmber.Web.Live;
using Microsoft.AspNetCore.Http.Json;

var builder = WebApplication.CreateBuilder(args);
builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Warning).AddFilter("Microsoft.Hosting.Lifetime", LogLevel.Warning);
builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = HardyEmber.Core.Runs.RunFile.MaxBytes);
if (builder.Configuration["urls"] is null)
{
    builder.WebHost.UseUrls("http://127.0.0.1:5173"); // loopback unless told otherwise
}

Fleet fleet;
Database database;
try
{
    fleet = FleetFolder.Load(builder.Configuration["fleet"] ?? FleetFolder.Find());
    database = Database.Open(builder.Configuration["data"] ?? "data");
}
catch (Exception e) when (e is FormatException or DataFolderException)
{
    Console.Error.WriteLine(e.Message);
    return 2;
}

builder.Services.AddSingleton(fleet).AddSingleton(database).AddSingleton<RunStore>().AddSingleton<StartStore>().AddSingleton<CommandLogWriter>();
builder.Services.AddSingleton<LiveRuns>().AddHostedService(s => s.GetRequiredService<LiveRuns>());
builder.Services.Configure<JsonOptions>(o => FleetJson.Configure(o.SerializerOptions));
builder.Services.AddSignalR(o => o.MaximumReceiveMessageSize = 8 << 10).AddJsonProtocol(o => FleetJson.Configure(o.PayloadSerializerOptions));
builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
builder.Services.AddOpenApi();
builder.Services.AddProblemDetails();
builder.Services.AddResponseCompression(o => o.EnableForHttps = false);

var app = builder.Build();
app.UseExceptionHandler(new ExceptionHandlerOptions { StatusCodeSelector = e => e is BadHttpRequestException bad ? bad.StatusCode : 500 });
app.UseStatusCodePages();
app.UseMiddleware<BadJson>();
app.UseSameOrigin();
app.UseResponseCompression();
app.UseDefaultFiles();
app.UseStaticFiles(new StaticFileOptions
{
    // Names under /assets carry a digest of their content.
    OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = c.Context.Request.Path.StartsWithSegments("/assets", StringComparison.Ordinal) ? "public, max-age=31536000, immutable" : "no-cache",
});
var api = app.MapGroup("/api");
api.MapFleet();
api.MapRuns();
api.MapQuestions();
api.MapStarts();
api.MapGet("/health", () => Results.Ok(new { status = "up" })).ExcludeFromDescription();
app.MapOpenApi();
app.MapHub<RunHub>("/hub/run");
app.MapFallback("/api/{**rest}", () => TypedResults.Problem("there is nothing at this address", statusCode: 404, title: "Not found."));
app.MapFallbackToFile("index.html");

if (builder.Configuration.GetValue<bool>("demo"))
{
    DemoLogbook.Fill(fleet, app.Services.GetRequiredService<RunStore>(), DateTimeOffset.UtcNow);
}

try
{
    await app.StartAsync().ConfigureAwait(false);
}
catch (IOException e)
{
    Console.Error.WriteLine($"the server could not start: {e.Message}");
    return 2;
}

Console.WriteLine($"Hardy Ember is up at {app.Urls.First()}");
Console.WriteLine("A rehearsal aid: the approved manual, local rules and licensed practice always win.");
await app.WaitForShutdownAsync().ConfigureAwait(false);
return 0;
