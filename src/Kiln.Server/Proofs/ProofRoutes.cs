using System.Security.Claims;
using Kiln.Analysis.Difference;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Pixels.Decoding;
using Kiln.Server.Looks;
using Kiln.Server.Platform.Security;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs;

/// <summary>Proofs: a stream of refining pictures, comparisons, thumbnails of looks.</summary>
public static class ProofRoutes
{
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

    private static Task StreamAsync(LookId id, ProofQuery query, ProofStream proofs, HttpContext http) => proofs.SendAsync(id, query, http);

    private static Task<DifferenceFigures> CompareAsync(
        LookId id,
        CompareQuery query,
        LookDifferences differences,
        CancellationToken cancel
    ) => differences.BetweenDialectsAsync(id, query, cancel);

    /// <summary>ΔE2000 between a version, under the trims of then, and what is on the bench now.</summary>
    private static async Task<IResult> VersionDifferenceAsync([AsParameters] VersionRequest request, LookDifferences differences) =>
        await request.SeenAsync() is { } version
            ? Results.Ok(await differences.ToNowAsync(request.Id, version.Rendered, request.Cancel))
            : Results.NotFound();

    private static Task<IReadOnlyList<LineFigure>> FiguresAsync(
        LookId id,
        string dialect,
        ReportFigures figures,
        CancellationToken cancel
    ) => figures.OfAsync(id, dialect, cancel);

    /// <summary>
    /// The look under the contact sheet's fixed light, form and camera, or on another form, under another light, as a dialect has it; kept
    /// by document.
    /// </summary>
    private static async Task<IResult> PictureAsync(
        [AsParameters] LookPictureQuery query,
        LookAsAsked looks,
        LookPictures pictures,
        HttpContext http
    )
    {
        var viewed = await looks.FindAsync(query, http.User);
        var size = Math.Clamp(query.Size ?? 200, 32, 512);
        var bytes = await pictures.OfAsync(viewed.Look, viewed.Working, size, query.Form, query.Light, query.Dialect, http.RequestAborted);
        http.Response.Headers.CacheControl = "no-cache";
        return Results.Bytes(bytes, PictureFormat.Jpeg.MediaType());
    }
}

/// <summary>The look that a picture is asked of: as it is, as it was, a version, a variant, or without a lane.</summary>
public sealed class LookAsAsked(LookRepository looks, VersionRepository versions, LookViews views)
{
    public async Task<ViewedLook> FindAsync(LookPictureQuery query, ClaimsPrincipal user)
    {
        var id = query.Id;
        var look =
            query.Version is { } kept
                ? (await versions.SeenAsync(user, id, kept))?.Rendered ?? throw new LookException($"That look has no version {kept}.")
            : query.At is { } number ? await looks.AtAsync(id, number)
            : (await looks.GetAsync(id)).Look();
        if (query.Variant is { } variant)
            look = look.As(variant);
        if (query.Without is { } lane)
            look = Without(look, lane);
        // A version has the trims that it was made under.
        return await views.InContextAsync(id, look, trimmed: query.Version is null);
    }

    /// <summary>The look with a lane's chain left out: back to its value or default; what feeds others is even instead.</summary>
    private static Look Without(Look look, LaneAddress lane)
    {
        var kept = look.LaneAt(lane)?.Value;
        var even =
            lane.Source is not null ? 0.5f
            : lane.Side is not null || lane.IsMask ? 1f
            : (float?)null;
        return new LaneEdit(
            lane,
            kept is not null ? new(kept)
                : even is { } number ? new(LookValue.Of(number))
                : null
        ).Apply(look).Look;
    }
}
