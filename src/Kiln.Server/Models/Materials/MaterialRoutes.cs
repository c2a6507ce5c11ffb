using System.Security.Claims;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;

namespace Kiln.Server.Models.Materials;

/// <summary>The materials that a model came with, and looks that are made of them.</summary>
internal static class MaterialRoutes
{
    public static void Map(RouteGroupBuilder group)
    {
        group.MapGet("/{id:guid}/materials", (ModelId id, ModelMaterials materials) => materials.OfAsync(id)).WithName("modelMaterials");
        group
            .MapPost("/{id:guid}/materials/looks", MakeAsync)
            .Produces<MadeLooks>()
            .RequireAuthorization(Access.Works)
            .WithName("makeLooksOfMaterials");
    }

    private static async Task<IResult> MakeAsync(ModelId id, MaterialsRequest request, MaterialWiring wiring, ClaimsPrincipal user)
    {
        var made = await wiring.MakeAsync(id, request, user.PersonId());
        return made.Changed is [var first, ..]
            ? Problems.Of(409, "model.changed", $"{first} was given another look meanwhile; nothing was made. Look again, and say it anew.")
            : Results.Ok(made);
    }
}
