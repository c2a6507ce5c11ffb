namespace Kiln.Usd;

/// <summary>How much of a layer is read.</summary>
/// <param name="Length">Characters.</param>
public sealed record UsdLimits(int Length, int Prims, int Numbers)
{
    /// <summary>For layers of materials.</summary>
    public static readonly UsdLimits Materials = new(128 << 20, 20_000, 30_000_000);

    /// <summary>For layers of meshes.</summary>
    public static readonly UsdLimits Models = new(1_000_000_000, 1_000_000, 400_000_000);
}

/// <summary>
/// Reads the text form of a USD layer (.usda) as far as prims, properties, connections and their metadata go. Nothing is composed: of
/// references and sublayers only the metadata tell. Of a set of variants the chosen one is taken, the first where none is chosen; what it
/// says is weaker than what the prim itself says.
/// </summary>
public static class UsdText
{
    /// <returns>The layer: a prim without a name, whose metadata are the layer's.</returns>
    /// <exception cref="UsdException">It is no USD text, or goes beyond the limits; the message names the line.</exception>
    public static UsdPrim Parse(string text, UsdLimits? limits = null)
    {
        limits ??= UsdLimits.Materials;
        if (text.Length > limits.Length)
            throw new UsdException($"The layer is longer than {limits.Length / 1_000_000} MB.");
        if (!text.StartsWith("#usda", StringComparison.Ordinal))
            throw new UsdException("The file is no USD text layer: it does not begin with #usda.");
        var root = new UsdPrim("", "", "");
        new Parser(new(text, limits), limits).Body(root, 0, top: true);
        return root;
    }

    private sealed class Parser(UsdScanner scan, UsdLimits limits)
    {
        private const int MaximumDepth = 64;

        private int prims;

        public void Body(UsdPrim prim, int depth, bool top = false)
        {
            if (depth > MaximumDepth)
                throw scan.Error("prims are nested too deeply");
            if (top && scan.Peek() == '(')
                Metadata(prim.Metadata, prim.Selections);
            var chosen = new List<UsdPrim>();
            while (true)
            {
                var c = scan.Peek();
                if (c == '\0' && !top)
                    throw scan.Error("a bracket is not closed");
                if (c == '}' && top)
                    throw scan.Error("a bracket is closed that was not opened");
                if (c is '\0' or '}')
                    break;
                Statement(prim, chosen, depth);
            }
            if (!top)
                scan.Next();
            foreach (var variant in chosen)
                prim.AddWeaker(variant);
        }

        private void Statement(UsdPrim prim, List<UsdPrim> chosen, int depth)
        {
            var word = scan.Word();
            if (word is "def" or "over" or "class")
            {
                Prim(word, prim, depth);
                return;
            }
            if (word is "variantSet")
            {
                Variants(prim, chosen, depth);
                return;
            }
            var isTakenAway = word is "delete";
            if (word is "reorder" or "delete" or "add" or "append" or "prepend")
                word = scan.Word();
            while (word is "custom" or "uniform" or "varying" or "config")
                word = scan.Word();
            // An order of children or properties.
            if (scan.Take('='))
                Value(new(word, ""), false);
            else
                Property(isTakenAway ? new("", "", prim.Path) : prim, word);
        }

        private void Variants(UsdPrim prim, List<UsdPrim> chosen, int depth)
        {
            var selected = prim.Selections.GetValueOrDefault(scan.Text());
            scan.Expect('=');
            scan.Expect('{');
            for (var first = true; scan.Peek() != '}'; first = false)
            {
                if (scan.Peek() == '\0')
                    throw scan.Error("a bracket is not closed");
                var name = scan.Text();
                var variant = new UsdPrim("", "", prim.Path);
                if (scan.Peek() == '(')
                    Metadata(variant.Metadata, variant.Selections);
                if (selected is null ? first : name == selected)
                {
                    scan.Expect('{');
                    variant.Choose(prim);
                    Body(variant, depth + 1);
                    prim.AddChoices(variant);
                    chosen.Add(variant);
                }
                else
                    scan.Skip('{', '}');
            }
            scan.Next();
        }

        private void Prim(string specifier, UsdPrim parent, int depth)
        {
            if (++prims > limits.Prims)
                throw scan.Error($"there are more than {limits.Prims} prims");
            var type = scan.Peek() == '"' ? "" : scan.Word();
            var prim = new UsdPrim(specifier, type, $"{parent.Path}/{scan.Text()}");
            if (scan.Peek() == '(')
                Metadata(prim.Metadata, prim.Selections);
            scan.Expect('{');
            Body(prim, depth + 1);
            parent.Children.Add(prim);
        }

        /// <summary>Entries in parentheses; a text alone is a comment.</summary>
        private void Metadata(Dictionary<string, UsdProperty> into, Dictionary<string, string>? selections = null)
        {
            scan.Expect('(');
            while (!scan.Take(')'))
            {
                var c = scan.Peek();
                if (c == '\0')
                    throw scan.Error("')' is missing");
                if (c is '"' or '\'')
                {
                    scan.Text();
                    continue;
                }
                if (c is '(' or '{' or '[')
                {
                    scan.Skip(
                        c,
                        c is '(' ? ')'
                            : c is '{' ? '}'
                            : ']'
                    );
                    continue;
                }
                if (c is ',' or '=' or '<' or '@')
                {
                    Stray(c);
                    continue;
                }
                var key = scan.Word();
                if (key is "add" or "append" or "prepend" or "reorder" && scan.Peek() is not '=')
                    key = scan.Word();
                else if (key is "delete" && scan.Peek() is not '=')
                {
                    scan.Word();
                    key = "";
                }
                if (!scan.Take('='))
                    continue;
                if (key == "variants" && selections is not null && scan.Peek() == '{')
                    Selected(selections);
                else
                {
                    var entry = Entry(key);
                    if (entry.Text != "None")
                        into[key] = entry;
                }
            }
        }

        private void Stray(char c)
        {
            if (c == '<')
                scan.Path();
            else if (c == '@')
                scan.Asset();
            else
                scan.Next();
        }

        private UsdProperty Entry(string key)
        {
            if (scan.Peek() == '[')
            {
                var texts = new List<string>();
                scan.Next();
                for (var c = scan.Peek(); c != ']'; c = scan.Peek())
                    switch (c)
                    {
                        case '\0':
                            throw scan.Error("a list is not closed");
                        case '@':
                            texts.Add(Reference());
                            break;
                        case '<':
                            texts.Add(scan.Path());
                            break;
                        case '"' or '\'':
                            texts.Add(scan.Text());
                            break;
                        case '(' or '{' or '[':
                            scan.Skip(
                                c,
                                c is '(' ? ')'
                                    : c is '{' ? '}'
                                    : ']'
                            );
                            break;
                        default:
                            scan.Next();
                            break;
                    }
                scan.Next();
                return new(key, "") { Texts = texts };
            }
            if (scan.Peek() == '@')
                return new(key, "", Text: Reference());
            var word = scan.Peek();
            // A word that is no number stands for itself.
            return word is '{' or '(' or '<' or '"' or '\'' ? Value(new(key, ""), false) : Bare(key, scan.Word());
        }

        private UsdProperty Bare(string key, string word) =>
            word.Length > 0 && (char.IsAsciiDigit(word[^1]) || word[^1] == '.') && word[0] is '-' or '+' or '.' or (>= '0' and <= '9')
                ? new(key, "", [scan.Number(word)])
            : word is "true" ? new(key, "", [1])
            : word is "false" ? new(key, "", [0])
            : new(key, "", Text: word);

        /// <summary>A file's name and, within it, a path.</summary>
        private string Reference()
        {
            var asset = scan.Asset();
            return scan.Peek() == '<' ? $"{asset}<{scan.Path()}>" : asset;
        }

        private void Selected(Dictionary<string, string> into)
        {
            scan.Expect('{');
            while (!scan.Take('}'))
            {
                if (scan.Peek() == '\0')
                    throw scan.Error("'}' is missing");
                // Its type, which is always a text's.
                scan.Word();
                var name = scan.Peek() is '"' or '\'' ? scan.Text() : scan.Word();
                scan.Expect('=');
                into[name] = scan.Text();
            }
        }

        private void Property(UsdPrim prim, string type)
        {
            if (scan.Take('['))
            {
                scan.Expect(']');
                type += "[]";
            }
            var name = scan.Word();
            var isConnection = name.EndsWith(".connect", StringComparison.Ordinal);
            if (isConnection)
                name = name[..^".connect".Length];
            var isAnimated = name.EndsWith(".timeSamples", StringComparison.Ordinal);
            if (isAnimated)
                name = name[..^".timeSamples".Length];
            var property = prim.Find(name) ?? new UsdProperty(name, type);
            if (scan.Take('='))
                property = isAnimated ? Sampled(property) : Value(property, isConnection);
            if (scan.Peek() == '(')
            {
                var metadata = new Dictionary<string, UsdProperty>(property.Metadata);
                Metadata(metadata);
                property = property with { Metadata = metadata };
            }
            prim.Properties[name] = property;
        }

        /// <summary>Values at times: the first stands for a property that has none beside.</summary>
        private UsdProperty Sampled(UsdProperty property)
        {
            scan.Expect('{');
            var first = property;
            if (scan.Peek() is not '}')
            {
                // The time, with its colon or before it.
                scan.Word();
                scan.Take(':');
                first = Value(property, false);
            }
            scan.SkipRest('{', '}');
            var has = property.Numbers is not null || property.Text is not null || property.Texts is not null;
            return (has ? property : first) with { IsAnimated = true };
        }

        private UsdProperty Value(UsdProperty property, bool isConnection)
        {
            switch (scan.Peek())
            {
                case '<':
                    var path = scan.Path();
                    return isConnection ? property with { Connection = path } : property with { Text = path };
                case '"' or '\'':
                    return property with { Text = scan.Text() };
                case '@':
                    return property with { Text = scan.Asset() };
                case '(':
                    var tuple = new List<double>();
                    scan.Tuple(tuple);
                    return property with { Numbers = [.. tuple] };
                case '[':
                    return List(property, isConnection);
                case '{':
                    scan.Skip('{', '}');
                    return property;
                default:
                    var word = scan.Word();
                    return word is "None" ? property : property with { Numbers = [scan.Number(word)] };
            }
        }

        /// <summary>Numbers, or texts; of a list of connections the first one counts.</summary>
        private UsdProperty List(UsdProperty property, bool isConnection)
        {
            var (numbers, texts) = (new List<double>(), new List<string>());
            scan.Expect('[');
            for (var c = scan.Peek(); c != ']'; c = scan.Peek())
            {
                switch (c)
                {
                    case '(':
                        scan.Tuple(numbers);
                        break;
                    case '"' or '\'':
                        texts.Add(scan.Text());
                        break;
                    case '@':
                        texts.Add(scan.Asset());
                        break;
                    case '<':
                        texts.Add(scan.Path());
                        break;
                    case '\0':
                        throw scan.Error("a list is not closed");
                    default:
                        numbers.Add(scan.Number());
                        break;
                }
                scan.Take(',');
            }
            scan.Next();
            return isConnection && texts.Count > 0 ? property with { Connection = texts[0] }
                : texts.Count > 0 ? property with { Texts = texts }
                : property with { Numbers = [.. numbers] };
        }
    }
}
