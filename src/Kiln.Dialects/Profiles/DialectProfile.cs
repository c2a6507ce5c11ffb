using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Profiles;

/// <summary>
/// One input of a dialect's surface. Type is float, color3, vector3, integer, boolean or token; the last three take no map. Switch inputs
/// exist so that others take effect.
/// </summary>
/// <param name="Choices">Of a token: its words; a mapping gives the place of one, from 0.</param>
/// <param name="Shader">Displacement where the input is a port of the displacement's own node.</param>
public sealed record DialectInput(
    string Name,
    string Type,
    float[]? Default = null,
    float Low = 0,
    float High = 1,
    bool AlwaysWrite = false,
    bool Switch = false,
    string? Unit = null,
    [property: JsonPropertyName("words")] string? Label = null,
    string[]? Choices = null,
    ShaderPart Shader = ShaderPart.Surface
)
{
    [JsonIgnore]
    public bool IsOfDisplacement => Shader == ShaderPart.Displacement;

    public ShadeType ShadeType =>
        Type switch
        {
            "color3" => ShadeType.Colour,
            "vector3" => ShadeType.Direction,
            _ => ShadeType.Scalar,
        };

    /// <summary>Whether a map may be connected.</summary>
    public bool TakesMaps => Type is not ("integer" or "boolean" or "token");

    /// <summary>A choice as it is written: a word, a truth or a whole number.</summary>
    public string Choice(float value) =>
        Type == "boolean"
            ? value >= 0.5f
                ? "true"
                : "false"
            : Choices is { } words
                ? words[Math.Clamp((int)MathF.Round(value), 0, words.Length - 1)]
                : MathF.Round(value).ToString("0");

    /// <summary>The first number of a value as written.</summary>
    public float Number(string written) =>
        written switch
        {
            "true" => 1,
            "false" => 0,
            _ when Choices is { } words => Math.Max(0, Array.IndexOf(words, written)),
            _ => float.Parse(written.Split(',')[0]),
        };
}

/// <summary>A node of the dialect that does one operation: its category and its ports in the order of the operation's inputs.</summary>
public sealed record NodeRule(string Node, string[] Ports);

/// <summary>How the dialect's picture node is written.</summary>
/// <param name="TexcoordPort">Where the transform's node is connected; unused where the transform is on the picture itself.</param>
/// <param name="SpacePort">For config and named readings: the port that holds the name.</param>
/// <param name="Spaces">For named readings: our spaces to the dialect's words. Where one word stands for several, the first is meant for
/// colours.</param>
/// <param name="SpaceType">Type of the space port.</param>
/// <param name="KindPort">A port that says what kind of map enters, by the words of Kinds: colour, scalar, direction.</param>
/// <param name="ScalePort">With BiasPort: the picture multiplies and adds by itself, per channel, after the reading.</param>
/// <param name="Outputs">Whether the node has outputs r, g, b, a and rgb, of which a connection names one.</param>
/// <param name="Fixed">Ports that are always written so.</param>
public sealed record ImageRule(
    string Node,
    string FilePort,
    string TexcoordPort,
    ReadingStyle Readings,
    string? SpacePort = null,
    Dictionary<string, string>? Spaces = null,
    string SpaceType = "string",
    string? KindPort = null,
    Dictionary<string, string>? Kinds = null,
    string? ScalePort = null,
    string? BiasPort = null,
    bool Outputs = false,
    Dictionary<string, string>? Fixed = null
);

/// <summary>The dialect's texture transform.</summary>
/// <param name="Node">The transform's own node; null where its ports are on the picture.</param>
/// <param name="TexcoordNode">A node that gives the surface's coordinates, where the dialect wants one connected to TexcoordPort.</param>
/// <param name="UsualCoordinates">Whether a picture that nothing places lies on the surface's own coordinates (MaterialX: defaultgeomprop
/// UV0), or wants them connected (USD: st is (0, 0) else).</param>
/// <param name="OrderPort">A port of the node whose value 0 means that it scales before it rotates and subtracts its shift last, whatever
/// Order and Shift say.</param>
/// <param name="Pivot">Point about which it turns and scales, in the dialect's own axes, where the shift is added last.</param>
public sealed record PlacementRule(
    string? Node,
    string? TexcoordNode,
    string TexcoordPort,
    string ScalePort,
    string RotatePort,
    string ShiftPort,
    ScaleSense Scale,
    TransformOrder Order,
    ShiftTime Shift,
    RotationSense Sense,
    AngleUnit Angle = AngleUnit.Degrees,
    bool VDown = false,
    Dictionary<string, string>? Fixed = null,
    float[]? Pivot = null,
    bool UsualCoordinates = true,
    string? OrderPort = null
)
{
    /// <summary>
    /// What the node does where its OrderPort is 0 (MaterialX place2d, operationorder SRT): it scales, rotates, and then subtracts the
    /// shift.
    /// </summary>
    public PlacementRule ScaledFirst() => this with { Order = TransformOrder.ScaleThenRotate, Shift = ShiftTime.After };
}

/// <summary>A texture place of a packed dialect: which inputs lie in which channels, and the factors that multiply them.</summary>
/// <param name="Strength">A number that the picture itself carries: how steep its directions are, or how far its numbers lead away from 1
/// (glTF: normalTexture.scale, occlusionTexture.strength); null where there is none.</param>
public sealed record TextureSlot(
    string Name,
    string Space,
    Dictionary<string, string> Channels,
    Dictionary<string, string>? Factors = null,
    string? Strength = null
)
{
    /// <summary>Type of a picture that fills the place, in a document of nodes.</summary>
    public string PictureType =>
        Channels.ContainsKey("a") ? "color4"
        : Channels.ContainsKey("rg") ? "vector3"
        : Channels.Count > 1 || Channels.ContainsKey("rgb") ? "color3"
        : "float";
}

/// <summary>How directions enter.</summary>
public sealed record NormalRule(NormalY Y, NormalDecoding Decode = NormalDecoding.Node);

/// <summary>How a renderer of the dialect moves surfaces: formulas over the dialect's inputs.</summary>
/// <param name="Metres">How far along the normal, by the height that is connected.</param>
/// <param name="On">Nothing is moved where it is 0.</param>
/// <param name="Edge">Length in metres down to which edges are split.</param>
/// <param name="Subdivision">Times that the mesh is halved at most.</param>
/// <param name="Level">Heights are read as if from a map of two to this many texels on a side.</param>
/// <param name="Node">The displacement's own node, which is written where a map is connected to it; null where its inputs are the
/// surface's.</param>
public sealed record DisplacementRule(
    string Metres,
    string On,
    string? Edge = null,
    string? Subdivision = null,
    string? Level = null,
    string? Node = null
);

/// <summary>Limits for files the dialect accepts.</summary>
/// <param name="ColourFormats">Formats for colours, where not all serve.</param>
/// <param name="ColourBake">The space in which colours are made where they have to be made; null for the working space where the formats
/// can hold it, else sRGB.</param>
/// <param name="ColourBits">Bits of a channel of such a file, 8 or 16; a linear space is written as half floats.</param>
/// <param name="DataBits">At most so many bits of a channel of data.</param>
/// <param name="Udim">What stands in a path for the tile's number: &lt;UDIM&gt;, &lt;UVTILE&gt;, or null where the dialect knows no tiles;
/// then each tile is written as a document of its own.</param>
/// <param name="PowerOfTwo">Whether both sides must be powers of two.</param>
/// <param name="Tiled">Whether its renderer wants maps in tiles and with all their smaller levels: they are written so, integers as TIFF
/// and floats as OpenEXR.</param>
public sealed record TextureRule(
    string[] Formats,
    int Largest = 16384,
    string[]? ColourSpaces = null,
    GreySource Grey = GreySource.First,
    string? ColourBake = null,
    int ColourBits = 8,
    int DataBits = 16,
    bool PowerOfTwo = false,
    string[]? ColourFormats = null,
    string? Udim = null,
    bool Tiled = false
)
{
    /// <summary>Whether a file is of a format and size that the dialect reads.</summary>
    public bool Reads(MapFile file, bool isColour) =>
        (isColour ? ColourFormats ?? Formats : Formats).Contains(file.Format)
        && Math.Max(file.Width, file.Height) <= Largest
        && (!PowerOfTwo || int.IsPow2(file.Width) && int.IsPow2(file.Height));

    /// <summary>The channel from which a number is taken when no node asks for one.</summary>
    public MapChannel GreyChannel(MapFile file) =>
        Grey switch
        {
            GreySource.First => MapChannel.R,
            GreySource.Alpha when file.Channels.Contains("A") => MapChannel.A,
            _ => file.Channels.Count == 1 ? MapChannel.R : MapChannel.Luminance,
        };
}

/// <summary>What the dialect cannot say. The line is reported when the condition holds for the value, or when a map is connected.</summary>
/// <param name="Plain">Whether it holds for plain values only: a map is heard.</param>
public sealed record LossRule(string Input, string? When, string Note, bool Plain = false)
{
    /// <summary>The condition with the profile's terms put in; null where the rule has none.</summary>
    [JsonIgnore]
    public Expression? Condition { get; internal set; }
}

public sealed record NameRule(string Material = "{name}", string Texture = "{material}_{part}");

/// <summary>Which scattering model stands for the dialect, and its parameters as formulas over the dialect's inputs.</summary>
public sealed record ScatteringRule(
    DiffuseWord Diffuse,
    DielectricWord Dielectric,
    MetalWord Metal,
    bool Compensation,
    Dictionary<string, string> Parameters,
    DistributionWord Distribution = DistributionWord.Ggx,
    FuzzWord Fuzz = FuzzWord.Zeltner,
    CoatWord Coat = CoatWord.Absorbing
);

/// <summary>The conventions of one renderer, read from a file; no dialect is named in code.</summary>
public sealed record DialectProfile
{
    public required string Id { get; init; }

    public required string Title { get; init; }

    /// <summary>The title where there is little room.</summary>
    public string? Short { get; init; }

    public int Version { get; init; } = 1;

    [JsonPropertyName("words")]
    public string Summary { get; init; } = "";

    public required DocumentKind Document { get; init; }

    /// <summary>
    /// Of a USD dialect: the MaterialX dialect, of standard nodes, in which a package's layer holds the surface once more where this one
    /// cannot say all of it; null for none.
    /// </summary>
    public string? Beside { get; init; }

    public required NetworkStructure Structure { get; init; }

    public required string Surface { get; init; }

    public NodeDefinitionSource Definitions { get; init; }

    /// <summary>"document" (the network's working space) or a space identifier.</summary>
    public string ValueSpace { get; init; } = "document";

    public required DialectInput[] Inputs { get; init; }

    /// <summary>Dialect input to formula over neutral inputs.</summary>
    public required Dictionary<string, string> Mapping { get; init; }

    /// <summary>Neutral input to formula over dialect inputs: how a network of the dialect is read.</summary>
    public Dictionary<string, string> Back { get; init; } = [];

    /// <summary>Formulas over neutral inputs under names of their own, for use in the mapping and in later ones.</summary>
    public Dictionary<string, string> NeutralTerms { get; init; } = [];

    /// <summary>
    /// Pieces that stand several times in formulas of the mapping, written once. They have names to be read by whoever writes the profile;
    /// a formula is quoted to others with its pieces written out, while its terms are quoted by their names.
    /// </summary>
    public Dictionary<string, string> NeutralParts { get; init; } = [];

    /// <summary>The formula of an input of the dialect as it is quoted: with its parts written out.</summary>
    public string FormulaOf(string input) => FormulaText.WrittenOut(Mapping[input], NeutralParts);

    /// <summary>Formulas over dialect inputs under names of their own, for use in back, scattering and later terms.</summary>
    public Dictionary<string, string> Terms { get; init; } = [];

    public Dictionary<string, NodeRule> Nodes { get; init; } = [];

    public ImageRule? Image { get; init; }

    public PlacementRule? Placement { get; init; }

    public TextureSlot[] Slots { get; init; } = [];

    public required NormalRule Normals { get; init; }

    /// <summary>Null where its renderer moves nothing.</summary>
    public DisplacementRule? Displacement { get; init; }

    public required TextureRule Textures { get; init; }

    public LossRule[] Losses { get; init; } = [];

    public LossRule[] Approximations { get; init; } = [];

    /// <summary>
    /// What a network of the dialect may say and a look does not take over: by dialect input, with a condition over dialect inputs.
    /// </summary>
    public LossRule[] Unread { get; init; } = [];

    public NameRule Names { get; init; } = new();

    public required ScatteringRule Scattering { get; init; }

    /// <summary>Of the text it was read from, SHA-256: what is kept of a profile's pictures and networks is kept by it.</summary>
    [JsonIgnore]
    public string Hash { get; private set; } = "";

    /// <summary>The text it was read from.</summary>
    [JsonIgnore]
    public string Text { get; private set; } = "";

    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> Formulas { get; private set; } = new Dictionary<string, Expression>();

    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> BackFormulas { get; private set; } = new Dictionary<string, Expression>();

    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> ScatteringFormulas { get; private set; } = new Dictionary<string, Expression>();

    /// <summary>The displacement's formulas by the names of its rule: metres, on, edge, subdivision, level.</summary>
    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> DisplacementFormulas { get; private set; } = new Dictionary<string, Expression>();

    public DialectInput Input(string name) =>
        Inputs.FirstOrDefault(i => i.Name == name) ?? throw new ProfileException($"The profile '{Id}' has no input '{name}'.");

    /// <summary>The neutral input that an input of the dialect mainly stands for.</summary>
    public string NeutralOf(string input) => Formulas.TryGetValue(input, out var formula) ? formula.Names.FirstOrDefault() ?? input : input;

    /// <summary>How a profile's text is read; the published schema is made with it.</summary>
    public static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    /// <param name="file">Its name, for the message.</param>
    /// <exception cref="ProfileException">The file is no valid profile; the message names the line and what is wrong there.</exception>
    public static DialectProfile Read(string json, string file)
    {
        var (profile, problems) = ProfileCheck.Read(json);
        return problems is [var first, ..] ? throw new ProfileException($"{file}, line {first.Line}: {first.Sentence}") : profile!;
    }

    /// <summary>The profile of a text without looking at what its parts say.</summary>
    /// <exception cref="JsonException">It has not the shape of a profile.</exception>
    internal static DialectProfile OfShape(string json)
    {
        var profile = JsonSerializer.Deserialize<DialectProfile>(json, Options) ?? throw new JsonException("There is nothing in it.");
        profile.Text = json;
        profile.Hash = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(json)));
        return profile;
    }

    internal void Take(
        IReadOnlyDictionary<string, Expression> formulas,
        IReadOnlyDictionary<string, Expression> back,
        IReadOnlyDictionary<string, Expression> scattering,
        IReadOnlyDictionary<string, Expression> displacement
    ) => (Formulas, BackFormulas, ScatteringFormulas, DisplacementFormulas) = (formulas, back, scattering, displacement);
}
