using System.Numerics;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Scattering;

namespace Kiln.Proof.Geometry;

/// <summary>A part of a form that keeps its own surface whatever look is proved.</summary>
public sealed record FixedSurface(SurfaceModel Model, SurfaceParameters Parameters);

/// <summary>
/// The reference chart as a board of 1 m that stands upright and faces the camera: patches that reflect exactly what they state,
/// and below them a strip of the look, so that both stand under the same light. One metre of the strip is one unit of UV.
/// </summary>
public static class ChartForm
{
    private const float Raised = 0.002f,
        Polished = 0.0025f;
    private const string BoardPart = "board",
        LookPart = "strip";

    public static Mesh Build()
    {
        var grid = new GridBuilder();
        void Sheet(string part, Vector2 low, Vector2 high, float z)
        {
            grid.Part(part);
            grid.Patch(1, 1, (s, t) =>
            {
                Vector2 at = new(low.X + (high.X - low.X) * s, low.Y + (high.Y - low.Y) * t);
                return (new(at.X - 0.5f, at.Y, z), Vector3.UnitZ, at);
            });
        }
        Sheet(LookPart, new(0.01f, 0.01f), new(0.99f, 1 - ReferenceChart.PatchPart - 0.01f), Raised);
        for (var i = 0; i < ReferenceChart.Patches.Count; i++)
        {
            var (low, high) = ReferenceChart.Place(i);
            Sheet(ReferenceChart.Patches[i].Name, low, high, Raised);
        }
        Sheet(BoardPart, Vector2.Zero, Vector2.One, 0);
        return grid.Mesh();
    }

    /// <summary>Where a point of the chart's unit square stands.</summary>
    public static Vector3 Point(Vector2 at) => new(at.X - 0.5f, at.Y, Raised);

    public static IReadOnlyDictionary<string, FixedSurface> Surfaces(WorkingSpace working)
    {
        var diffuse = new SurfaceModel(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, false);
        FixedSurface Diffuse(Vector3 colour) =>
            new(diffuse, SurfaceParameters.Plain with { BaseColour = colour, Width = 1, SpecularWeight = 0 });
        FixedSurface Metal(Vector3 colour) =>
            new(diffuse, SurfaceParameters.Plain with { BaseColour = colour, Metalness = 1, Width = Polished });
        var result = ReferenceChart.Patches.ToDictionary(
            p => p.Name,
            p => p.Kind == PatchKind.Metal ? Metal(p.In(working.Space)) : Diffuse(p.In(working.Space))
        );
        result[BoardPart] = Diffuse(new(ReferenceChart.BoardGrey));
        return result;
    }
}
