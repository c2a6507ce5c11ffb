using System.Numerics;
using System.Runtime.InteropServices;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Occlusion;
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
                    ? kept.GetAsync($"viewport form {Edition}/{form}", () => Task.FromResult(FormOf(form, null)))
                    : Task.FromResult(FormOf(form, displacement)),
            made => Math.Max(MegabytesOfForm, made.LongLength >> 20)
        );

    private static byte[] FormOf(string name, SurfaceDisplacement? displacement)
    {
        var plain = Forms.Named(name);
        var mesh = displacement is null ? plain : Displacing.Of(name, plain, displacement);
        var sees = FormOcclusion.Of(plain);
        var (between, shares) = mesh.Between();
        var (min, max) = (plain.Positions.Aggregate(Vector3.Min), plain.Positions.Aggregate(Vector3.Max));
        var (centre, radius) = ((min + max) * 0.5f, (max - min).Length() * 0.5f);
        var camera = OrbitCamera.For(name);
        var head = new
        {
            centre = new[] { centre.X, centre.Y, centre.Z },
            radius,
            mesh.IsSheet,
            yaw = camera.YawDegrees,
            pitch = camera.PitchDegrees,
            camera.Zoom,
            fieldOfView = OrbitCamera.FieldOfViewDegrees,
            floorSide = FormOcclusion.FloorSide,
            floorMetres = FormOcclusion.FloorMetres,
            cells = SkyCells.Directions.Length,
            cellsAbove = SkyCells.Above,
            own = plain.Positions.Length,
        };
        float[] positions = [.. mesh.Positions.SelectMany(Numbers)],
            normals = [.. mesh.Normals.SelectMany(Numbers)],
            tangents = [.. mesh.Tangents.SelectMany(t => new[] { t.X, t.Y, t.Z, t.W })],
            uvs = [.. mesh.Uvs.SelectMany(t => new[] { t.X, t.Y })];
        return new BinaryParts(head)
            .With("positions", positions)
            .With("normals", normals)
            .With("tangents", tangents)
            .With("uvs", uvs)
            .With("between", between)
            .With("shares", shares)
            .With("cells", [.. Cells()])
            .With("seen", MemoryMarshal.Cast<uint, int>(sees.Seen).ToArray())
            .With("visible", sees.Visible)
            .With("floor", MemoryMarshal.Cast<uint, int>(sees.Floor).ToArray())
            // A form that is not moved has its own vertices alone.
            .With("ownPositions", displacement is null ? [] : [.. plain.Positions.SelectMany(Numbers)])
            .With("ownNormals", displacement is null ? [] : [.. plain.Normals.SelectMany(Numbers)])
            .With("indices", mesh.Indices)
            .ToArray();
    }

    /// <summary>Four numbers of each cell, its direction and solid angle, then four of each, its edges.</summary>
    private static IEnumerable<float> Cells() =>
        SkyCells
            .Directions.SelectMany((d, i) => new[] { d.X, d.Y, d.Z, SkyCells.SolidAngles[i] })
            .Concat(SkyCells.Edges.SelectMany(e => new[] { e.Upper, e.Lower, e.From, e.To }));

    private static IEnumerable<float> Numbers(Vector3 v) => [v.X, v.Y, v.Z];

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
                floorRadiance = Numbers(ready.FloorRadiance),
                ready.HasFloor,
                suns = ready.Suns.Select(s => new
                {
                    direction = Numbers(s.Direction),
                    irradiance = Numbers(s.Irradiance),
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
