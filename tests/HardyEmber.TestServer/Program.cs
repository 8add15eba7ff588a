using HardyEmber.TestServer;
using HardyEmber.Web;
using HardyEmber.Web.Live;
using Microsoft.Extensions.FileProviders;

var clock = new SteppedClock();
return await EmberServer.RunAsync(args, clock, app =>
{
    // Moves the clock on, by no more at once than a run catches up; answers with the number of the state that each live run has reached.
    app.MapPost("/test/step", async (double seconds, LiveRuns runs) =>
    {
        async Task<Dictionary<string, int>> NumbersAsync()
        {
            var numbers = new Dictionary<string, int>();
            foreach (var run in runs.All)
            {
                numbers[run.Id] = await run.NumberAsync().ConfigureAwait(false);
            }

            return numbers;
        }

        for (var left = TimeSpan.FromSeconds(seconds); left > TimeSpan.Zero; left -= LiveRun.MostCaughtUp)
        {
            await NumbersAsync().ConfigureAwait(false); // a command on its way to the disk is there before the clock moves: that time would be nobody's
            clock.MoveOn(left < LiveRun.MostCaughtUp ? left : LiveRun.MostCaughtUp);
            await runs.TickAsync().ConfigureAwait(false);
        }

        return await NumbersAsync().ConfigureAwait(false);
    }).ExcludeFromDescription();

    // Moves the clock on at once, as a machine does that halted.
    app.MapPost("/test/halt", async (double seconds, LiveRuns runs) =>
    {
        clock.MoveOn(TimeSpan.FromSeconds(seconds));
        await runs.TickAsync().ConfigureAwait(false);
    }).ExcludeFromDescription();

    // Pieces of the front end on a page of their own: web/src/units.ts.
    if (app.Configuration["units"] is { } units && Directory.Exists(units))
    {
        app.UseStaticFiles(new StaticFileOptions { RequestPath = "/units", FileProvider = new PhysicalFileProvider(Path.GetFullPath(units)) });
    }
}).ConfigureAwait(false);
