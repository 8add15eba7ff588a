using System.IO.Pipelines;
using System.Text;
using Microsoft.AspNetCore.Server.Kestrel.Core;

namespace HardyEmber.Web.Entrance;

/// <summary>
/// The web server answers what is no sound request by itself (400, 414, 431), before anything of ours sees it. Here those answers get the headers that stand
/// on every other: they go out whole, at once, and are the last of their connection.
/// </summary>
internal static class RawAnswers
{
    private static readonly byte[] Begin = "HTTP/1.1 4"u8.ToArray(), End = "\r\n\r\n"u8.ToArray();

    // One of ours, which stands on each answer that went through the gate.
    private static readonly byte[] Known = "Content-Security-Policy:"u8.ToArray();
    private static readonly byte[] Headers = Encoding.ASCII.GetBytes(string.Concat(Gate.HeadersWith(null).Select(h => $"{h.Name}: {h.Value}\r\n")) + "\r\n");

    public static void WithOurHeaders(this ListenOptions options) => options.Use(next => async connection =>
    {
        var transport = connection.Transport;
        connection.Transport = new Pair(transport.Input, new Writer(transport.Output));
        try
        {
            await next(connection).ConfigureAwait(false);
        }
        finally
        {
            connection.Transport = transport;
        }
    });

    private sealed record Pair(PipeReader Input, PipeWriter Output) : IDuplexPipe;

    private sealed class Writer(PipeWriter inner) : PipeWriter
    {
        private Memory<byte> _given;

        public override bool CanGetUnflushedBytes => inner.CanGetUnflushedBytes;
        public override long UnflushedBytes => inner.UnflushedBytes;

        // Room for our headers as well: they go into the same piece.
        public override Memory<byte> GetMemory(int sizeHint = 0) => _given = inner.GetMemory(sizeHint);

        public override Span<byte> GetSpan(int sizeHint = 0) => GetMemory(sizeHint).Span;

        public override void Advance(int bytes)
        {
            var given = _given.Span;
            var written = given[..Math.Min(bytes, given.Length)];
            if (written.StartsWith(Begin) && written.EndsWith(End) && written.IndexOf(Known) < 0 && given.Length - bytes >= Headers.Length)
            {
                Headers.CopyTo(given[(bytes - 2)..]); // in place of the empty line, which they end with
                bytes += Headers.Length - 2;
            }

            _given = default;
            inner.Advance(bytes);
        }

        public override ValueTask<FlushResult> FlushAsync(CancellationToken cancellationToken = default) => inner.FlushAsync(cancellationToken);

        public override ValueTask<FlushResult> WriteAsync(ReadOnlyMemory<byte> source, CancellationToken cancellationToken = default) =>
            inner.WriteAsync(source, cancellationToken);

        public override void CancelPendingFlush() => inner.CancelPendingFlush();

        public override void Complete(Exception? exception = null) => inner.Complete(exception);

        public override ValueTask CompleteAsync(Exception? exception = null) => inner.CompleteAsync(exception);
    }
}
