using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Models;
using Kiln.Models.Materials;
using Kiln.Pixels;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Kiln.Store.Models;

namespace Kiln.Server.Models.Materials;

/// <summary>A picture that may be the one that a material names.</summary>
/// <param name="Role">What it is for: a normal map that is named as a bump is a normal map.</param>
/// <param name="Reading">As it is read in that role.</param>
/// <param name="Score">0..1.</param>
/// <param name="Sure">Whether it is the picture for all that can be known.</param>
/// <param name="From">What it came with, and its surface there.</param>
public sealed record PictureChoice(MapFile File, MapRole Role, Reading Reading, float Score, bool Sure, string Reason, string From);

/// <summary>A picture that a material names, and what it may be; the likeliest first.</summary>
/// <param name="Written">The path as the file has it.</param>
/// <param name="Fault">Why a picture that is there cannot be read.</param>
public sealed record MaterialTexture(MapRole Role, string Written, string? Fault, IReadOnlyList<PictureChoice> Choices);

/// <summary>A material of a model's file.</summary>
/// <param name="Parts">Paths of the parts that have it.</param>
/// <param name="LookId">The look that was made of it; null while none was.</param>
public sealed record MaterialInfo(
    int Number,
    string Name,
    IReadOnlyList<string> Parts,
    IReadOnlyList<MaterialTexture> Textures,
    IReadOnlyDictionary<string, float[]> Values,
    LookId? LookId,
    string? LookName
);

/// <summary>The materials of a model's file, with the pictures that their paths may mean among all that ever came in.</summary>
public sealed class ModelMaterials(
    ModelRepository models,
    MaterialRepository materials,
    DeliveryRepository deliveries,
    NamingRuleRepository rules,
    ContentStore store
)
{
    /// <summary>A material with the pictures that its textures may be, in the order of the textures.</summary>
    internal sealed record Sourced(MaterialRow Row, ModelMaterial Material, IReadOnlyList<IReadOnlyList<TextureSource>> Sources);

    /// <exception cref="LookException">There is no such model.</exception>
    public async Task<IReadOnlyList<MaterialInfo>> OfAsync(ModelId id)
    {
        var (sourced, multiplies) = await SourcedAsync(id);
        return
        [
            .. sourced.Select(s => new MaterialInfo(
                s.Row.Number,
                s.Material.Name,
                s.Row.Parts,
                [.. s.Material.Textures.Select((t, i) => Texture(t, s.Row.Material.Textures[i].Fault, s.Sources[i], multiplies))],
                s.Material.Values,
                s.Row.LookId,
                s.Row.LookName
            )),
        ];
    }

    private static MaterialTexture Texture(ModelTexture texture, string? fault, IReadOnlyList<TextureSource> sources, bool multiplies) =>
        new(
            texture.Role,
            texture.Written,
            fault,
            [
                .. sources.Select(s => new PictureChoice(
                    s.File,
                    s.For(texture).Role,
                    MaterialLooks.ReadingOf(s.For(texture), multiplies),
                    s.Score,
                    s.Score >= TextureSource.Sure,
                    s.Reason,
                    s.From
                )),
            ]
        );

    /// <returns>And whether values beside pictures multiply them.</returns>
    internal async Task<(IReadOnlyList<Sourced> Materials, bool Multiplies)> SourcedAsync(ModelId id)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var rows = await materials.ListAsync(id);
        var known = rows.Any(r => r.Material.Textures.Any(t => t.Within is null)) ? await DeliveriesAsync(model.DeliveryId) : [];
        var sources = new TextureSources(known, model.Path, NamingTables.With(await rules.InForceAsync()));
        return ([.. rows.Select(r => SourcesOf(r, sources))], model.Format is "gltf" or "glb");
    }

    /// <summary>The model's own first, then the newest.</summary>
    private async Task<IReadOnlyList<SourceDelivery>> DeliveriesAsync(DeliveryId? own) =>
        [
            .. (await deliveries.NamedResultsAsync())
                .Select(d => new SourceDelivery(d.Name, d.Result, d.Id == own))
                .OrderByDescending(d => d.IsOwn),
        ];

    /// <summary>Of several pictures that a material names for one role, the first counts.</summary>
    private Sourced SourcesOf(MaterialRow row, TextureSources sources)
    {
        var kept = row.Material with { Textures = [.. row.Material.Textures.DistinctBy(t => t.Role)] };
        kept = kept with
        {
            Textures =
            [
                .. kept.Textures.Select(t =>
                    t.Within is null && t.Fault is null ? t with { Fault = sources.FaultOf(new(t.Role, t.Written, null)) } : t
                ),
            ],
        };
        var textures = kept.Textures.Select(t => new ModelTexture(t.Role, t.Written, null) { Channel = t.Channel }).ToList();
        return new(
            row with
            {
                Material = kept,
            },
            new(kept.Name, textures, kept.Values) { HasOpacityInBaseColour = kept.HasOpacityInBaseColour },
            [
                .. kept.Textures.Select(
                    (t, i) =>
                        t.Within is { } within
                            ? [new TextureSource(within, [], 1, "within the model's file", "the model's file") { IsSame = true }]
                        : t.Fault is not null ? (IReadOnlyList<TextureSource>)[]
                        : [.. sources.Of(textures[i], kept.Name).Where(s => s.File.Contents.All(store.Has))]
                ),
            ]
        );
    }
}
