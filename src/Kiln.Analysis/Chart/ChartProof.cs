using System.Numerics;
using Kiln.Analysis.Difference;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Analysis.Chart;

/// <summary>One patch of a proved chart.</summary>
/// <param name="Stated">CIE xyY as stated.</param>
/// <param name="Expected">sRGB code values of the stated colour, 0..255, not rounded; clamped to the display.</param>
/// <param name="Shown">Mean code values of the rendered and displayed patch, 0..255.</param>
/// <param name="DeltaE">CIEDE2000 of the two.</param>
/// <param name="Clipped">Whether the stated colour is beyond what the display shows; then its edge is what is compared.</param>
public sealed record ProvedPatch(
    string Name,
    PatchKind Kind,
    string Statement,
    IReadOnlyList<float> Stated,
    IReadOnlyList<float> Expected,
    IReadOnlyList<float> Shown,
    float DeltaE,
    bool Clipped
);

/// <summary>The chart rendered in even light of radiance 1 and displayed one to one, patch by patch against what is stated.</summary>
/// <param name="Picture">The displayed picture, 8 bit.</param>
public sealed record ChartProof(IReadOnlyList<ProvedPatch> Patches, ImageBuffer Picture)
{
    private const int Samples = 48;

    public float Greatest => Patches.Max(p => p.DeltaE);

    /// <summary>The chart as a form: surfaces that reflect what they state.</summary>
    /// <param name="side">Of the picture, in pixels.</param>
    public static ChartProof OfForm(ProofMaterial strip, int side = 256, CancellationToken cancel = default) =>
        Prove(new ProofRequest("chart", "furnace", side, side).Start(strip), strip.Working, ChartForm.Point, cancel);

    /// <summary>
    /// A look whose base colour is the chart's map, lying on the tile and seen from above. Metals are painted, not polished, here.
    /// </summary>
    public static ChartProof OfMap(ProofMaterial look, int side = 256, CancellationToken cancel = default)
    {
        var camera = new OrbitCamera(0, 89, 1.3f);
        return Prove(
            new ProofRequest("tile", "furnace", side, side, camera).Start(look),
            look.Working,
            at => new(at.X - 0.5f, Forms.TileTop, 0.5f - at.Y),
            cancel
        );
    }

    private static ChartProof Prove(PathTracer tracer, WorkingSpace working, Func<Vector2, Vector3> place, CancellationToken cancel)
    {
        tracer.Accumulate(Samples, cancel);
        var shown = View.Named("plain", working.Space).Apply(tracer.Picture());
        return new(
            [.. ReferenceChart.Patches.Select((p, i) => Patch(p, ReferenceChart.Place(i), shown, at => tracer.Camera.Project(place(at))))],
            shown
        );
    }

    private static ProvedPatch Patch(ChartPatch patch, (Vector2 Low, Vector2 High) place, ImageBuffer shown, Func<Vector2, Vector2> project)
    {
        // The middle half of the patch, well away from its edges.
        Vector2 quarter = (place.High - place.Low) / 4,
            a = project(place.Low + quarter),
            b = project(place.High - quarter);
        var sum = Vector3.Zero;
        var count = 0;
        for (var y = (int)MathF.Ceiling(MathF.Min(a.Y, b.Y)); y < MathF.Max(a.Y, b.Y); y++)
        for (var x = (int)MathF.Ceiling(MathF.Min(a.X, b.X)); x < MathF.Max(a.X, b.X); x++, count++)
            sum += new Vector3(shown[x, y, 0], shown[x, y, 1], shown[x, y, 2]);
        var mean = sum / Math.Max(1, count);
        var linear = patch.In(ColourSpace.LinRec709);
        var limited = Vector3.Clamp(linear, Vector3.Zero, Vector3.One);
        var expected = ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.SrgbTexture).Apply(limited);
        var difference = DeltaE.Between(DeltaE.LabOfDisplay(expected), DeltaE.LabOfDisplay(mean));
        return new(
            patch.Name,
            patch.Kind,
            patch.Statement,
            [(float)patch.X, (float)patch.Y, (float)patch.Reflectance],
            Codes(expected),
            Codes(mean),
            (float)difference,
            linear != limited
        );
    }

    private static float[] Codes(Vector3 v) => [v.X * 255, v.Y * 255, v.Z * 255];
}
