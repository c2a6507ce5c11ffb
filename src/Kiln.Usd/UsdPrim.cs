namespace Kiln.Usd;

/// <summary>
/// A property of a prim, or an entry of metadata: its type, and a value or a connection. Values are numbers in order, or a text; both are
/// null where it has none.
/// </summary>
/// <param name="Numbers">Those of tuples and matrices one after another.</param>
/// <param name="Text">Of a single text, token, file name or path.</param>
public sealed record UsdProperty(string Name, string Type, double[]? Numbers = null, string? Text = null, string? Connection = null)
{
    private static readonly Dictionary<string, UsdProperty> None = [];

    /// <summary>Texts, tokens, file names or paths of a list, in order; null for anything else.</summary>
    public IReadOnlyList<string>? Texts { get; init; }

    public IReadOnlyDictionary<string, UsdProperty> Metadata { get; init; } = None;

    /// <summary>Whether it changes over time; its value is the first one then, where it has none beside.</summary>
    public bool IsAnimated { get; init; }

    /// <summary>The colour space that its metadata name.</summary>
    public string? Space => Metadata.GetValueOrDefault("colorSpace")?.Text;
}

/// <summary>A prim of a USD layer with its path, properties and children.</summary>
/// <param name="specifier">def, over or class; empty for the layer itself.</param>
public sealed class UsdPrim(string specifier, string type, string path)
{
    public string Specifier { get; private set; } = specifier;

    public string Type { get; private set; } = type;

    /// <summary>Absolute, such as /Look/Material/shader.</summary>
    public string Path { get; } = path;

    public string Name => Path[(Path.LastIndexOf('/') + 1)..];

    /// <summary>In parentheses after its name; for the layer, at its beginning.</summary>
    public Dictionary<string, UsdProperty> Metadata { get; } = [];

    /// <summary>The choices that its metadata make in sets of variants.</summary>
    public Dictionary<string, string> Selections { get; } = [];

    public Dictionary<string, UsdProperty> Properties { get; } = [];

    public List<UsdPrim> Children { get; } = [];

    public IEnumerable<UsdPrim> All => Children.SelectMany(c => c.All).Prepend(this);

    public UsdProperty? Find(string name) => Properties.GetValueOrDefault(name);

    /// <summary>For a variant: what is chosen outside it is stronger than what it chooses itself.</summary>
    internal void Choose(UsdPrim outside)
    {
        foreach (var (set, name) in outside.Selections)
            Selections[set] = name;
    }

    /// <summary>What a variant chooses holds for the sets of its prim that come after it, where the prim itself chooses nothing.</summary>
    internal void AddChoices(UsdPrim variant)
    {
        foreach (var (set, name) in variant.Selections)
            Selections.TryAdd(set, name);
    }

    /// <summary>What a chosen variant says: it holds where the prim itself says nothing.</summary>
    internal void AddWeaker(UsdPrim weaker)
    {
        if (Specifier is "over" && weaker.Specifier is "def" or "class")
            Specifier = weaker.Specifier;
        if (Type.Length == 0)
            Type = weaker.Type;
        foreach (var (name, entry) in weaker.Metadata)
            Metadata.TryAdd(name, entry);
        foreach (var (name, property) in weaker.Properties)
            if (!Properties.TryGetValue(name, out var own) || own is { Numbers: null, Text: null, Texts: null, Connection: null })
                Properties[name] = property;
        foreach (var child in weaker.Children)
            if (Children.Find(c => c.Path == child.Path) is { } own)
                own.AddWeaker(child);
            else
                Children.Add(child);
    }
}
