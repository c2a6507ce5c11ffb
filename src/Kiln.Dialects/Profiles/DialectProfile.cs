using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Profiles;

/// <summary>One input of a dialect's surface. Type is float, color3 or vector3; Switch inputs exist so that others take effect.</summary>
public sealed record DialectInput(string Name, string Type, float[]? Default = null, float Low = 0, float High = 1, bool AlwaysWrite = false, bool Switch = false, string? Unit = null, string? Words = null)
{
    public ShadeType ShadeType => Type switch { "float" => ShadeType.Scalar, "vector3" => ShadeType.Direction, _ => ShadeType.Colour };
}

/// <summary>A node of the dialect that does one operation: its category and its ports in the order of the operation's inputs.</summary>
public sealed record NodeRule(string Node, string[] Ports);

/// <summary>How the dialect's picture node is written.</summary>
/// <param name="Readings">"materialx" (colour space attribute on colours only) or "config" (a text port with the config's name).</param>
/// <param name="SpacePort">For config readings: the port that holds the name.</param>
public sealed record ImageRule(string Node, string FilePort, string TexcoordPort, string Readings, string? SpacePort = null);

/// <summary>The dialect's texture transform.</summary>
/// <param name="Scale">"multiply" (repeats) or "divide" (size of a repeat).</param>
/// <param name="Order">"rotate-scale" (the design's own) or "scale-rotate".</param>
/// <param name="Shift">"before" (subtracted first) or "after" (added last).</param>
/// <param name="Sense">"ccw": coordinates are multiplied by R(−angle) in the dialect's own axes; "cw": by R(angle).</param>
public sealed record PlacementRule(
    string? Node, string? TexcoordNode, string TexcoordPort, string ScalePort, string RotatePort, string ShiftPort, string Scale, string Order, string Shift, string Sense,
    string Angle = "degrees", bool VDown = false, Dictionary<string, string>? Fixed = null);

/// <summary>A texture place of a packed dialect: which inputs lie in which channels, and the factors that multiply them.</summary>
public sealed record TextureSlot(string Name, string Space, Dictionary<string, string> Channels, Dictionary<string, string>? Factors = null);

public sealed record NormalRule(NormalY Y);

/// <summary>Limits for files the dialect accepts.</summary>
/// <param name="Grey">What a grey file is read by: luminance, first (channel), or alpha (where the file has one, else luminance).</param>
public sealed record TextureRule(string[] Formats, int Largest = 16384, string[]? ColourSpaces = null, string Grey = "luminance");

/// <summary>What the dialect cannot say. The line is reported when the condition holds for the value, or when a map is connected.</summary>
public sealed record LossRule(string Input, string? When, string Note);

public sealed record NameRule(string Material = "{name}", string Texture = "{material}_{part}");

/// <summary>Which scattering model stands for the dialect, and its parameters as formulas over the dialect's inputs.</summary>
public sealed record ScatteringRule(string Diffuse, string Dielectric, string Metal, bool Compensation, Dictionary<string, string> Parameters, string Distribution = "ggx", string Fuzz = "zeltner");

/// <summary>The conventions of one renderer, read from a file; no dialect is named in code.</summary>
public sealed record DialectProfile
{
    public required string Id { get; init; }

    public required string Title { get; init; }

    public int Version { get; init; } = 1;

    public string Words { get; init; } = "";

    /// <summary>"materialx" or "gltf": the document the network is written as.</summary>
    public required string Document { get; init; }

    /// <summary>"nodes" or "slots".</summary>
    public required string Structure { get; init; }

    public required string Surface { get; init; }

    /// <summary>"document" (the network's working space) or a space identifier.</summary>
    public string ValueSpace { get; init; } = "document";

    public required DialectInput[] Inputs { get; init; }

    /// <summary>Dialect input to formula over neutral inputs.</summary>
    public required Dictionary<string, string> Mapping { get; init; }

    public Dictionary<string, NodeRule> Nodes { get; init; } = [];

    public ImageRule? Image { get; init; }

    public PlacementRule? Placement { get; init; }

    public TextureSlot[] Slots { get; init; } = [];

    public required NormalRule Normals { get; init; }

    public required TextureRule Textures { get; init; }

    public LossRule[] Losses { get; init; } = [];

    public LossRule[] Approximations { get; init; } = [];

    public NameRule Names { get; init; } = new();

    public required ScatteringRule Scattering { get; init; }

    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> Formulas { get; private set; } = new Dictionary<string, Expression>();

    [JsonIgnore]
    public IReadOnlyDictionary<string, Expression> ScatteringFormulas { get; private set; } = new Dictionary<string, Expression>();

    public DialectInput Input(string name) => Inputs.FirstOrDefault(i => i.Name == name) ?? throw new ProfileException($"The profile '{Id}' has no input '{name}'.");

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    /// <exception cref="ProfileException">The file is no valid profile; the message names the line or the part.</exception>
    public static DialectProfile Read(string json, string file)
    {
        try
        {
            var profile = JsonSerializer.Deserialize<DialectProfile>(json, Options)!;
            profile.Formulas = profile.Mapping.ToDictionary(m => m.Key, m => Expression.Parse(m.Value));
            profile.ScatteringFormulas = profile.Scattering.Parameters.ToDictionary(m => m.Key, m => Expression.Parse(m.Value));
            profile.Check();
            return profile;
        }
        catch (JsonException e)
        {
            throw new ProfileException($"{file}, line {e.LineNumber + 1}: {e.Message}", e);
        }
        catch (ProfileException e)
        {
            throw new ProfileException($"{file}: {e.Message}", e);
        }
    }

    private void Check()
    {
        foreach (var (input, formula) in Formulas)
        {
            Input(input);
            foreach (var name in formula.Names.Where(n => !NeutralInputs.Exists(n)))
                throw new ProfileException($"The mapping of '{input}' mentions '{name}', which is no neutral input.");
        }
        foreach (var (parameter, formula) in ScatteringFormulas)
            foreach (var name in formula.Names)
                if (Inputs.All(i => i.Name != name))
                    throw new ProfileException($"The scattering parameter '{parameter}' mentions '{name}', which is no input of the dialect.");
        foreach (var rule in Losses.Concat(Approximations).Where(r => !NeutralInputs.Exists(r.Input)))
            throw new ProfileException($"A rule about '{rule.Input}' is about no neutral input.");
        if (Structure == "nodes" && (Image is null || Placement is null))
            throw new ProfileException("A profile of structure 'nodes' needs 'image' and 'placement'.");
    }
}
