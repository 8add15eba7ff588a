using System.Collections.Concurrent;
using System.Reflection;
using Microsoft.AspNetCore.SignalR;

namespace HardyEmber.Web.Live;

/// <summary>What goes wrong in a call: a refusal is an answer, everything else is written down and told in one line.</summary>
internal sealed partial class HubErrors(ILogger<HubErrors> log) : IHubFilter
{
    /// <summary>The framework's own log of these, which takes every refusal for an error.</summary>
    public const string FrameworkLog = "Microsoft.AspNetCore.SignalR.Internal.DefaultHubDispatcher";

    private static readonly ConcurrentDictionary<MethodInfo, string?[]> Parameters = new();

    public async ValueTask<object?> InvokeMethodAsync(HubInvocationContext invocationContext, Func<HubInvocationContext, ValueTask<object?>> next)
    {
        var given = invocationContext.HubMethodArguments;
        for (var i = 0; i < given.Count; i++)
        {
            if (given[i] is null && Needed(invocationContext.HubMethod)[i] is { } name)
            {
                throw new HubException($"{name}: is missing");
            }
        }

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

    // The names of a method's parameters; null for one that may be missing.
    private static string?[] Needed(MethodInfo method) => Parameters.GetOrAdd(method, static m =>
    {
        var nullability = new NullabilityInfoContext();
        return [.. m.GetParameters().Select(p => nullability.Create(p).WriteState == NullabilityState.Nullable ? null : p.Name)];
    });

    [LoggerMessage(Level = LogLevel.Error, Message = "The call {Method} failed")]
    private partial void Failed(Exception error, string method);
}
