using Kiln.Models;
using Kiln.Models.Uvs;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;

namespace Kiln.Analysis.Models;

/// <summary>A model's parts as meshes of their own, in metres and upright, where they are: as they are given away.</summary>
public static class ModelMeshes
{
    /// <summary>By paths, in the file's order, with their first sets of UVs; parts without an area are left out.</summary>
    public static IEnumerable<(string Path, Mesh Mesh)> Of(Model model)
    {
        foreach (var part in model.Parts)
        {
            var upright = ModelOnStage.TrianglesOf(part) with
            {
                Positions = Array.ConvertAll(part.Positions, p => Upright.Of(p, model.UpAxis)),
                Normals = part.Normals is { } n ? (Array.ConvertAll(n.Directions, d => Upright.Of(d, model.UpAxis)), n.Corners) : null,
            };
            if (MeshOf(upright) is { } mesh)
                yield return (part.Path, mesh);
        }
    }

    private static Mesh? MeshOf(PartTriangles part)
    {
        try
        {
            return PartsAsMesh.Of([part]);
        }
        catch (ArgumentException)
        {
            return null;
        }
    }
}
