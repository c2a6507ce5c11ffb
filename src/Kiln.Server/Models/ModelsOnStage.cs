using System.Security.Cryptography;
using System.Text;
using Kiln.Analysis.Models;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Models.Packing;
using Kiln.Models.Uvs;
using Kiln.Proof.Geometry.Models;
using Kiln.Server.Platform;
using Kiln.Server.Proofs;
using Kiln.Store.Contents;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>Looks by the paths of the parts they lie on, and the space that they are worked in.</summary>
public sealed record DressedParts(IReadOnlyDictionary<string, Look> Looks, WorkingSpace Working);

/// <summary>
/// Models as proofs show them, kept as long as there is room; anew where a look gives UVs of another size to a part without.
/// </summary>
public sealed class ModelsOnStage(ContentStore store, StudioCache cache, LookViews views)
{
    /// <summary>Bytes of a triangle on stage with its share of the boxes around it: a guess, not measured.</summary>
    private const int BytesOfTriangle = 250;

    /// <summary>The looks that lie on parts, each with what the part has of its own.</summary>
    /// <param name="only">The only part that is shown in its look; null for all.</param>
    public async Task<DressedParts> DressedAsync(IReadOnlyList<PartRow> parts, string? only)
    {
        var viewed = new Dictionary<LookId, ViewedLook>();
        var looks = new Dictionary<string, Look>();
        foreach (var part in parts)
        {
            if (part.LookId is not { } look || only is not null && part.Path != only)
                continue;
            if (!viewed.TryGetValue(look, out var seen))
                viewed[look] = seen = await views.OfAsync(look);
            looks[part.Path] = (seen.Look with { Variants = [] }).With(part.Own);
        }
        // Looks of one picture are worked in one space: that of the first part that has one.
        return new(looks, viewed.Values.Select(v => v.Working).FirstOrDefault() ?? WorkingSpace.AcesCg);
    }

    /// <summary>The same for the same model with the same UVs.</summary>
    /// <param name="looks">By the paths of parts.</param>
    public static string KeyOf(ModelRow model, IReadOnlyList<PartRow> parts, IReadOnlyDictionary<string, Look> looks)
    {
        var given = parts
            .Select(p => (p.Path, Look: looks.GetValueOrDefault(p.Path), p.Projection, p.UvSets))
            .Where(p => p.Projection is not null || ModelOnStage.NeedsUvs(p.UvSets.Length, p.Look))
            .Select(p => FormattableString.Invariant($"{p.Path}={p.Projection ?? "box"}/{p.Look?.SizeU ?? 1}x{p.Look?.SizeV ?? 1}"));
        return $"{model.Packed}/{Hash(string.Join('\n', given))}";
    }

    /// <param name="looks">By the paths of parts.</param>
    public Task<StandingModel> OfAsync(ModelRow model, IReadOnlyList<PartRow> parts, IReadOnlyDictionary<string, Look> looks)
    {
        var chosen = Chosen(parts);
        return cache.OnceAsync(
            "model-on-stage",
            KeyOf(model, parts, looks),
            () =>
                Task.Run(() =>
                {
                    using var file = File.OpenRead(store.PathOf(model.Packed));
                    return ModelOnStage.Of(ModelOnStage.WithUvs(PackedModel.Read(file), looks, chosen));
                }),
            _ => model.Triangles * BytesOfTriangle >> 20
        );
    }

    /// <summary>The UVs that somebody chose to be made, by the paths of parts.</summary>
    internal static Dictionary<string, ProjectionKind> Chosen(IReadOnlyList<PartRow> parts) =>
        parts
            .Where(p => p.Projection is not null)
            .ToDictionary(p => p.Path, p => Enum.Parse<ProjectionKind>(p.Projection!, ignoreCase: true));

    internal static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
