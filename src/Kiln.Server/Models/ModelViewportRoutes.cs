using Kiln.Looks.Ids;
using Kiln.Server.Platform.Errors;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Models;

/// <summary>What is seen at a place of a model's picture.</summary>
/// <param name="Path">Of the part; null where there is none.</param>
public sealed record PartSeen(string? Path);

/// <summary>Which triangles are asked for.</summary>
/// <param name="Shape">As the model's scene named them.</param>
/// <param name="Only">The path of the only part that is shown in its look.</param>
public sealed record ShapeQuery(
    [FromRoute(Name = "id")] ModelId Id,
    [FromQuery(Name = "shape")] string Shape,
    [FromQuery(Name = "only")] string? Only
);

/// <summary>Models for the viewer's graphics processor, and what is seen at a place of their pictures.</summary>
internal static class ModelViewportRoutes
{
    public static void Map(RouteGroupBuilder group)
    {
        group
            .MapGet("/{id:guid}/viewport", (ModelId id, string? only, string[]? have, ModelViewport viewport) =>
                viewport.OfAsync(id, only, have ?? [])
            )
            .WithName("modelViewport");
        group.MapGet("/{id:guid}/viewport/shape", ShapeAsync).WithName("modelShape");
        group
            .MapGet("/{id:guid}/part-at", async ([AsParameters] ModelPictureQuery query, float x, float y, ModelViewport viewport) =>
                new PartSeen(await viewport.PartAtAsync(query.Id, query.View, new(x, y)))
            )
            .WithName("partAt");
    }

    private static async Task<IResult> ShapeAsync([AsParameters] ShapeQuery query, ModelViewport viewport, HttpContext http)
    {
        http.Response.Headers.CacheControl = "no-cache";
        return await viewport.ShapeAsync(query.Id, query.Only, query.Shape) is { } bytes
            ? Results.Bytes(bytes, "application/octet-stream")
            : Problems.Of(409, "model.changed", "The model or what lies on it was changed meanwhile.");
    }
}
