using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Live;

/// <summary>What goes wrong in a call: a refusal is an answer, everything else is written down and told in one line.</summary>
internal sealed partial class HubErrors(ILogger<HubErrors> log) : IHubFilter
{
    /// <summary>The framework's own log of these, which takes every refusal for an error.</summary>
    public const string FrameworkLog = "Microsoft.AspNetCore.SignalR.Internal.DefaultHubDispatcher";

    public async ValueTask<object?> InvokeMethodAsync(HubInvocationContext invocationContext, Func<HubInvocationContext, ValueTask<object?>> next)
    {
        try
        {
            return await next(invocationContext).ConfigureAwait(false);
        }
        catch (HubException)
        {
            throw;
        }
        catch (OperationCanceledException e)
        {
            throw new HubException("run: the connection has ended", e);
        }
        catch (Exception e)
        {
            Failed(e, invocationContext.HubMethodName);
            throw new HubException("run: the server could not do this; it has been written down. Nothing was changed.", e);
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The call {Method} failed")]
    private partial void Failed(Exception error, string method);
}
