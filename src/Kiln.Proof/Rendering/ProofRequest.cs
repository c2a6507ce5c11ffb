using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;

namespace Kiln.Proof.Rendering;

/// <summary>What a proof is asked to show, apart from the surface. Exposure and view are applied to the finished picture.</summary>
public sealed record ProofRequest(
    string Form = "vessel",
    string Light = "softbox",
    int Width = 480,
    int Height = 480,
    OrbitCamera? Camera = null,
    float LightRotationDegrees = 0,
    uint Seed = 1,
    bool Background = true,
    bool WithLayers = false,
    bool BlurredBackground = false,
    int? Tile = null
)
{
    private static readonly System.Collections.Concurrent.ConcurrentDictionary<string, Mesh> Made = new();

    /// <summary>Makes the forms that take long now, so that no picture has to wait for them.</summary>
    public static void Prepare() => Made.GetOrAdd("cloth", Forms.Named);

    /// <exception cref="ArgumentException">A form or light that does not exist, or a size out of range.</exception>
    public PathTracer Start(ProofMaterial material, EnvironmentLight? ownLight = null)
    {
        CheckSize();
        var mesh = Made.GetOrAdd(Form, Forms.Named);
        // The chart is measured: its patches stay where they are.
        var moved = material.Displacement is { } displacement && Form != "chart" ? Displacing.Of(Form, mesh, displacement) : mesh;
        var scene = new ProofScene(
            moved,
            material.Showing(Tile),
            LightFor(material, ownLight),
            LightRotationDegrees,
            framing: mesh,
            parts: new(Forms.FixedSurfaces(Form, material.Working))
        );
        return new(scene, Width, Height, Camera ?? OrbitCamera.For(Form), Seed, Content);
    }

    /// <summary>The same with a model in the form's place.</summary>
    /// <param name="looks">By the names of parts; the others have what lies on the rest.</param>
    /// <exception cref="ArgumentException">A light that does not exist, a size out of range, or too many looks.</exception>
    public PathTracer Start(
        StandingModel model,
        IReadOnlyDictionary<string, ProofMaterial> looks,
        ProofMaterial rest,
        EnvironmentLight? ownLight = null
    )
    {
        CheckSize();
        var scene = new ProofScene(
            model.Mesh,
            rest,
            LightFor(rest, ownLight),
            LightRotationDegrees,
            parts: new(Looks: looks, UnitsPerMetre: model.UnitsPerMetre)
        );
        return new(scene, Width, Height, Camera ?? StandingModel.Whole, Seed, Content);
    }

    private PictureContent Content => new(Background, WithLayers, BlurredBackground);

    private EnvironmentLight LightFor(ProofMaterial material, EnvironmentLight? own) =>
        own?.In(material.Working) ?? LightRoom.Named(Light, material.Working);

    private void CheckSize()
    {
        if (Width is < 8 or > 4096 || Height is < 8 or > 4096)
            throw new ArgumentException($"A proof of {Width} x {Height} pixels is not possible; 8 to 4096 on a side are.");
    }
}
