using System.Buffers.Binary;
using System.Diagnostics;
using System.Text.Json;
using Kiln.Colour.Views;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Server.Platform;
using Kiln.Server.Proofs.Scheduling;

namespace Kiln.Server.Proofs;

/// <summary>What stands before each picture of the stream.</summary>
public sealed record ProofFrame(int Samples, float Noise, double Seconds, long MapBytes, bool Last, string? Error);

/// <summary>
/// A proof that is refined while somebody looks at it. Frames follow one another: length and JSON of a <see cref="ProofFrame"/>, length and
/// bytes of a picture. It ends when refined, or when the viewer asks anew.
/// </summary>
public sealed class ProofStream(LookViews views, RenderScheduler scheduler, KilnSettings settings)
{
    /// <summary>Pixel samples of one turn at the renderer.</summary>
    private const int MostPathsAtOnce = 800_000;

    /// <summary>Until a proof has so many samples, it goes before the small pictures of a wall.</summary>
    private const int EagerSamples = 16;

    public async Task SendAsync(LookId id, ProofQuery query, HttpContext http)
    {
        // Before anything else: what the viewer asked for earlier must not keep the processors from this.
        var viewer = http.User.Identity!.Name + "/" + query.Viewer;
        var (own, ended, olderEnded) = scheduler.Begin(viewer, http.RequestAborted);
        using var ending = own;
        try
        {
            var viewed = await views.OfAsync(id, query.Variant);
            var watching = new Watching(query, viewer, views.View(query.View, viewed.Working), http, own.Token);
            http.Response.ContentType = "application/octet-stream";
            await RefineAsync(viewed, watching, olderEnded);
        }
        finally
        {
            scheduler.End(viewer, ended);
        }
    }

    /// <summary>Who looks at what, and how it is shown.</summary>
    private sealed record Watching(ProofQuery Query, string Viewer, View View, HttpContext Http, CancellationToken Cancel)
    {
        public string Person => Http.User.Identity!.Name!;

        public Stopwatch Clock { get; } = Stopwatch.StartNew();
    }

    private async Task RefineAsync(ViewedLook viewed, Watching watching, Task olderEnded)
    {
        var query = watching.Query;
        string? key = null;
        PathTracer? tracer = null;
        try
        {
            var material = query.SoloLane is { } lane
                ? await views.SoloAsync(viewed, lane, query.SoloSteps, watching.Cancel)
                : await views.MaterialAsync(viewed, query.Dialect, watching.Cancel);
            key = JsonSerializer.Serialize(query.OfLight()) + $"/{LookJson.Hash(viewed.Look)}/{viewed.Working.Id}/{watching.Person}";
            await olderEnded.WaitAsync(watching.Cancel);
            tracer = scheduler.Resume(key) ?? await views.StartAsync(query.Request(), material);
            await RefineAsync(tracer, material, viewed, watching);
        }
        catch (OperationCanceledException)
        {
            // Somebody asked anew or went away; the stream just ends.
        }
        catch (Exception e) when (e is KilnException or ArgumentException)
        {
            await WriteAsync(watching.Http, new(0, 1, 0, 0, true, e.Message), [], watching.Http.RequestAborted);
        }
        finally
        {
            // A moving camera's pictures are not come back to.
            if (tracer is not null && key is not null && !query.Moving)
                scheduler.Suspend(key, tracer);
        }
    }

    private async Task RefineAsync(PathTracer tracer, ProofMaterial material, ViewedLook viewed, Watching watching)
    {
        var query = watching.Query;
        var part = query.Region;
        var limit = Math.Clamp(query.Samples, 1, settings.MostSamples);
        bool IsDone(int samples, float noise) => samples >= limit || noise <= query.UntilNoise && samples >= EagerSamples;
        for (var first = true; ; first = false)
        {
            // A part is refined alone once the whole has been seen.
            var region = part is null || tracer.Samples < EagerSamples ? null : part;
            var done = region is { } alone ? tracer.SamplesIn(alone) : tracer.Samples;
            var last = IsDone(done, tracer.Noise(region));
            if (last && !first)
                return;
            // 1, 1, 2, 4, … at a time: quick at first, then few interruptions, but never a turn so long that others wait for seconds.
            var most = Math.Clamp(MostPathsAtOnce / (query.Width * query.Height), 1, 16);
            var next = last ? 0 : Math.Min(limit - done, Math.Clamp(done, 1, most));
            var picture = await scheduler.RenderAsync(
                hold => Refined(tracer, (next, hold), region, viewed, watching),
                watching.Cancel,
                tracer.Samples < EagerSamples ? RenderRank.Awaited : RenderRank.Shared,
                person: watching.Person
            );
            done += next;
            var noise = tracer.Noise(region);
            var frame = new ProofFrame(done, noise, watching.Clock.Elapsed.TotalSeconds, material.TextureBytes, IsDone(done, noise), null);
            await WriteAsync(watching.Http, frame, picture, watching.Cancel);
        }
    }

    /// <summary>The picture after so many further samples, as a JPEG; its light is kept for who points at a pixel.</summary>
    private byte[] Refined(
        PathTracer tracer,
        (int Count, Func<bool> Hold) samples,
        PictureRegion? region,
        ViewedLook viewed,
        Watching watching
    )
    {
        if (samples.Count > 0)
            tracer.Accumulate(samples.Count, watching.Cancel, hold: samples.Hold, region: region);
        var light = tracer.Picture();
        scheduler.Keep(watching.Viewer, new(light, viewed.Working, watching.View, watching.Query.Exposure));
        return PictureWriter.Jpeg(ForTheEye(tracer, light, watching.Query, watching.View), 90);
    }

    /// <summary>What is shown: the picture, one of its layers, or the picture with its noise taken out; never what is measured.</summary>
    private static ImageBuffer ForTheEye(PathTracer tracer, ImageBuffer light, ProofQuery query, View view)
    {
        if (query.Layer is { } layer)
            return tracer.Layers!.Plain(layer) is { } plain
                ? plain.As(SampleType.U8)
                : view.Apply(tracer.Layers.Picture(layer), query.Exposure, query.Clipping);
        return view.Apply(query.Denoise ? tracer.WithoutNoise() : light, query.Exposure, query.Clipping);
    }

    private static async Task WriteAsync(HttpContext http, ProofFrame frame, byte[] picture, CancellationToken cancel)
    {
        var json = JsonSerializer.SerializeToUtf8Bytes(frame, JsonSerializerOptions.Web);
        var bytes = new byte[8 + json.Length + picture.Length];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, json.Length);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), picture.Length);
        json.CopyTo(bytes, 8);
        picture.CopyTo(bytes, 8 + json.Length);
        await http.Response.Body.WriteAsync(bytes, cancel);
        await http.Response.Body.FlushAsync(cancel);
    }
}
