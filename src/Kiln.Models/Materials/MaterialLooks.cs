using System.Collections.Immutable;
using Kiln.Colour.Spaces;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Models.Materials;

/// <summary>A material of a model's file as a look.</summary>
/// <param name="Remarks">Sentences: pictures that are missing or cannot be read.</param>
public sealed record MaterialLook(string Material, Look Look, IReadOnlyList<string> Remarks);

/// <summary>A picture that a material names.</summary>
/// <param name="Known">As intake placed it, one a tile and role; empty where it is placed nowhere.</param>
public sealed record NamedPicture(ModelTexture Texture, MapFile File, IReadOnlyList<PlacedMap> Known)
{
    /// <summary>What it is for: files that have no word for normal maps name them as bumps, and their pixels tell (common practice, no
    /// source).</summary>
    public MapRole Role =>
        Texture.Role is MapRole.Bump or MapRole.Height && Known.All(k => k.Role != Texture.Role) && Known.Any(k => k.Role == MapRole.Normal)
            ? MapRole.Normal
            : Texture.Role;
}

/// <summary>
/// Makes looks of the materials that a model came with: the pictures they name in the roles in which they name them, read as intake reads
/// maps of such roles, and their values. Nothing outside the model's folder is looked at.
/// </summary>
public static class MaterialLooks
{
    /// <summary>Values of a file are linear, in its primaries: those of Rec.709 (glTF 2.0, 3.9.2; of the others common practice).</summary>
    private static readonly SpaceId Primaries = ColourSpace.LinRec709.Id;

    /// <param name="path">Of the model's file.</param>
    /// <param name="staging">A folder for pictures that the file itself holds.</param>
    /// <returns>The looks by material, and every picture they name, where it lies.</returns>
    public static async Task<(IReadOnlyList<MaterialLook> Looks, IReadOnlyList<DeliveredFile> Files)> OfAsync(
        Model model,
        string path,
        string staging,
        IPictureDecoder decoder,
        NamingTables tables,
        CancellationToken cancel = default
    )
    {
        var pictures = Pictures(model, Path.GetDirectoryName(Path.GetFullPath(path))!, staging);
        var found = await new IntakeAnalysis(decoder, tables).RunAsync(
            DeliveryListing.Of(pictures.Values.DistinctBy(p => p.Path)),
            Path.GetFileNameWithoutExtension(path),
            cancel: cancel
        );
        var placed = found.Sets.SelectMany(s => s.Maps.Concat(s.Alternates.Select(a => a.Map))).ToLookup(m => m.Path);
        var loose = found.Unsorted.Concat(found.SetAside).Where(l => l.File is not null).ToLookup(l => l.Path, l => l.File!);
        var rejected = found.Rejected.ToLookup(r => r.Path, r => r.Error);
        var multiplies = model.Format is "gltf" or "glb";
        return (
            [
                .. model.Materials.Select(material =>
                {
                    var remarks = new List<string>();
                    var maps = new List<NamedPicture>();
                    foreach (var texture in material.Textures)
                        if (!pictures.TryGetValue(Key(texture), out var file))
                            remarks.Add($"Material {material.Name}: the picture '{texture.Written}' was not found.");
                        else if (rejected[file.Path].FirstOrDefault() is { } why)
                            remarks.Add($"Material {material.Name}: '{texture.Written}' cannot be read: {why}");
                        else if ((placed[file.Path].FirstOrDefault()?.File ?? loose[file.Path].FirstOrDefault()) is { } facts)
                            maps.Add(new(texture, facts, [.. placed[file.Path]]));
                        else
                            remarks.Add($"Material {material.Name}: '{texture.Written}' is no picture that is read here.");
                    return new MaterialLook(material.Name, Of(material, material.Name, maps, multiplies), remarks);
                }),
            ],
            [.. pictures.Values]
        );
    }

    /// <summary>A look of a material and the pictures it names.</summary>
    /// <param name="name">Of the look.</param>
    /// <param name="pictures">Those that are there; of several in one role, the first.</param>
    /// <param name="multiplies">Whether values beside a picture multiply it, as in glTF.</param>
    public static Look Of(ModelMaterial material, string name, IReadOnlyList<NamedPicture> pictures, bool multiplies)
    {
        var maps = pictures.DistinctBy(p => p.Role).SelectMany(p => Placed(p, multiplies));
        return WithValues(SetWiring.Wire(new(name, [.. maps], [], []), name), material, multiplies);
    }

    /// <summary>How a picture is read in the role in which a material names it.</summary>
    public static Reading ReadingOf(NamedPicture picture, bool multiplies) => Placed(picture, multiplies).First().Reading;

    private static string Key(ModelTexture texture) => texture.Found ?? $"{texture.Written} {texture.Within?.Length}";

    private static Dictionary<string, DeliveredFile> Pictures(Model model, string folder, string staging)
    {
        var files = new Dictionary<string, DeliveredFile>();
        foreach (var texture in model.Materials.SelectMany(m => m.Textures))
        {
            if (files.ContainsKey(Key(texture)))
                continue;
            if (texture.Found is { } found)
                files[Key(texture)] = File(found, Path.Combine(folder, found));
            else if (texture.Within is { } bytes)
            {
                var local = Path.Combine(staging, $"within_{files.Count}{Ending(bytes.Span)}");
                System.IO.File.WriteAllBytes(local, bytes.Span);
                files[Key(texture)] = File(Path.GetFileName(local), local);
            }
        }
        return files;

        static DeliveredFile File(string path, string local)
        {
            using var stream = System.IO.File.OpenRead(local);
            return new(path, local, stream.Length, ContentHash.Of(stream));
        }
    }

    /// <summary>By the first bytes of the two formats that glTF 2.0 allows, and of the commonest beside them.</summary>
    internal static string Ending(ReadOnlySpan<byte> bytes) =>
        bytes switch
        {
            [0x89, (byte)'P', (byte)'N', (byte)'G', ..] => ".png",
            [0xff, 0xd8, ..] => ".jpg",
            [(byte)'R', (byte)'I', (byte)'F', (byte)'F', ..] => ".webp",
            [(byte)'D', (byte)'D', (byte)'S', ..] => ".dds",
            _ => ".bin",
        };

    /// <summary>A picture in the role that the material has it in, tile by tile: as intake placed it where it agrees, else as maps of
    /// the role are usually read.</summary>
    private static IEnumerable<PlacedMap> Placed(NamedPicture picture, bool isUp)
    {
        var texture = picture.Texture with { Role = picture.Role };
        var direction = texture.Role.Kind() == ReadingKind.Direction && isUp ? NormalY.Up : (NormalY?)null;
        foreach (var tile in picture.Known.Count == 0 ? [null] : picture.Known.DistinctBy(k => k.Udim).Select(k => k.Udim))
        {
            var known = picture.Known.Where(k => k.Udim == tile).ToList();
            yield return known.FirstOrDefault(k => k.Role == texture.Role && (texture.Channel is null || k.Channel == texture.Channel))
                is { } same
            && (direction is null || same.NormalY == direction)
                ? same
                : Usual(
                    texture,
                    known.FirstOrDefault()?.Path ?? picture.File.Name,
                    known.FirstOrDefault()?.File ?? picture.File,
                    direction
                ) with
                {
                    Udim = tile,
                };
        }
    }

    private static PlacedMap Usual(ModelTexture texture, string path, MapFile file, NormalY? direction)
    {
        var facts = file.Facts();
        // A single channel of a picture that has one only is that.
        var channel = texture.Channel is { } c && (c.Place() ?? 0) < file.Channels.Count ? texture.Channel : null;
        var reading = UsualReading.Of(texture.Role, facts, channel, direction);
        return new(
            path,
            texture.Role,
            reading.Channel,
            reading,
            direction,
            direction is null ? null : 1,
            file.Width,
            file.Height,
            file.Bits,
            file.IsFloat,
            null,
            1,
            [$"the model's material names it as {texture.Role.Label()}"],
            file
        );
    }

    /// <param name="multiplies">Whether values beside a picture multiply it (glTF); elsewhere they stand for a picture that is not
    /// there (common practice, no source).</param>
    private static Look WithValues(Look look, ModelMaterial material, bool multiplies)
    {
        var lanes = look.Lanes.ToBuilder();
        if (material.HasOpacityInBaseColour && look.Slots.TryGetValue(MapRole.BaseColor.Id(), out var slot))
            lanes["geometry_opacity"] = new(Chain: new(new SlotOrigin(slot.Role.Id(), Alpha)));
        foreach (var (name, numbers) in material.Values)
        {
            var input = NeutralInputs.Find(name);
            LookValue value = input.IsColour ? new TintValue(numbers[0], numbers[1], numbers[2], Primaries) : LookValue.Of(numbers[0]);
            if (lanes.GetValueOrDefault(name) is not { Chain: { } chain } lane)
                lanes[name] = new(value);
            else if (multiplies && numbers.Any(n => n != 1))
                lanes[name] = lane with { Chain = chain with { Steps = [.. chain.Steps, Multiplied(value, chain.Steps.Length + 1)] } };
        }
        if (lanes.TryGetValue("emission_color", out var glow))
        {
            // What sends no light needs no lane for it.
            if (glow.Chain is null && glow.Value is TintValue { R: 0, G: 0, B: 0 })
                lanes.Remove("emission_color");
            else
                lanes["emission_luminance"] = new(LookValue.Of(1));
        }
        return look with { Lanes = lanes.ToImmutable() };
    }

    private static Reading Alpha => new(ReadingKind.Scalar, ColourSpace.Raw.Id, MapChannel.A, Reason: "the material shows through by it");

    private static Step Multiplied(LookValue by, int number) =>
        by is ScalarValue scalar
            ? new GainStep(scalar.Number) { Id = $"s{number}" }
            : new MixStep(MixMode.Multiply, new Lane(by), new Feed(1)) { Id = $"s{number}" };
}
