using HardyEmber.Bench;

switch (args.FirstOrDefault())
{
    case "core":
        CoreBench.Run(args.ElementAtOrDefault(1));
        return 0;
    case "advice":
        AdviceBench.Run(args.Length > 1 ? int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture) : 21_000);
        return 0;
    case "advice-of":
        AdviceBench.Tell(int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture));
        return 0;
    case "energy":
        EnergyBench.Run(args.ElementAtOrDefault(1));
        return 0;
    case "relight":
        RelightBench.Run();
        return 0;
    case "latency":
        await LatencyBench.RunAsync().ConfigureAwait(false);
        return 0;
    case "load":
        await LoadBench.RunAsync(args.Length > 1 ? double.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture) : 10).ConfigureAwait(false);
        return 0;
    case "abuse":
        return await AbuseBench.RunAsync(args.Length > 1 ? double.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture) : 1, args.ElementAtOrDefault(2))
            .ConfigureAwait(false);
    case "logbook":
        await LogbookBench.RunAsync().ConfigureAwait(false);
        return 0;
    case "page":
        await PageBench.RunAsync().ConfigureAwait(false);
        return 0;
    case "shots":
        await Shots.TakeAsync(args.ElementAtOrDefault(1) ?? "docs/screenshots", args.Skip(2).ToArray()).ConfigureAwait(false);
        return 0;
    case "watch":
        await WatchSheet.TakeAsync(args[1], args.Contains("tablet") ? 820 : 1280, args.Contains("tablet") ? 1180 : 800, [.. args.Skip(2).Where(a => a != "tablet")])
            .ConfigureAwait(false);
        return 0;
    case "openapi":
        await OpenApi.WriteAsync(args[1]).ConfigureAwait(false);
        return 0;
    default:
        Console.Error.WriteLine("one of: core [NAME], advice [STARTS], advice-of NUMBER, energy [AIRCRAFT], relight, latency, load [MINUTES], "
            + "abuse [SHARE [KIND]], logbook, page, shots [FOLDER [NAME[@WIDTHxHEIGHT][@THEME]...]], watch FOLDER [tablet] [KIND...], openapi FILE");
        return 2;
}
