using System.Security.Claims;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Proof.Lights;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store.Studio;

namespace Kiln.Server.Proofs.Lights;

/// <param name="By">Who brought it; null for shipped ones.</param>
public sealed record LightInfo(string Name, string? By);

/// <summary>Lights to prove under: a list with small pictures, and bringing one's own.</summary>
public static class LightRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/lights", async (LightRepository own) =>
                LightRoom
                    .Ids.Select(id => new LightInfo(id, null))
                    .Concat((await own.ListAsync()).Select(l => new LightInfo(l.Name, l.MadeBy)))
            )
            .WithName("listLights");
        api.MapGet("/lights/{name}/picture", PictureAsync).WithName("lightPicture");
        api.MapPost("/lights", async (IFormFile file, LightIntake lights, ClaimsPrincipal user) =>
                new LightInfo(await lights.TakeAsync(file, user.PersonId()), user.FindFirstValue("display"))
            )
            .RequireAuthorization(Access.Works)
            .WithName("bringLight")
            .TakesFiles()
            .DisableAntiforgery();
        api.MapDelete("/lights/{name}", async (string name, LightRepository own) =>
                await own.RemoveAsync(name) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Works)
            .WithName("removeLight");
    }

    private static async Task<IResult> PictureAsync(string name, LightRegistry lights, HttpResponse response)
    {
        var picture = (await lights.AnyAsync(name)).Picture(192, 96);
        response.Headers.CacheControl = "no-cache";
        return PictureAnswers.Jpeg(View.Named("aces1-sdr", ColourSpace.AcesCg).Apply(picture), 88);
    }
}
