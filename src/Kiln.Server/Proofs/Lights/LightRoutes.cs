using System.Security.Claims;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels.Writing;
using Kiln.Proof.Lights;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Security;
using Kiln.Store;
using Kiln.Store.Contents;
using Kiln.Store.Studio;

namespace Kiln.Server.Proofs.Lights;

/// <param name="By">Who brought it; null for shipped ones.</param>
public sealed record LightInfo(string Name, string? By);

/// <summary>Lights to prove under: a list with small pictures, and bringing one's own.</summary>
public static class LightRoutes
{
    private const long MostBytes = 512L << 20;
    private const int LongestName = 60;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/lights", async (LightRepository own) =>
                LightRoom
                    .Ids.Select(id => new LightInfo(id, null))
                    .Concat((await own.ListAsync()).Select(l => new LightInfo(l.Name, l.MadeBy)))
            )
            .WithName("listLights");
        api.MapGet("/lights/{name}/picture", PictureAsync).WithName("lightPicture");
        api.MapPost("/lights", AddAsync).RequireAuthorization("artist").WithName("bringLight").TakesFiles().DisableAntiforgery();
        api.MapDelete("/lights/{name}", async (string name, LightRepository own) =>
                await own.RemoveAsync(name) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization("artist")
            .WithName("removeLight");
    }

    private static async Task<IResult> PictureAsync(string name, LightRegistry lights, HttpResponse response)
    {
        var picture = (await lights.AnyAsync(name)).Picture(192, 96);
        response.Headers.CacheControl = "no-cache";
        return Results.Bytes(PictureWriter.Jpeg(View.Named("aces1-sdr", ColourSpace.AcesCg).Apply(picture), 88), "image/jpeg");
    }

    private static async Task<LightInfo> AddAsync(
        IFormFile file,
        LightRepository own,
        LightRegistry lights,
        ContentStore store,
        ClaimsPrincipal user
    )
    {
        if (file.Length > MostBytes)
            throw new ArgumentException($"A light of {file.Length >> 20} MB is too large; at most {MostBytes >> 20} MB are read.");
        var name = Path.GetFileNameWithoutExtension(file.FileName).Trim();
        if (name.Length is 0 or > LongestName || name.Any(char.IsControl) || LightRoom.Ids.Contains(name))
            throw new ArgumentException(
                $"A light is known by the name of its file: 1 to {LongestName} characters, and none of {string.Join(", ", LightRoom.Ids)}."
            );
        var part = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}{Path.GetExtension(file.FileName)}");
        try
        {
            await using (var to = File.Create(part))
                await file.CopyToAsync(to);
            // Refused before it is kept.
            await lights.ReadAsync(part);
            var content = store.Put(await File.ReadAllBytesAsync(part));
            return await own.AddAsync(name, content, file.Length, user.PersonId())
                ? new(name, user.FindFirstValue("display"))
                : throw new ArgumentException($"There is a light '{name}' already. Give the file another name, or remove that one first.");
        }
        finally
        {
            File.Delete(part);
        }
    }
}
