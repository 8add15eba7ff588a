using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Web.Api;

namespace HardyEmber.Web;

/// <summary>A body that is not the JSON an endpoint reads: the field is named, nothing was changed.</summary>
internal sealed class BadJson(RequestDelegate next)
{
    public async Task InvokeAsync(HttpContext context)
    {
        try
        {
            await next(context).ConfigureAwait(false);
        }
        catch (BadHttpRequestException e) when (e.InnerException is JsonException json)
        {
            await Problems.Bad(FleetJson.FieldOf(json), FleetJson.Plain(json)).ExecuteAsync(context).ConfigureAwait(false);
        }
        catch (InvalidOperationException e) when (e.Source?.StartsWith("System.Text.Json", StringComparison.Ordinal) == true)
        {
            await Problems.Bad("body", "a text holds half a character").ExecuteAsync(context).ConfigureAwait(false); // a lone surrogate
        }
    }
}
