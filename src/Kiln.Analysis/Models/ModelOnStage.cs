using Kiln.Models;
using Kiln.Proof.Geometry.Models;

namespace Kiln.Analysis.Models;

/// <summary>A model as a proof shows it: its parts by their paths, each with its first set of UVs.</summary>
public static class ModelOnStage
{
    /// <exception cref="ArgumentException">Nothing of it has an area.</exception>
    public static StandingModel Of(Model model) =>
        StandingModel.Of(
            [
                .. model.Parts.Select(p => new PartTriangles(
                    p.Path,
                    p.Positions,
                    p.Corners,
                    p.Normals is { } n ? (n.Directions, n.Corners) : null,
                    p.UvSets is [var set, ..] ? (set.Places, set.Corners) : null
                )),
            ],
            model.UpAxis
        );
}
