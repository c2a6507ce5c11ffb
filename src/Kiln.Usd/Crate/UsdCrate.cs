namespace Kiln.Usd.Crate;

/// <summary>
/// Reads the binary form of a USD layer (.usdc, AOUSD Core Specification, "Crate file format", versions 0.4 and later) as
/// <see cref="UsdText"/> reads the text form.
/// </summary>
public static class UsdCrate
{
    private static readonly string[] Specifiers = ["def", "over", "class"];

    /// <summary>Fields of prims by the words that the text form has for them.</summary>
    private static readonly Dictionary<string, string> Named = new()
    {
        ["payload"] = "payload",
        ["references"] = "references",
        ["inheritPaths"] = "inherits",
        ["specializes"] = "specializes",
        ["active"] = "active",
        ["kind"] = "kind",
        ["apiSchemas"] = "apiSchemas",
        ["subLayers"] = "subLayers",
        ["metersPerUnit"] = "metersPerUnit",
        ["upAxis"] = "upAxis",
        ["defaultPrim"] = "defaultPrim",
    };

    /// <returns>The layer: a prim without a name, whose metadata are the layer's.</returns>
    /// <exception cref="UsdException">It is no such layer, damaged, or goes beyond the limits.</exception>
    public static UsdPrim Parse(byte[] file, UsdLimits? limits = null)
    {
        limits ??= UsdLimits.Materials;
        var tables = CrateTables.Read(file, limits);
        return new Reader(tables, new(tables, limits.Numbers), limits).Layer();
    }

    private sealed class Reader(CrateTables tables, CrateValues values, UsdLimits limits)
    {
        private const int MaximumDepth = 64;

        private readonly Dictionary<string, CrateTables.Spec> specs = tables
            .Specs.Where(s => s.Path.Length > 0)
            .GroupBy(s => s.Path)
            .ToDictionary(g => g.Key, g => g.First());

        private int prims;

        public UsdPrim Layer()
        {
            var layer = new UsdPrim("", "", "");
            if (specs.TryGetValue("/", out var root))
                Fill(layer, root, 0);
            return layer;
        }

        /// <summary>Everything of a spec: its metadata, properties and prims below it.</summary>
        private void Fill(UsdPrim prim, CrateTables.Spec spec, int depth)
        {
            if (depth > MaximumDepth)
                throw new UsdException("The binary layer cannot be read: prims are nested too deeply.");
            IReadOnlyList<string> children = [],
                properties = [],
                sets = [];
            foreach (var (name, value) in tables.Fields(spec).ToList())
                switch (name)
                {
                    case "primChildren":
                        children = Texts(value);
                        break;
                    case "properties":
                        properties = Texts(value);
                        break;
                    case "variantSetNames" or "variantSetChildren":
                        sets = Texts(value) is { Count: > 0 } named ? named : sets;
                        break;
                    case "variantSelection":
                        values.Selections(value, prim.Selections);
                        break;
                    default:
                        if (Named.TryGetValue(name, out var word))
                            prim.Metadata[word] = values.Into(new(word, ""), value);
                        break;
                }
            foreach (var name in properties)
                if (specs.TryGetValue($"{spec.Path}.{name}", out var property))
                    prim.Properties[name] = Property(name, property);
            foreach (var name in children)
                if (specs.TryGetValue(spec.Path is "/" ? "/" + name : $"{spec.Path}/{name}", out var child))
                    prim.Children.Add(Prim(child, $"{prim.Path}/{name}", depth + 1));
            foreach (var set in sets)
                Variant(prim, spec, set, depth);
        }

        private IReadOnlyList<string> Texts(ulong value) => values.Into(new("", ""), value).Texts ?? [];

        private UsdPrim Prim(CrateTables.Spec spec, string path, int depth)
        {
            if (++prims > limits.Prims)
                throw new UsdException($"The binary layer has more than {limits.Prims} prims.");
            var fields = tables.Fields(spec).ToList();
            var specifier = One(fields, "specifier")?.Numbers is [var n] && n is >= 0 and < 3 ? Specifiers[(int)n] : "over";
            var prim = new UsdPrim(specifier, One(fields, "typeName")?.Text ?? "", path);
            Fill(prim, spec, depth);
            return prim;
        }

        private UsdProperty? One(List<(string Name, ulong Value)> fields, string name) =>
            fields.FindIndex(f => f.Name == name) is >= 0 and var at ? values.Into(new(name, ""), fields[at].Value) : null;

        /// <summary>The chosen one of a set, the first where none is chosen.</summary>
        private void Variant(UsdPrim prim, CrateTables.Spec spec, string set, int depth)
        {
            if (!specs.TryGetValue($"{spec.Path}{{{set}=}}", out var all))
                return;
            var names = One([.. tables.Fields(all)], "variantChildren")?.Texts ?? [];
            var chosen = prim.Selections.GetValueOrDefault(set) ?? names.FirstOrDefault();
            if (chosen is null || !specs.TryGetValue($"{spec.Path}{{{set}={chosen}}}", out var variant))
                return;
            var weaker = new UsdPrim("", "", prim.Path);
            weaker.Choose(prim);
            Fill(weaker, variant, depth + 1);
            prim.AddChoices(weaker);
            prim.AddWeaker(weaker);
        }

        private UsdProperty Property(string name, CrateTables.Spec spec)
        {
            var fields = tables.Fields(spec).ToList();
            var isRelationship = spec.Kind == CrateTables.SpecKind.Relationship;
            var property = new UsdProperty(name, isRelationship ? "rel" : One(fields, "typeName")?.Text ?? "");
            var metadata = new Dictionary<string, UsdProperty>();
            foreach (var (field, value) in fields)
                switch (field)
                {
                    case "default":
                        property = values.Into(property, value);
                        break;
                    case "connectionPaths":
                        if (Texts(value) is [var first, ..])
                            property = property with { Connection = first };
                        break;
                    case "targetPaths":
                        var targets = Texts(value);
                        property = targets.Count == 1 ? property with { Text = targets[0] } : property with { Texts = targets };
                        break;
                    case "interpolation" or "colorSpace":
                        metadata[field] = values.Into(new(field, ""), value);
                        break;
                }
            if (fields.FindIndex(f => f.Name == "timeSamples") is >= 0 and var at)
            {
                var has = property.Numbers is not null || property.Text is not null || property.Texts is not null;
                property = (has ? property : values.First(property, fields[at].Value)) with { IsAnimated = true };
            }
            return metadata.Count == 0 ? property : property with { Metadata = metadata };
        }
    }
}
