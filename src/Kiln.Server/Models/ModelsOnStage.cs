using System.Security.Cryptography;
using System.Text;
using Kiln.Analysis.Models;
using Kiln.Looks.Document;
using Kiln.Models.Packing;
using Kiln.Models.Uvs;
using Kiln.Proof.Geometry.Models;
using Kiln.Server.Platform;
using Kiln.Store.Contents;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>
/// Models as proofs show them, kept as long as there is room; anew where a look gives UVs of another size to a part without.
/// </summary>
public sealed class ModelsOnStage(ContentStore store, StudioCache cache)
{
    /// <summary>Bytes of a triangle on stage with its share of the boxes around it: a guess, not measured.</summary>
    private const int BytesOfTriangle = 250;

    /// <param name="looks">By the paths of parts.</param>
    public Task<StandingModel> OfAsync(ModelRow model, IReadOnlyList<PartRow> parts, IReadOnlyDictionary<string, Look> looks)
    {
        var chosen = Chosen(parts);
        var given = parts
            .Select(p => (p.Path, Look: looks.GetValueOrDefault(p.Path), p.Projection, p.UvSets))
            .Where(p => p.Projection is not null || ModelOnStage.NeedsUvs(p.UvSets.Length, p.Look))
            .Select(p => FormattableString.Invariant($"{p.Path}={p.Projection ?? "box"}/{p.Look?.SizeU ?? 1}x{p.Look?.SizeV ?? 1}"));
        return cache.OnceAsync(
            "model-on-stage",
            $"{model.Packed}/{Hash(string.Join('\n', given))}",
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
