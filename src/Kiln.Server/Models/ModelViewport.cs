using System.Numerics;
using Kiln.Analysis.Models;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Rendering;
using Kiln.Server.Viewport;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>Which of a scene's looks lies on a part.</summary>
/// <param name="Look">Its place in the list.</param>
public sealed record DressedPart(string Path, int Look);

/// <summary>A model as the viewport draws it.</summary>
/// <param name="Shape">The same for the same triangles and UVs.</param>
/// <param name="Looks">Each once, grey among them where parts have none; a text that the asker has is left out.</param>
public sealed record ModelScene(string Shape, IReadOnlyList<ViewportLook> Looks, IReadOnlyList<DressedPart> Parts);

/// <summary>Models with the looks on their parts, for the viewer's graphics processor.</summary>
public sealed class ModelViewport(ModelRepository models, ModelsOnStage stage, ViewportLooks looks, ViewportScenes scenes)
{
    /// <summary>Triangles that are drawn while the hand moves; of more the server's pictures are shown.</summary>
    public const int MostTriangles = 1_000_000;

    /// <param name="only">The only part that is shown in its look; null for all.</param>
    /// <param name="have">Structures whose text the asker has.</param>
    /// <exception cref="LookException">There is no such model, or it has too many triangles.</exception>
    public async Task<ModelScene> OfAsync(ModelId id, string? only, IReadOnlyList<string> have)
    {
        var (model, parts) = await FoundAsync(id);
        var dressed = await stage.DressedAsync(parts, only);
        var all = parts.Select(p => dressed.Looks.GetValueOrDefault(p.Path) ?? ModelOnStage.PlainGrey).ToList();
        var distinct = all.DistinctBy(LookJson.Hash).ToList();
        var places = distinct.Select((look, i) => (Hash: LookJson.Hash(look), i)).ToDictionary(l => l.Hash, l => l.i);
        var (told, drawn) = (have.ToHashSet(), new List<ViewportLook>());
        foreach (var look in distinct)
        {
            var made = await looks.OnPartAsync(look, dressed.Working, ViewportLooks.LongestMap, ViewportLooks.MapBytes / distinct.Count);
            drawn.Add(told.Add(made.Structure) ? made : made with { Source = null });
        }
        return new(
            ModelsOnStage.Hash(ModelsOnStage.KeyOf(model, parts, dressed.Looks)),
            drawn,
            [.. parts.Select((p, i) => new DressedPart(p.Path, places[LookJson.Hash(all[i])]))]
        );
    }

    /// <summary>Its triangles, as <see cref="OfAsync"/> said; null where the model is another meanwhile.</summary>
    /// <exception cref="LookException">There is no such model, or it has too many triangles.</exception>
    public async Task<byte[]?> ShapeAsync(ModelId id, string? only, string shape)
    {
        var (model, parts) = await FoundAsync(id);
        var dressed = await stage.DressedAsync(parts, only);
        var key = ModelsOnStage.KeyOf(model, parts, dressed.Looks);
        return ModelsOnStage.Hash(key) == shape ? await scenes.ModelAsync(key, () => stage.OfAsync(model, parts, dressed.Looks)) : null;
    }

    /// <summary>The part that is seen at a place of a picture, from the left and from the top 0..1; null where none is.</summary>
    /// <exception cref="LookException">There is no such model.</exception>
    public async Task<string?> PartAtAsync(ModelId id, ModelView view, Vector2 place)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var parts = await models.PartsAsync(id);
        var standing = await stage.OfAsync(model, parts, (await stage.DressedAsync(parts, view.Only)).Looks);
        return standing.PartAt(view.Camera, view.Width, view.Height, place);
    }

    private async Task<(ModelRow Model, IReadOnlyList<PartRow> Parts)> FoundAsync(ModelId id)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        return model.Triangles > MostTriangles
            ? throw new LookException(
                FormattableString.Invariant(
                    $"The model has {model.Triangles:N0} triangles; of more than {MostTriangles:N0} the server's pictures are shown."
                )
            )
            : (model, await models.PartsAsync(id));
    }
}
