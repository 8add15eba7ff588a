using System.Security.Cryptography;
using System.Text;

namespace HardyEmber.Web;

/// <summary>The one page that all addresses of the front end lead to. Each time it is sent it carries a new nonce, which its policy lets style elements through by.</summary>
internal static class Pages
{
    /// <summary>Where the gate finds the nonce of the page that is being sent.</summary>
    public const string Nonce = "page-nonce";

    private const string File = "index.html", Place = "{nonce}";

    public static void MapPages(this WebApplication app)
    {
        app.MapMethods("/" + File, [HttpMethods.Get, HttpMethods.Head], Send).ExcludeFromDescription();
        app.MapFallback(Send).WithMetadata(new HttpMethodMetadata([HttpMethods.Get, HttpMethods.Head]));
    }

    private static async Task<IResult> Send(HttpContext context, IWebHostEnvironment environment)
    {
        var file = environment.WebRootFileProvider.GetFileInfo(File);
        if (!file.Exists)
        {
            return TypedResults.Problem("the front end is not built: run ./ember up", statusCode: StatusCodes.Status404NotFound, title: "Not found.");
        }

        using var reader = new StreamReader(file.CreateReadStream(), Encoding.UTF8);
        var nonce = Convert.ToBase64String(RandomNumberGenerator.GetBytes(18));
        context.Items[Nonce] = nonce;
        // Asked for anew every time, and never as "not modified": an old body would not fit a new policy.
        context.Response.Headers.CacheControl = "no-cache";
        return TypedResults.Text((await reader.ReadToEndAsync(context.RequestAborted).ConfigureAwait(false)).Replace(Place, nonce, StringComparison.Ordinal), "text/html",
            Encoding.UTF8);
    }
}
