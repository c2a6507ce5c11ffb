using Kiln.Proof.Geometry;
using Kiln.Proof.Rendering;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>What is alike wherever a surface of a scene is met.</summary>
internal sealed class SurfaceKind(SurfaceModel model, in WideParameters plain)
{
    private readonly WideParameters plain = plain;

    public static readonly SurfaceKind Floor = new(StudioFloor.Model, StudioFloor.Even) { IsFloor = true };

    public static SurfaceKind OfLook(ProofMaterial material) =>
        new(material.Model, material.Plain)
        {
            Look = material,
            MayStretch = material.MayStretch,
            HasOwnCoat = material.HasOwnCoat,
            MayDisperse = material.MayDisperse,
        };

    public static SurfaceKind Of(FixedSurface own) => new(own.Model, WideParameters.Of(own.Parameters));

    public SurfaceModel Model => model;

    /// <summary>Parameters that are the same everywhere, before those that vary.</summary>
    public ref readonly WideParameters Plain => ref plain;

    public bool IsFloor { get; private init; }

    /// <summary>The look that lies there; null for what has its own surface.</summary>
    public ProofMaterial? Look { get; private init; }

    /// <summary>Whether reflections may be longer one way.</summary>
    public bool MayStretch { get; init; }

    /// <summary>Whether the coat may lie or stretch otherwise than what is below it.</summary>
    public bool HasOwnCoat { get; init; }

    /// <summary>Whether colours may be bent differently.</summary>
    public bool MayDisperse { get; init; }
}
