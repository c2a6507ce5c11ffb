using Kiln.Analysis.Models;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels.Decoding;
using Kiln.Server.Models.Checks;
using Kiln.Server.Models.Materials;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;
using Kiln.Store.Models;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Models;

/// <summary>A model with its parts.</summary>
public sealed record ModelInfo(ModelRow Model, IReadOnlyList<PartRow> Parts);

/// <summary>A model file that could not be read, and why.</summary>
public sealed record RefusedModel(string Path, string Reason);

/// <summary>The models of a delivery.</summary>
public sealed record DeliveredModels(IReadOnlyList<ModelRow> Models, IReadOnlyList<RefusedModel> Refused);

/// <summary>A look that is put on parts; without one, what lies on them is taken away.</summary>
/// <param name="Parts">Each with the look that was seen on it.</param>
public sealed record BindRequest(IReadOnlyList<PartChange> Parts, LookId? Look);

/// <summary>What parts are to have of their own.</summary>
/// <param name="Parts">Each with what was seen of it.</param>
public sealed record SettleRequest(IReadOnlyList<PartSettingsChange> Parts);

/// <summary>Which picture of a model is asked for.</summary>
/// <param name="Width">Pixels, 64 to 2048.</param>
/// <param name="Yaw">Degrees around the model.</param>
/// <param name="Samples">Of a pixel, 1 to 256.</param>
/// <param name="Only">The path of the only part that is shown in its look.</param>
public sealed record ModelPictureQuery(
    [FromRoute(Name = "id")] ModelId Id,
    [FromQuery(Name = "width")] int? Width,
    [FromQuery(Name = "height")] int? Height,
    [FromQuery(Name = "light")] string? Light,
    [FromQuery(Name = "yaw")] float? Yaw,
    [FromQuery(Name = "pitch")] float? Pitch,
    [FromQuery(Name = "zoom")] float? Zoom,
    [FromQuery(Name = "samples")] int? Samples,
    [FromQuery(Name = "only")] string? Only
)
{
    internal ModelView View =>
        new(
            Math.Clamp(Width ?? 640, 64, 2048),
            Math.Clamp(Height ?? 480, 64, 2048),
            Light ?? "softbox",
            Yaw,
            Pitch,
            Math.Clamp(Zoom ?? 1, 0.2f, 20f),
            Math.Clamp(Samples ?? 16, 1, 256),
            Only
        );
}

/// <summary>Which parts' UVs are drawn, and how.</summary>
/// <param name="Parts">Paths; all of the model where none is given.</param>
/// <param name="Show">layout, stretch or density.</param>
/// <param name="Size">Pixels of the longer side, 64 to 2048.</param>
public sealed record UvQuery(
    [FromRoute(Name = "id")] ModelId Id,
    [FromQuery(Name = "part")] string[]? Parts,
    [FromQuery(Name = "show")] string? Show,
    [FromQuery(Name = "size")] int? Size
)
{
    /// <exception cref="LookException">There is no such tone.</exception>
    internal UvTone Tone =>
        Show is null ? UvTone.Layout
        : Enum.TryParse<UvTone>(Show, ignoreCase: true, out var tone) && Enum.IsDefined(tone) && !char.IsAsciiDigit(Show[0]) ? tone
        : throw new LookException($"UVs are shown as layout, stretch or density, not as '{Show}'.");
}

/// <summary>Models: their parts, the looks that lie on them, and their pictures.</summary>
public static class ModelRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/models");
        group.MapGet("", (ModelRepository models) => models.ListAsync()).WithName("listModels");
        group
            .MapGet("/{id:guid}", async (ModelId id, ModelRepository models) =>
                await models.FindAsync(id) is { } model ? Results.Ok(new ModelInfo(model, await models.PartsAsync(id))) : Results.NotFound()
            )
            .Produces<ModelInfo>()
            .WithName("getModel");
        group.MapPut("/{id:guid}/bindings", BindAsync).RequireAuthorization(Access.Works).WithName("bindParts");
        group
            .MapPut("/{id:guid}/settings", async (ModelId id, SettleRequest request, ModelBinding binding) =>
                Done(await binding.SettleAsync(id, request.Parts), "was set otherwise")
            )
            .RequireAuthorization(Access.Works)
            .WithName("setParts");
        group
            .MapPost("/{id:guid}/bindings/by-name", async (ModelId id, ModelBinding binding) =>
            {
                await binding.ByNameAsync(id);
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Works)
            .WithName("bindPartsByName");
        group
            .MapDelete("/{id:guid}", async (ModelId id, ModelRepository models) =>
                await models.RemoveAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("removeModel");
        group.MapGet("/{id:guid}/picture", PictureAsync).WithName("modelPicture");
        ModelViewportRoutes.Map(group);
        MaterialRoutes.Map(group);
        group.MapGet("/{id:guid}/findings", (ModelId id, ModelCheck check) => check.OfAsync(id)).WithName("modelFindings");
        group.MapGet("/{id:guid}/uvs", UvsAsync).WithName("modelUvs");
        group
            .MapGet("/{id:guid}/uvs/figures", ([AsParameters] UvQuery query, ModelUvs uvs) =>
                uvs.FiguresAsync(query.Id, query.Parts ?? [], query.Tone)
            )
            .WithName("modelUvFigures");
        group
            .MapGet("/{id:guid}/package", (ModelId id, string dialect, bool? drafts, ModelPackages packages) =>
                Download.ZipAsync(stream => packages.WriteAsync(stream, id, dialect, drafts ?? false))
            )
            .RequireAuthorization(Access.Works)
            .WithName("modelPackage");
        api.MapGet("/deliveries/{id:guid}/models", async (DeliveryId id, ModelRepository models) =>
                new DeliveredModels(
                    await models.ListAsync(id),
                    [.. (await models.RefusedAsync(id)).Select(r => new RefusedModel(r.Path, r.Reason))]
                )
            )
            .WithName("deliveredModels");
    }

    private static async Task<IResult> BindAsync(ModelId id, BindRequest request, ModelBinding binding) =>
        Done(await binding.PutOnAsync(id, request.Parts, request.Look), "was given another look");

    /// <param name="changed">The parts that somebody else changed meanwhile.</param>
    private static IResult Done(IReadOnlyList<string> changed, string how) =>
        changed is [var first, ..]
            ? Problems.Of(409, "model.changed", $"{first} {how} meanwhile; nothing was changed. Look again, and say it anew.")
            : Results.NoContent();

    private static async Task<IResult> UvsAsync([AsParameters] UvQuery query, ModelUvs uvs, HttpContext http)
    {
        var bytes = await uvs.PictureAsync(
            query.Id,
            query.Parts ?? [],
            query.Tone,
            Math.Clamp(query.Size ?? 768, 64, 2048),
            http.RequestAborted
        );
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(bytes, PictureFormat.Png.MediaType());
    }

    private static async Task<IResult> PictureAsync([AsParameters] ModelPictureQuery query, ModelPictures pictures, HttpContext http)
    {
        var bytes = await pictures.OfAsync(query.Id, query.View, http.RequestAborted);
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(bytes, PictureFormat.Jpeg.MediaType());
    }
}
