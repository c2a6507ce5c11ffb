using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;
using Kiln.Scattering;
using Kiln.Scattering.Albedo;
using Kiln.Server.Platform;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Thumbnails;

namespace Kiln.Server.Viewport;

/// <summary>What a look stands in: forms with what their vertices see, lights made ready, views as tables. Made once and kept.</summary>
public sealed class ViewportScenes(LightRegistry lights, LookViews views, StudioCache cache, ThumbnailCache kept)
{
    /// <summary>Raised when the same form or light is made ready otherwise, so that kept ones are made anew.</summary>
    private const int Edition = 2;

    private const int MegabytesOfForm = 4,
        MegabytesOfLight = 7;

    /// <param name="displacement">How the look moves it; null where it does not.</param>
    /// <exception cref="ArgumentException">There is no such form.</exception>
    public Task<byte[]> FormAsync(string form, SurfaceDisplacement? displacement) =>
        cache.OnceAsync(
            "viewport form",
            $"{form}/{displacement?.Key}",
            // A moved form is one look's alone, and its heights may change with the next edit.
            () =>
                displacement is null
                    ? kept.GetAsync($"viewport form {Edition}/{form}", () => Task.FromResult(ViewportShape.OfForm(form, null)))
                    : Task.FromResult(ViewportShape.OfForm(form, displacement)),
            made => Math.Max(MegabytesOfForm, made.LongLength >> 20)
        );

    /// <param name="key">The same for the same model with the same UVs.</param>
    /// <param name="standing">Makes it where it is not known yet.</param>
    public Task<byte[]> ModelAsync(string key, Func<Task<StandingModel>> standing) =>
        cache.OnceAsync(
            "viewport model",
            key,
            () => kept.GetAsync($"viewport model {Edition}/{key}", async () => ViewportShape.OfModel(await standing())),
            made => Math.Max(MegabytesOfForm, made.LongLength >> 20)
        );

    public async Task<byte[]> LightAsync(string name, string working)
    {
        var (space, key) = (WorkingSpace.Find(working), $"{name}/{await lights.ContentAsync(name)}/{working}");
        return await cache.OnceAsync(
            "viewport light",
            key,
            () => kept.GetAsync($"viewport light {Edition}/{key}", async () => LightOf((await lights.AnyAsync(name)).In(space))),
            _ => MegabytesOfLight
        );
    }

    /// <summary>Makes what the bench opens with, so that the first who opens it does not wait for it.</summary>
    public async Task PrepareAsync()
    {
        var (request, working) = (new ProofRequest(), WorkingSpace.AcesCg.Id);
        await FormAsync(request.Form, null);
        await LightAsync(request.Light, working);
        await ViewAsync("aces1-sdr", working);
    }

    private static byte[] LightOf(EnvironmentLight light)
    {
        var ready = PrefilteredLight.Of(light);
        return new BinaryParts(
            new
            {
                PrefilteredLight.SharpWidth,
                PrefilteredLight.FilteredWidth,
                PrefilteredLight.Layers,
                floorRadiance = ViewportShape.Numbers(ready.FloorRadiance),
                ready.HasFloor,
                suns = ready.Suns.Select(s => new
                {
                    direction = ViewportShape.Numbers(s.Direction),
                    irradiance = ViewportShape.Numbers(s.Irradiance),
                    s.Radius,
                }),
            }
        ).With("sharp", Halves(ready.Sharp)).With("filtered", Halves(ready.Filtered)).ToArray();
    }

    /// <summary>Four halves a texel: three of light and one for the graphics processor.</summary>
    private static Half[] Halves(Vector3[] texels)
    {
        const float most = 65504;
        var result = new Half[texels.Length * 4];
        for (var i = 0; i < texels.Length; i++)
        {
            var v = Vector3.Min(texels[i], new(most));
            (result[4 * i], result[4 * i + 1], result[4 * i + 2], result[4 * i + 3]) = ((Half)v.X, (Half)v.Y, (Half)v.Z, (Half)1f);
        }
        return result;
    }

    public Task<byte[]> ViewAsync(string name, string working) =>
        cache.OnceAsync("viewport view", $"{name}/{working}/{views.Config}", () => Task.FromResult(new BinaryParts(
                    new
                    {
                        ViewTable.Side,
                        least = ViewTable.LeastStops,
                        most = ViewTable.MostStops,
                    }
                ).With("table", ViewTable.Of(views.View(name, WorkingSpace.Find(working)))).ToArray()));

    public static byte[] Albedo(string distribution) =>
        new BinaryParts(new { AlbedoLayers.Side, AlbedoLayers.Count })
            .With("albedo", AlbedoLayers.Of(distribution == "beckmann" ? Distribution.Beckmann : Distribution.Ggx))
            .ToArray();
}
