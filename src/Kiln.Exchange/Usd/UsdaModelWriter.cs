using System.Text;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Models;
using Kiln.Exchange.Packages;

namespace Kiln.Exchange.Usd;

/// <summary>
/// Writes a model with its looks as one USD text layer: parts as meshes below each other as their paths say, materials in a scope, each
/// bound to its parts (UsdShade, material:binding). The same model gives the same bytes.
/// </summary>
public static class UsdaModelWriter
{
    private const string Scope = "Looks";

    /// <summary>Parts and what they stand in.</summary>
    private sealed class Prim(string name)
    {
        public string Name { get; } = name;

        public CarriedPart? Part { get; set; }

        public List<Prim> Below { get; } = [];

        private readonly Dictionary<string, Prim> known = [];

        /// <summary>The one below of a name in the file, called by letters, digits and underscores as no other beside it is.</summary>
        public Prim Of(string given)
        {
            if (known.TryGetValue(given, out var there))
                return there;
            var plain = DialectCompiler.MaterialName(given);
            var free = plain;
            for (var n = 2; free == Scope || Below.Exists(p => p.Name == free); n++)
                free = $"{plain}_{n}";
            var made = known[given] = new(free);
            Below.Add(made);
            return made;
        }
    }

    public static byte[] Write(CarriedModel model, DialectProfile profile)
    {
        var root = new Prim(DialectCompiler.MaterialName(model.Name));
        foreach (var part in model.Parts)
            part.Path.Split('/', StringSplitOptions.RemoveEmptyEntries).Aggregate(root, (at, name) => at.Of(name)).Part = part;
        var scope = $"/{root.Name}/{Scope}";
        var text = new StringBuilder("#usda 1.0\n(\n    defaultPrim = \"")
            .Append(root.Name)
            .Append("\"\n    metersPerUnit = 1\n    upAxis = \"Y\"\n)\n\ndef Xform \"")
            .Append(root.Name)
            .Append("\" (\n    kind = \"component\"\n)\n{\n");
        foreach (var prim in root.Below)
            Write(text, prim, model, scope);
        text.Append("    def Scope \"").Append(Scope).Append("\"\n    {\n");
        foreach (var network in model.Materials)
            UsdaWriter.Material(text, new NetworkVariant("", network), profile, scope);
        return new UTF8Encoding(false).GetBytes(text.Append("    }\n}\n").ToString());
    }

    /// <summary>A part that others stand in is a mesh beside them: meshes hold no meshes.</summary>
    private static void Write(StringBuilder text, Prim prim, CarriedModel model, string scope)
    {
        if (prim.Below.Count > 0)
            text.Append("    def Xform \"").Append(prim.Name).Append("\"\n    {\n");
        if (prim.Part is { } part)
            UsdaWriter.Mesh(
                text,
                prim.Below.Count > 0 ? prim.Of(prim.Name + "/").Name : prim.Name,
                part.Form,
                part.Material is { } m ? $"{scope}/{model.Materials[m].Material}" : null
            );
        foreach (var below in prim.Below.Where(b => b.Part is not null || b.Below.Count > 0))
            Write(text, below, model, scope);
        if (prim.Below.Count > 0)
            text.Append("    }\n\n");
    }
}
