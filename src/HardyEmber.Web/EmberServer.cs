using System.IO.Compression;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Store;
using HardyEmber.Web.Api;
using HardyEmber.Web.Demo;
using HardyEmber.Web.Entrance;
using HardyEmber.Web.Live;
using HardyEmber.Web.Work;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.StaticFiles;

namespace HardyEmber.Web;

/// <summary>The server as a whole: what <c>Program</c> starts, and what a test host starts with a clock of its own.</summary>
public static class EmberServer
{
    /// <summary>Starts the server and waits for its end. Returns the exit code: 2 where it could not start, after one line that says why.</summary>
    /// <param name="clock">The time that live runs go by; the machine's own where none is given.</param>
    /// <param name="alsoMap">Adds endpoints of a test host.</param>
    public static async Task<int> RunAsync(string[] args, TimeProvider? clock = null, Action<WebApplication>? alsoMap = null)
    {
        try
        {
            await using var app = Build(args, clock ?? TimeProvider.System);
            alsoMap?.Invoke(app);
            await PutInOrderAsync(app).ConfigureAwait(false);
            app.MapPages();
            // What reading the data and flying the demo left behind would stay for as long as nobody needs the room: it is given back before anybody comes.
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
            await app.StartAsync().ConfigureAwait(false);
            // Other settings than "urls" may bind a server too: what is bound is asked, and nobody is answered before that.
            var rules = app.Services.GetRequiredService<GateRules>();
            rules.ThrowIfOpen(app.Urls);
            rules.Open = true;
            Console.WriteLine($"Hardy Ember is up at {app.Urls.First()}");
            if (rules.Token is not null)
            {
                Console.WriteLine("Its pages ask for the token once (EMBER_TOKEN).");
            }

            Console.WriteLine("A rehearsal aid: the approved manual, local rules and licensed practice always win.");
            await app.WaitForShutdownAsync().ConfigureAwait(false);
            return 0;
        }
        catch (Exception e) when (e is DataFolderException || e is FormatException && e.Message.Contains(':', StringComparison.Ordinal))
        {
            Console.Error.WriteLine(e.Message);
        }
        catch (Exception e) when (e is IOException or FormatException or InvalidOperationException)
        {
            Console.Error.WriteLine($"the server could not start: {e.Message.Split('\n')[0]}");
        }

        return 2;
    }

    private static WebApplication Build(string[] args, TimeProvider clock)
    {
        var builder = WebApplication.CreateBuilder(args);
        builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Warning).AddFilter("Microsoft.Hosting.Lifetime", LogLevel.Warning);
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.Limits.MaxRequestBodySize = Core.Runs.RunFile.MaxBytes;
            k.ConfigureEndpointDefaults(o => o.WithOurHeaders());
        });
        builder.Logging.AddFilter(HubErrors.FrameworkLog, LogLevel.None);
        var urls = builder.Configuration["urls"] ?? "http://127.0.0.1:5173"; // loopback unless told otherwise
        builder.WebHost.UseUrls(urls);
        var rules = GateRules.Of(builder.Configuration);
        rules.ThrowIfOpen(urls.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));
        builder.Services.AddSingleton(rules).AddSingleton<LoginStore>().AddSingleton<Logins>().AddSingleton<Guesses>();
        var fleet = FleetFolder.Load(builder.Configuration["fleet"] ?? FleetFolder.Find());
        builder.Services.AddSingleton(clock).AddSingleton(fleet).AddSingleton(Database.Open(builder.Configuration["data"] ?? "data"));
        builder.Services.AddSingleton<RunStore>().AddSingleton<SortieStore>().AddSingleton<DataStore>().AddSingleton<JudgementStore>().AddSingleton<FleetArchive>()
            .AddSingleton<StartStore>().AddSingleton<StoreWriter>()
            .AddSingleton(s => new Workshop(s.GetRequiredService<FleetArchive>().Forget)).AddSingleton<SideThread>().AddSingleton<Past>();
        builder.Services.AddSingleton<LiveRuns>().AddHostedService(s => s.GetRequiredService<LiveRuns>());
        builder.Services.Configure<JsonOptions>(o => FleetJson.Configure(o.SerializerOptions));
        var silence = Silence.Of(builder.Configuration);
        builder.Services.AddSingleton(silence);
        builder.Services.AddSignalR(o =>
        {
            o.MaximumReceiveMessageSize = 8 << 10;
            // Both sides give a sign of life each second, and take who is silent for so long for gone: the page says that its run stands still, and it does.
            o.KeepAliveInterval = TimeSpan.FromSeconds(1);
            o.ClientTimeoutInterval = silence.Longest;
            o.AddFilter<HubErrors>();
        }).AddJsonProtocol(o => FleetJson.Configure(o.PayloadSerializerOptions));
        builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        builder.Services.AddOpenApi(o => o.AddDocumentTransformer<WireTypes>());
        builder.Services.AddProblemDetails();
        // What is compressed most, the scripts, is asked for once by each browser: it is worth a few milliseconds more.
        builder.Services.AddResponseCompression(o => o.EnableForHttps = false)
            .Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal)
                .Configure<GzipCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal);

        var app = builder.Build();
        Map(app);
        return app;
    }

    // What a crash left half done is finished or forgotten before anybody comes.
    private static async Task PutInOrderAsync(WebApplication app)
    {
        var (fleet, store) = (app.Services.GetRequiredService<Fleet>(), app.Services.GetRequiredService<RunStore>());
        await store.ForgetHalfArrivedAsync().ConfigureAwait(false);
        foreach (var id in store.Unjudged())
        {
            await LateJudgement.GiveAsync(app.Services.GetRequiredService<FleetArchive>(), store, id).ConfigureAwait(false);
        }

        if (app.Configuration.GetValue<bool>("demo"))
        {
            await DemoLogbook.FillAsync(fleet, store, DateTimeOffset.UtcNow).ConfigureAwait(false);
        }
    }

    // Names under /assets carry a digest of their content; everything else may be another the next time.
    private static void Cached(StaticFileResponseContext file) => file.Context.Response.Headers.CacheControl =
        file.Context.Request.Path.StartsWithSegments("/assets", StringComparison.Ordinal) ? "public, max-age=31536000, immutable" : "no-cache";

    private static void Map(WebApplication app)
    {
        app.UseGate(app.Services.GetRequiredService<GateRules>());
        app.UseExceptionHandler(new ExceptionHandlerOptions { StatusCodeSelector = e => e is BadHttpRequestException bad ? bad.StatusCode : 500 });
        app.UseStatusCodePages();
        app.UseMiddleware<BadRequests>();
        app.UseResponseCompression();
        app.UseStaticFiles(new StaticFileOptions { OnPrepareResponse = Cached });
        var api = app.MapGroup("/api").WithTags("Hardy Ember").AddEndpointFilter(Problems.TellTrouble);
        api.MapFleet();
        api.MapRuns();
        api.MapSorties();
        api.MapQuestions();
        api.MapStarts();
        api.MapLogins();
        api.MapCompare();
        api.MapRelight();
        api.MapGet("/work", (Workshop workshop) => new WorkView(workshop.Waiting)).WithName("GetWork");
        api.MapGet("/health", () => Results.Ok(new { status = "up" })).ExcludeFromDescription();
        app.MapOpenApi();
        app.MapHub<RunHub>("/hub/run");
        // A body of another kind finds no endpoint either; it is told so.
        app.MapFallback("/api/{**rest}", (HttpRequest request) => request is { ContentType.Length: > 0 } && !request.HasJsonContentType()
            ? TypedResults.Problem("the body must be application/json", statusCode: StatusCodes.Status415UnsupportedMediaType, title: "Nothing was changed.")
            : TypedResults.Problem("there is nothing at this address", statusCode: StatusCodes.Status404NotFound, title: "Not found."));
    }
}
