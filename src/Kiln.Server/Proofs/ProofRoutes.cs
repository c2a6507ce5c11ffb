using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Diagnostics;
using System.Text.Json;
using Kiln.Analysis.Difference;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using Kiln.Server.Collecting;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Starting;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs;

/// <summary>
/// A proof as the bench asks for it. Viewer: one per panel, its newest request wins. Lane and steps: solo of one tile. UntilNoise: refined
/// no further once the noise is below it,
/// or after Samples. Tile: one UDIM tile everywhere. Part: left, top, right, bottom in shares of the picture, refined alone once the whole
/// has been seen.
/// Variant: the look as one of its variants.
/// </summary>
public sealed record ProofQuery(
    string Viewer,
    string? Dialect,
    string Form = "vessel",
    string Light = "softbox",
    int Width = 480,
    int Height = 480,
    int Samples = 256,
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    float LightRotation = 0,
    float Exposure = 0,
    string View = "aces1-sdr",
    bool Background = true,
    string? SoloLane = null,
    int? SoloSteps = null,
    bool Moving = false,
    bool Clipping = false,
    string? Layer = null,
    bool Denoise = false,
    bool BlurredBackground = false,
    float UntilNoise = 0,
    float[]? Part = null,
    int? Tile = null,
    string? Variant = null
);

public sealed record CompareQuery(
    string? First,
    string? Second,
    string Form = "vessel",
    string Light = "softbox",
    int Size = 160,
    int Samples = 24,
    string View = "aces1-sdr"
);

/// <summary>ΔE2000 over a picture.</summary>
public sealed record DifferenceFigures(float Mean, float Percentile95, float Greatest);

/// <summary>What stands before each picture of the stream.</summary>
public sealed record ProofFrame(int Samples, float Noise, double Seconds, long MapBytes, bool Last, string? Error);

/// <summary>Proofs: a stream of refining pictures, comparisons, thumbnails of looks.</summary>
public static class ProofRoutes
{
    /// <summary>Longest side of maps in the bench, whose small pictures share what is decoded.</summary>
    internal const int InteractiveTextures = 1024;

    /// <summary>Longest side of maps where figures of lines are measured.</summary>
    private const int FigureTextures = 512;

    /// <summary>Pixel samples of one turn at the renderer.</summary>
    private const int MostPathsAtOnce = 800_000;

    /// <summary>Until a proof has so many samples, it goes before the small pictures of a wall.</summary>
    private const int EagerSamples = 16;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/{id:guid}/proof", StreamAsync).WithName("streamProof");
        api.MapPost("/looks/{id:guid}/compare", CompareAsync).WithName("compareDialects");
        api.MapGet("/looks/{id:guid}/picture", PictureAsync).WithName("lookPicture");
        api.MapGet("/looks/{id:guid}/versions/{number:int}/difference", VersionDifferenceAsync)
            .Produces<DifferenceFigures>()
            .WithName("versionDifference");
        api.MapGet("/looks/{id:guid}/figures", FiguresAsync).WithName("lineFigures");
    }

    /// <summary>
    /// Frames one after another: length and JSON of a <see cref="ProofFrame"/>, length and bytes of a picture. Ends when refined, or when
    /// the viewer asks anew.
    /// </summary>
    private static async Task StreamAsync(
        Guid id,
        ProofQuery query,
        LookRepository looks,
        LookCompilation compilation,
        MapTextures textures,
        RenderScheduler scheduler,
        ConfigRegistry colour,
        LookContextRepository contexts,
        LightRegistry lights,
        HttpContext http
    )
    {
        // Before anything else: what the viewer asked for earlier must not keep the processors from this.
        var viewer = http.User.Identity!.Name + "/" + query.Viewer;
        var (own, ended, olderEnded) = scheduler.Begin(viewer, http.RequestAborted);
        using var ending = own;
        try
        {
            await RefineAsync(id, query, viewer, own, olderEnded, looks, compilation, textures, scheduler, colour, contexts, lights, http);
        }
        finally
        {
            scheduler.End(viewer, ended);
        }
    }

    private static async Task RefineAsync(
        Guid id,
        ProofQuery query,
        string viewer,
        CancellationTokenSource own,
        Task olderEnded,
        LookRepository looks,
        LookCompilation compilation,
        MapTextures textures,
        RenderScheduler scheduler,
        ConfigRegistry colour,
        LookContextRepository contexts,
        LightRegistry lights,
        HttpContext http
    )
    {
        var around = await contexts.OfLookAsync(id);
        var (look, working) = ((await LookRoutes.RowAsync(looks, id)).Look().Under(around.Trims), around.Space);
        if (query.Variant is { } variant)
            look = look.As(variant);
        var request = new ProofRequest(
            query.Form,
            query.Light,
            query.Width,
            query.Height,
            Camera(query),
            query.LightRotation,
            Background: query.Background,
            WithLayers: query.Layer is not null || query.Denoise,
            BlurredBackground: query.BlurredBackground,
            Tile: query.Tile
        );
        var view = View.Named(query.View, working.Space, colour.Current.Names);
        http.Response.ContentType = "application/octet-stream";
        var clock = Stopwatch.StartNew();
        string? key = null;
        PathTracer? tracer = null;
        try
        {
            var material = query.SoloLane is { } lane
                ? await SoloAsync(look, lane, query.SoloSteps, working, textures, own.Token)
                : await compilation.MaterialAsync(look, query.Dialect, working, InteractiveTextures).WaitAsync(own.Token);
            var part = query.Part is [var left, var top, var right, var bottom]
                ? new PictureRegion(left, top, right, bottom)
                : (PictureRegion?)null;
            // What only changes how the same light is shown, or how far it is refined, goes on with the picture that is there.
            key =
                JsonSerializer.Serialize(
                    query with
                    {
                        Viewer = "",
                        Samples = 0,
                        Exposure = 0,
                        View = "",
                        Clipping = false,
                        Layer = null,
                        Denoise = request.WithLayers,
                        UntilNoise = 0,
                        Part = null,
                    }
                ) + $"/{LookJson.Hash(look)}/{working.Id}/{http.User.Identity!.Name}";
            await olderEnded.WaitAsync(own.Token);
            tracer = scheduler.Resume(key) ?? request.Start(material, await lights.OwnAsync(query.Light));
            var limit = Math.Clamp(query.Samples, 1, http.RequestServices.GetRequiredService<KilnSettings>().MostSamples);
            for (var first = true; ; first = false)
            {
                var whole = part is null || tracer.Samples < EagerSamples;
                var done = whole ? tracer.Samples : tracer.SamplesIn(part!.Value);
                var noise = tracer.Noise(whole ? null : part);
                var last = done >= limit || noise <= query.UntilNoise && done >= EagerSamples;
                if (last && !first)
                    break;
                // 1, 1, 2, 4, … at a time: quick at first, then few interruptions, but never a turn so long that others wait for seconds.
                var next = last
                    ? 0
                    : Math.Min(limit - done, Math.Clamp(done, 1, Math.Clamp(MostPathsAtOnce / (query.Width * query.Height), 1, 16)));
                var picture = await scheduler.RenderAsync(
                    () =>
                    {
                        if (next > 0)
                            tracer.Accumulate(next, own.Token, hold: () => scheduler.IsUrgent, region: whole ? null : part);
                        var light = tracer.Picture();
                        scheduler.Keep(viewer, new(light, working, view, query.Exposure));
                        return PictureWriter.Jpeg(ForTheEye(tracer, light, query, view), 90);
                    },
                    own.Token,
                    isEager: tracer.Samples < EagerSamples,
                    person: http.User.Identity!.Name!
                );
                done += next;
                noise = tracer.Noise(whole ? null : part);
                await WriteAsync(
                    http,
                    new(
                        done,
                        noise,
                        clock.Elapsed.TotalSeconds,
                        material.TextureBytes,
                        done >= limit || noise <= query.UntilNoise && done >= EagerSamples,
                        null
                    ),
                    picture,
                    own.Token
                );
            }
        }
        catch (OperationCanceledException)
        {
            // Somebody asked anew or went away; the stream just ends.
        }
        catch (Exception e)
            when (e is PictureException or LookException or Dialects.Profiles.ProfileException or FileNotFoundException or ArgumentException
            )
        {
            await WriteAsync(http, new(0, 1, 0, 0, true, e.Message), [], http.RequestAborted);
        }
        finally
        {
            // A moving camera's pictures are not come back to.
            if (tracer is not null && key is not null && !query.Moving)
                scheduler.Suspend(key, tracer);
        }
    }

    /// <summary>What is shown: the picture, one of its layers, or the picture with its noise taken out; never what is measured.</summary>
    private static ImageBuffer ForTheEye(PathTracer tracer, ImageBuffer light, ProofQuery query, View view)
    {
        if (query.Layer is { } layer)
            return tracer.Layers!.Plain(layer) is { } plain
                ? plain.As(SampleType.U8)
                : view.Apply(tracer.Layers.Picture(layer), query.Exposure, query.Clipping);
        return view.Apply(
            query.Denoise && tracer.Samples > 1 ? EdgeAwareFilter.Apply(light, tracer.Layers!, tracer.Noise()) : light,
            query.Exposure,
            query.Clipping
        );
    }

    private static OrbitCamera Camera(ProofQuery query)
    {
        var usual = OrbitCamera.For(query.Form);
        return new(query.Yaw ?? usual.YawDegrees, query.Pitch ?? usual.PitchDegrees, usual.Zoom * query.Zoom);
    }

    private static async Task<ProofMaterial> SoloAsync(
        Look look,
        string lane,
        int? steps,
        WorkingSpace working,
        MapTextures textures,
        CancellationToken cancel
    )
    {
        var graph = new ShadeGraph(working);
        var chain = LaneAddress.Get(look, lane)?.Chain
            ?? throw new LookException($"{LaneAddress.Label(lane)} has no map to look at alone.");
        return await ProofMaterial.OfNodeAsync(
            graph,
            new LaneGraphs(look, graph).Chain(chain, steps),
            textures,
            InteractiveTextures,
            cancel
        );
    }

    private static async Task<DifferenceFigures> CompareAsync(
        Guid id,
        CompareQuery query,
        LookRepository looks,
        LookCompilation compilation,
        RenderScheduler scheduler,
        ConfigRegistry colour,
        LookContextRepository contexts,
        LightRegistry lights,
        CancellationToken cancel
    )
    {
        var around = await contexts.OfLookAsync(id);
        var (look, working) = ((await LookRoutes.RowAsync(looks, id)).Look().Under(around.Trims), around.Space);
        var view = View.Named(query.View, working.Space, colour.Current.Names);
        Task<ImageBuffer> Render(string? dialect) =>
            RenderedAsync(look, dialect, working, query, view, compilation, scheduler, lights, cancel);
        var difference = DeltaE.Between(await Render(query.First), await Render(query.Second));
        return new(difference.Mean, difference.Percentile95, difference.Greatest);
    }

    private static async Task<ImageBuffer> RenderedAsync(
        Look look,
        string? dialect,
        WorkingSpace working,
        CompareQuery query,
        View view,
        LookCompilation compilation,
        RenderScheduler scheduler,
        LightRegistry lights,
        CancellationToken cancel
    )
    {
        var side = Math.Clamp(query.Size, 32, 1024);
        var material = await compilation.MaterialAsync(look, dialect, working, InteractiveTextures).WaitAsync(cancel);
        var tracer = new ProofRequest(query.Form, query.Light, side, side).Start(material, await lights.OwnAsync(query.Light));
        for (var done = 0; done < Math.Clamp(query.Samples, 1, 512); done += 8)
            await scheduler.RenderAsync(
                () =>
                {
                    tracer.Accumulate(8, cancel, hold: () => scheduler.IsUrgent);
                    return true;
                },
                cancel
            );
        return view.Apply(tracer.Picture());
    }

    /// <summary>ΔE2000 between a version, under the trims of then, and what is on the bench now.</summary>
    private static async Task<IResult> VersionDifferenceAsync(
        Guid id,
        int number,
        LookRepository looks,
        VersionRepository versions,
        LookCompilation compilation,
        RenderScheduler scheduler,
        ConfigRegistry colour,
        LookContextRepository contexts,
        LightRegistry lights,
        HttpContext http,
        CancellationToken cancel
    )
    {
        if (await VersionRoutes.SeenAsync(id, number, versions, http) is not { } version)
            return Results.NotFound();
        var around = await contexts.OfLookAsync(id);
        var view = View.Named("aces1-sdr", around.Space.Space, colour.Current.Names);
        Task<ImageBuffer> Render(Look look) =>
            RenderedAsync(look, null, around.Space, new(null, null), view, compilation, scheduler, lights, cancel);
        var difference = DeltaE.Between(
            await Render(version.Rendered),
            await Render((await LookRoutes.RowAsync(looks, id)).Look().Under(around.Trims))
        );
        return Results.Ok(new DifferenceFigures(difference.Mean, difference.Percentile95, difference.Greatest));
    }

    /// <summary>What each approximated or lost line of a report costs; measured once for each document.</summary>
    private static async Task<IReadOnlyList<LineFigure>> FiguresAsync(
        Guid id,
        string dialect,
        LookRepository looks,
        LookCompilation compilation,
        MapTextures textures,
        RenderScheduler scheduler,
        ThumbnailCache thumbnails,
        ConfigRegistry colour,
        LookContextRepository contexts,
        CancellationToken cancel
    )
    {
        var around = await contexts.OfLookAsync(id);
        // Without the trims: what the dialect cannot say, not what a person corrects.
        var (look, working) = (
            (await LookRoutes.RowAsync(looks, id)).Look() with
            {
                Trims = ImmutableSortedDictionary<string, ImmutableArray<Trim>>.Empty,
            },
            around.Space
        );
        var profile = compilation.Profile(dialect);
        var bytes = await thumbnails.GetAsync(
            $"figures/{LookJson.Hash(look)}/{profile.Hash}/{working.Id}/{colour.Current.Names?.Config.Hash}",
            async () =>
            {
                using var alone = await scheduler.SmallPictureSlotAsync(cancel);
                var figures = new LineFigures(compilation.Profile(null), textures, working, piece => scheduler.RenderAsync(
                        () =>
                        {
                            piece();
                            return true;
                        },
                        cancel
                    ));
                return JsonSerializer.SerializeToUtf8Bytes(
                    await figures.MeasureAsync(
                        look,
                        await compilation.CompileAsync(look, dialect, working, FigureTextures),
                        profile,
                        name => colour.Current.Names?.OursFor(name) ?? name,
                        cancel
                    )
                );
            }
        );
        return JsonSerializer.Deserialize<List<LineFigure>>(bytes)!;
    }

    /// <summary>
    /// The look under the contact sheet's fixed light, form and camera, or on another form, under another light, as a dialect has it; kept
    /// by document.
    /// </summary>
    /// <param name="without">A lane whose chain is left out, to see what it does.</param>
    private static async Task<IResult> PictureAsync(
        Guid id,
        int? size,
        int? at,
        string? without,
        string? form,
        string? light,
        string? dialect,
        int? version,
        string? variant,
        LookRepository looks,
        VersionRepository versions,
        LookPictures pictures,
        LookContextRepository contexts,
        HttpContext http,
        CancellationToken cancel
    )
    {
        var look =
            version is { } kept
                ? (await VersionRoutes.SeenAsync(id, kept, versions, http))?.Rendered
                    ?? throw new LookException($"That look has no version {kept}.")
            : at is { } number ? await looks.AtAsync(id, number)
            : (await LookRoutes.RowAsync(looks, id)).Look();
        if (variant is not null)
            look = look.As(variant);
        if (without is not null)
            look = Without(look, without);
        var around = await contexts.OfLookAsync(id);
        // A version has the trims that it was made under.
        (look, var working) = (version is null ? look.Under(around.Trims) : look, around.Space);
        var bytes = await pictures.OfAsync(look, working, Math.Clamp(size ?? 200, 32, 512), form, light, dialect, cancel);
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(bytes, "image/jpeg");
    }

    /// <summary>The look with a lane's chain left out: back to its value or default; what feeds others is even instead.</summary>
    private static Look Without(Look look, string lane)
    {
        var kept = LaneAddress.Get(look, lane)?.Value;
        var even =
            lane.StartsWith("source:", StringComparison.Ordinal) ? 0.5f
            : lane.Contains('/') || lane.EndsWith(":mask", StringComparison.Ordinal) ? 1f
            : (float?)null;
        return new LaneEdit(
            lane,
            kept is not null ? new(kept)
                : even is { } number ? new(LookValue.Of(number))
                : null
        ).Apply(look).Look;
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
