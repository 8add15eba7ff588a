using HardyEmber.Web.Live;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace HardyEmber.Web.Api;

/// <summary>Adds what the hub sends to the API's description, so that the front end's types of it are generated as well.</summary>
internal sealed class WireTypes : IOpenApiDocumentTransformer
{
    public async Task TransformAsync(OpenApiDocument document, OpenApiDocumentTransformerContext context, CancellationToken cancellationToken)
    {
        foreach (var type in new[] { typeof(Snapshot), typeof(Frame), typeof(Ack) })
        {
            document.AddComponent(type.Name, await context.GetOrCreateSchemaAsync(type, cancellationToken: cancellationToken).ConfigureAwait(false));
        }
    }
}
