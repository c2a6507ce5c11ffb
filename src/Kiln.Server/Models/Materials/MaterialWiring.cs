using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Readings;
using Kiln.Models.Materials;
using Kiln.Pixels;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Store;
using Kiln.Store.Looks;
using Kiln.Store.Models;

namespace Kiln.Server.Models.Materials;

/// <summary>Which picture is taken for what a material names in a role.</summary>
/// <param name="Content">The first tile's; null: none, its value stands.</param>
public sealed record ChosenPicture(MapRole Role, ContentHash? Content);

/// <summary>A material of which a look is made.</summary>
/// <param name="Pictures">Roles that are not named are left to the likeliest picture, where it is sure.</param>
/// <param name="Parts">On which the look is put, each with the look that was seen on it.</param>
public sealed record ChosenMaterial(int Number, IReadOnlyList<ChosenPicture> Pictures, IReadOnlyList<PartChange> Parts);

/// <summary>Materials of which looks are made.</summary>
public sealed record MaterialsRequest(IReadOnlyList<ChosenMaterial> Materials);

/// <summary>A look that was made of a material.</summary>
/// <param name="Parts">On which it lies now.</param>
public sealed record MadeLook(int Number, LookId Look, string Name, IReadOnlyList<PartChange> Parts);

/// <summary>What came of it.</summary>
/// <param name="Changed">Parts that somebody else gave another look meanwhile; then nothing was made.</param>
public sealed record MadeLooks(IReadOnlyList<MadeLook> Looks, IReadOnlyList<string> Changed);

/// <summary>Makes looks of a model's own materials, and puts them on the parts that have these.</summary>
public sealed class MaterialWiring(
    ModelMaterials materials,
    MaterialRepository kept,
    ModelRepository models,
    LookRepository looks,
    ModelBinding binding,
    ConfigRegistry colour,
    Database database
)
{
    private const int Most = 2000;

    /// <summary>Nothing is kept where it cannot all be.</summary>
    private sealed class ChangedMeanwhileException(IReadOnlyList<string> parts) : Exception
    {
        public IReadOnlyList<string> Parts => parts;
    }

    /// <summary>All of the looks on all of their parts, or nothing.</summary>
    /// <exception cref="LookException">There is no such model, material or picture among its choices.</exception>
    public async Task<MadeLooks> MakeAsync(ModelId id, MaterialsRequest request, PersonId person)
    {
        if (request.Materials.Count is 0 or > Most)
            throw new LookException($"Say 1 to {Most} materials.");
        try
        {
            var made = await database.TogetherAsync(() => MadeAsync(id, request, person));
            await binding.TellAsync(id);
            return new(made, []);
        }
        catch (ChangedMeanwhileException e)
        {
            return new([], e.Parts);
        }
    }

    private async Task<IReadOnlyList<MadeLook>> MadeAsync(ModelId id, MaterialsRequest request, PersonId person)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var (all, multiplies) = await materials.SourcedAsync(id);
        var names = (await models.LooksAsync()).Select(l => l.Name).ToHashSet();
        var made = new List<MadeLook>();
        foreach (var chosen in request.Materials.DistinctBy(m => m.Number))
        {
            var one = all.FirstOrDefault(m => m.Row.Number == chosen.Number)
                ?? throw new LookException($"The model has no material number {chosen.Number}.");
            var name = Named(one.Material.Name, model.Name, names);
            var look = MaterialLooks.Of(one.Material, name, Pictures(one, chosen), multiplies) with { Colour = colour.Remembered };
            var lookId = await looks.CreateAsync(look, person, model.DeliveryId);
            if (chosen.Parts.Count > 0 && await models.PutOnAsync(id, chosen.Parts, lookId) is { Count: > 0 } changed)
                throw new ChangedMeanwhileException(changed);
            await kept.MadeAsync(id, chosen.Number, lookId);
            made.Add(new(chosen.Number, lookId, name, chosen.Parts));
        }
        return made;
    }

    /// <summary>By the material, and where a look has that name already, by the model too.</summary>
    private static string Named(string material, string model, HashSet<string> names)
    {
        var own = material.Replace('_', ' ').Trim() is { Length: > 0 } said ? said : "material";
        var name = names.Contains(own) ? $"{model} {own}" : own;
        for (var n = 2; !names.Add(name); n++)
            name = $"{model} {own} {n}";
        return name;
    }

    private static IReadOnlyList<NamedPicture> Pictures(ModelMaterials.Sourced material, ChosenMaterial chosen)
    {
        var pictures = new List<NamedPicture>();
        foreach (var (i, texture) in material.Material.Textures.Index())
        {
            var said = chosen.Pictures.FirstOrDefault(p => p.Role == texture.Role);
            var source =
                said is null ? material.Sources[i].FirstOrDefault(s => s.Score >= TextureSource.Sure)
                : said.Content is { } content
                    ? material.Sources[i].FirstOrDefault(s => s.File.Content == content)
                        ?? throw new LookException(
                            $"'{material.Material.Name}': that picture is none of those found for {texture.Role.Label()}."
                        )
                : null;
            if (source is not null)
                pictures.Add(source.For(texture));
        }
        return pictures;
    }
}
