using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Threading.Channels;

namespace Kiln.Pixels.Decoding.Workers;

/// <summary>
/// Decodes in child processes, as many at a time as there are workers. A worker that crashes, hangs or grows beyond the limits is ended
/// and costs one file; the next request starts a new one.
/// </summary>
public sealed class DecodeWorkerPool : IPictureDecoder, IAsyncDisposable
{
    private readonly Func<ProcessStartInfo> command;
    private readonly DecodeLimits limits;
    private readonly Channel<Worker?> idle;
    private readonly int size;

    /// <param name="command">How a worker is started; it must end in <see cref="DecodeWorker.Run"/>.</param>
    public DecodeWorkerPool(Func<ProcessStartInfo> command, int? workers = null, DecodeLimits? limits = null)
    {
        this.command = command;
        this.limits = limits ?? DecodeLimits.Default;
        size = workers ?? Math.Max(2, Environment.ProcessorCount);
        idle = Channel.CreateBounded<Worker?>(size);
        for (var i = 0; i < size; i++)
            idle.Writer.TryWrite(null);
    }

    /// <summary>A pool whose workers are this program, started again with the verb <c>decode-worker</c>.</summary>
    public static DecodeWorkerPool OfThisProgram(int? workers = null, DecodeLimits? limits = null, string? assembly = null)
    {
        assembly ??= System.Reflection.Assembly.GetEntryAssembly()!.Location;
        return new(
            () =>
            {
                var start = new ProcessStartInfo(
                    Path.GetFileNameWithoutExtension(Environment.ProcessPath) == "dotnet" ? Environment.ProcessPath! : "dotnet"
                );
                start.ArgumentList.Add(assembly);
                start.ArgumentList.Add("decode-worker");
                start.Environment["DOTNET_TieredCompilation"] = "1";
                start.Environment["DOTNET_gcServer"] = "0";
                return start;
            },
            workers,
            limits
        );
    }

    public async Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        (await ExamineAsync(path, longest, cancel)).Copy;

    public async Task<(ImageBuffer Copy, PictureProbe Probe)> ExamineAsync(
        string path,
        int? longest = null,
        CancellationToken cancel = default
    )
    {
        var worker = await idle.Reader.ReadAsync(cancel);
        try
        {
            worker ??= new Worker(command());
            var picture = await worker.AskAsync(new(path, longest, limits), cancel);
            return picture;
        }
        catch (Exception e) when (e is not PictureException)
        {
            var reason = worker?.EndedBecause;
            worker?.Dispose();
            worker = null;
            cancel.ThrowIfCancellationRequested();
            throw new PictureException(reason ?? "The decoder crashed on this picture; the file is damaged or hostile.", e);
        }
        finally
        {
            idle.Writer.TryWrite(worker);
        }
    }

    public async ValueTask DisposeAsync()
    {
        for (var i = 0; i < size; i++)
            (await idle.Reader.ReadAsync())?.Dispose();
    }

    private sealed class Worker : IDisposable
    {
        private readonly Process process;
        private readonly Stream output;

        public Worker(ProcessStartInfo start)
        {
            start.RedirectStandardInput = start.RedirectStandardOutput = start.RedirectStandardError = true;
            process = Process.Start(start) ?? throw new InvalidOperationException("The decoding process did not start.");
            process.ErrorDataReceived += (_, _) => { };
            process.BeginErrorReadLine();
            output = process.StandardOutput.BaseStream;
        }

        public string? EndedBecause { get; private set; }

        public async Task<(ImageBuffer Copy, PictureProbe Probe)> AskAsync(DecodeRequest request, CancellationToken cancel)
        {
            using var done = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            var watch = WatchAsync(request.Limits, done.Token);
            try
            {
                using var kill = cancel.Register(() => Kill("cancelled"));
                await process.StandardInput.WriteLineAsync(JsonSerializer.Serialize(request, DecodeJson.Default.DecodeRequest));
                await process.StandardInput.FlushAsync(cancel);
                var answer = JsonSerializer.Deserialize(await ReadAnswerAsync(), DecodeJson.Default.DecodeAnswer)!;
                if (answer.Error is { } error)
                    throw new PictureException(error);
                var data = new byte[answer.Bytes];
                await output.ReadExactlyAsync(data, cancel);
                return (new ImageBuffer(answer.Width, answer.Height, [.. answer.Channels], answer.Type, data), answer.Probe ?? new());
            }
            finally
            {
                await done.CancelAsync();
                await watch;
            }
        }

        private async Task WatchAsync(DecodeLimits limits, CancellationToken done)
        {
            var clock = Stopwatch.StartNew();
            while (!done.IsCancellationRequested)
            {
                await Task.Delay(100, done).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
                if (done.IsCancellationRequested || process.HasExited)
                    return;
                if (clock.Elapsed.TotalSeconds > limits.Seconds)
                    Kill($"Decoding took longer than {limits.Seconds} s and was stopped.");
                else if (Resident() > limits.ResidentBytes)
                    Kill($"Decoding needed more than {limits.ResidentBytes >> 20} MB of memory and was stopped.");
            }
        }

        /// <summary>From the kernel's own line; the runtime's question lists every thread of the process for it.</summary>
        private long Resident()
        {
            try
            {
                return long.Parse(File.ReadAllText($"/proc/{process.Id}/statm").Split(' ')[1], CultureInfo.InvariantCulture)
                    * Environment.SystemPageSize;
            }
            catch (Exception e) when (e is IOException or IndexOutOfRangeException or InvalidOperationException)
            {
                // It has ended.
                return 0;
            }
        }

        private void Kill(string because)
        {
            EndedBecause = because;
            try
            {
                process.Kill();
            }
            catch (InvalidOperationException)
            {
                // It ended by itself in the meantime.
            }
        }

        /// <summary>The answer: its length in four bytes, then JSON.</summary>
        private async Task<byte[]> ReadAnswerAsync()
        {
            var length = new byte[4];
            await output.ReadExactlyAsync(length);
            var answer = new byte[BitConverter.ToInt32(length)];
            await output.ReadExactlyAsync(answer);
            return answer;
        }

        public void Dispose()
        {
            Kill("ended");
            process.Dispose();
        }
    }
}
