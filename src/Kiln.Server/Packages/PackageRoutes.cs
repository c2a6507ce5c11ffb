using Kiln.Looks.Ids;
using Kiln.Server.Platform.Security;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Packages;

/// <summary>A look that came in, and what could not be understood of it.</summary>
public sealed record ImportedLook(LookId Id, string Name, IReadOnlyList<string> Remarks, int MissingMaps);

/// <summary>A package comes in again as the look it was made from, and networks as the looks they say; whole or not at all.</summary>
public static class PackageRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/looks/packages", ImportAsync).RequireAuthorization(Access.Works).WithName("bringPackage").TakesFiles();
        api.MapPost("/looks/packages/materials", MaterialsAsync).RequireAuthorization(Access.Works).WithName("listMaterials").TakesFiles();
    }

    private static Task<IReadOnlyList<FoundMaterial>> MaterialsAsync(string name, PackageImport import, HttpContext http) =>
        import.MaterialsAsync(name, http.Request.Body, http.RequestAborted);

    /// <param name="name">The file's name: its ending says what it is.</param>
    /// <param name="only">Numbers of materials, counted from 0 in the order in which they are listed; all of them without.</param>
    private static Task<IReadOnlyList<ImportedLook>> ImportAsync(
        string name,
        [FromQuery] int[]? only,
        PackageImport import,
        HttpContext http
    ) =>
        import.BringAsync(
            name,
            only is { Length: > 0 } ? only.ToHashSet() : null,
            http.User.PersonId(),
            http.Request.Body,
            http.RequestAborted
        );
}
