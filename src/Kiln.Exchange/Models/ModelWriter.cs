using System.Globalization;
using System.Text;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Packages;
using Kiln.Exchange.Usd;
using Kiln.Looks.Evaluation;

namespace Kiln.Exchange.Models;

/// <summary>
/// The files of a model with its looks: one .glb; a USD layer with its textures; or MaterialX documents with a look that assigns them
/// (MaterialX 1.39, "Material and look elements") beside the parts as OBJ.
/// </summary>
/// <param name="looks">Writes the looks' own documents and textures.</param>
public sealed class ModelWriter(LookWriter looks, IContentFiles contents)
{
    /// <summary>More than these are gigabytes as text.</summary>
    public const int MostTrianglesAsText = 2_000_000;

    /// <exception cref="ExchangeException">A name that the format cannot hold, or more triangles than text is for.</exception>
    public IReadOnlyList<WrittenFile> Files(CarriedModel model, DialectProfile profile)
    {
        var splits = profile.Textures.Udim is null;
        var carried = splits ? model.TileByTile() : model;
        var name = DialectCompiler.MaterialName(model.Name);
        if (profile.Document == DocumentKind.Gltf)
            return [new(name + ".glb", GlbWriter.Write(carried, contents), null)];
        if (model.Parts.Sum(p => p.Form.Indices.Length / 3L) is > MostTrianglesAsText and var triangles)
            throw new ExchangeException(
                $"'{model.Name}' has {triangles} triangles; this dialect's files are text, which holds at most {MostTrianglesAsText}. "
                    + "glTF holds more."
            );
        List<WrittenFile> Written(IReadOnlyList<Network> networks) =>
            [.. networks.SelectMany(n => looks.Files(n, profile)).DistinctBy(f => f.Path)];
        if (profile.Document == DocumentKind.Usd)
            return
            [
                new(name + ".usda", UsdaModelWriter.Write(carried, profile), null),
                .. Written(carried.Materials).Where(f => !f.Path.EndsWith(".usda", StringComparison.Ordinal)),
            ];
        var assigned = AssignmentsName(carried, name);
        carried = carried with { Materials = NodesApart(carried.Materials, assigned) };
        return
        [
            new(assigned + ".mtlx", Assignments(carried, assigned), null),
            new(name + ".obj", Obj(carried), null),
            .. Written(carried.Materials),
        ];
    }

    /// <summary>Of the document that assigns, and of the look in it: what no material's document or definitions are called.</summary>
    private static string AssignmentsName(CarriedModel model, string name)
    {
        var taken = model
            .Materials.SelectMany(n => (string[])[n.Material, n.Material + "_defs"])
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        var free = name + "_look";
        for (var n = 2; taken.Contains(free); n++)
            free = $"{name}_look_{n}";
        return free;
    }

    /// <summary>
    /// Whoever reads the documents reads them into one, in which a name stands for one thing: of two nodes with the same name the first
    /// would be kept, without a word. So every node has a name of its own, which is nobody's material or look.
    /// </summary>
    private static IReadOnlyList<Network> NodesApart(IReadOnlyList<Network> networks, string assigned)
    {
        var given = networks.Select(n => n.Material).Append(assigned).ToHashSet();
        string Free(string name)
        {
            var free = name;
            for (var n = 2; !given.Add(free); n++)
                free = $"{name}_{n}";
            return free;
        }
        return [.. networks.Select(n => n.WithNodeNames(Free))];
    }

    /// <summary>The parts with their names in the OBJ, where a slash would stand for nothing; no two have the same.</summary>
    private static List<(CarriedPart Part, string Name)> Named(CarriedModel model)
    {
        var given = new HashSet<string>();
        string Free(string path)
        {
            var plain = path.Trim('/').Replace('/', '_');
            var free = plain;
            for (var n = 2; !given.Add(free); n++)
                free = $"{plain}_{n}";
            return free;
        }
        return [.. model.Parts.Select(p => (p, Free(p.Path)))];
    }

    private static byte[] Assignments(CarriedModel model, string assigned) =>
        MaterialXText.Of(xml =>
        {
            foreach (var network in model.Materials)
                MaterialXText.Include(xml, network.Material + ".mtlx");
            xml.WriteStartElement("look");
            xml.WriteAttributeString("name", assigned);
            foreach (var (i, (part, geometry)) in Named(model).Index().Where(p => p.Item.Part.Material is not null))
            {
                xml.WriteStartElement("materialassign");
                xml.WriteAttributeString("name", $"part_{i + 1}");
                xml.WriteAttributeString("geom", "/" + geometry);
                xml.WriteAttributeString("material", model.Materials[part.Material!.Value].Material);
                xml.WriteEndElement();
            }
            xml.WriteEndElement();
        });

    /// <summary>All parts as objects, in metres, Y upwards, V upwards; each says its material's name.</summary>
    private static byte[] Obj(CarriedModel model)
    {
        var text = new StringBuilder();
        var before = 1;
        void Line(FormattableString line) => text.Append(line.ToString(CultureInfo.InvariantCulture)).Append('\n');
        // A material holds for all that follows and cannot be ended: parts without one come first.
        foreach (var (part, geometry) in Named(model).OrderBy(p => p.Part.Material is not null))
        {
            var form = part.Form;
            Line($"o {geometry}");
            foreach (var p in form.Positions)
                Line($"v {p.X:R} {p.Y:R} {p.Z:R}");
            foreach (var p in form.Uvs)
                Line($"vt {p.X:R} {p.Y:R}");
            foreach (var p in form.Normals)
                Line($"vn {p.X:R} {p.Y:R} {p.Z:R}");
            if (part.Material is { } material)
                Line($"usemtl {model.Materials[material].Material}");
            for (var i = 0; i < form.Indices.Length; i += 3)
            {
                var (a, b, c) = (before + form.Indices[i], before + form.Indices[i + 1], before + form.Indices[i + 2]);
                Line($"f {a}/{a}/{a} {b}/{b}/{b} {c}/{c}/{c}");
            }
            before += form.Positions.Length;
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }
}
