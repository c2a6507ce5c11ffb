using Kiln.Looks.Document;
using Kiln.Models;
using Kiln.Models.Uvs;
using Kiln.Proof.Geometry.Models;

namespace Kiln.Analysis.Models;

/// <summary>A model as a proof shows it: its parts by their paths, each with its first set of UVs.</summary>
public static class ModelOnStage
{
    /// <exception cref="ArgumentException">Nothing of it has an area.</exception>
    public static StandingModel Of(Model model) => StandingModel.Of([.. model.Parts.Select(TrianglesOf)], model.UpAxis);

    /// <summary>A part with its first set of UVs.</summary>
    internal static PartTriangles TrianglesOf(ModelPart part) =>
        new(
            part.Path,
            part.Positions,
            part.Corners,
            part.Normals is { } n ? (n.Directions, n.Corners) : null,
            part.UvSets is [var set, ..] ? (set.Places, set.Corners) : null
        );

    /// <summary>Whether a look cannot lie on a part as the part is: it has maps, and the part no UVs.</summary>
    public static bool NeedsUvs(int uvSets, Look? look) => uvSets == 0 && look is { Slots.Count: > 0 };

    /// <summary>
    /// The model with the UVs that its parts are shown by, a picture as large there as the look says: as somebody chose, and from six sides
    /// on parts that have none and a look with maps. The file's own stand behind those that were made.
    /// </summary>
    /// <param name="looks">By the paths of parts.</param>
    /// <param name="chosen">By the paths of parts; null for none.</param>
    /// <param name="projected">Is told of each part that nobody chose for.</param>
    public static Model WithUvs(
        Model model,
        IReadOnlyDictionary<string, Look> looks,
        IReadOnlyDictionary<string, ProjectionKind>? chosen = null,
        Action<ModelPart, Look>? projected = null
    )
    {
        ModelPart Projected(ModelPart part)
        {
            var look = looks.GetValueOrDefault(part.Path);
            var isChosen = (chosen ?? new Dictionary<string, ProjectionKind>()).TryGetValue(part.Path, out var kind);
            if (!isChosen && !NeedsUvs(part.UvSets.Count, look))
                return part;
            if (!isChosen)
                projected?.Invoke(part, look!);
            var made = UvProjection.Of(part, kind, model.UpAxis, look?.SizeU ?? 1, look?.SizeV ?? 1);
            return part with { UvSets = [made, .. part.UvSets] };
        }
        return model with { Parts = [.. model.Parts.Select(Projected)] };
    }

    /// <summary>What nothing lies on: grey of 18 %, half rough.</summary>
    public static Look PlainGrey =>
        new()
        {
            Name = "grey",
            Lanes = System
                .Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add(
                    "base_color",
                    new(new TintValue(0.18f, 0.18f, 0.18f, "acescg"))
                )
                .Add("specular_roughness", new(LookValue.Of(0.5f))),
        };
}
