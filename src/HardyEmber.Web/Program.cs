return await HardyEmber.Web.EmberServer.RunAsync(args).ConfigureAwait(false);
