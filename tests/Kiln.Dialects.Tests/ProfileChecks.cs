using System.Text.Json.Nodes;
using Kiln.Dialects.Profiles;

namespace Kiln.Dialects.Tests;

/// <summary>Each check of a profile by itself: a shipped profile, which has no fault, with one thing changed.</summary>
public sealed class ProfileChecks
{
    private static readonly Dictionary<string, (string Profile, Action<JsonObject> Change, string Sentence)> Faults = new()
    {
        ["identifier"] = ("bisque", p => p["id"] = "Bisque 2", "An identifier has 1 to 60 small letters"),
        ["empty identifier"] = ("bisque", p => p["id"] = "", "An identifier has 1 to 60 small letters"),
        ["title"] = ("bisque", p => p["title"] = "  ", "A title has 1 to 80 characters"),
        ["document"] = ("bisque", p => p["document"] = "paper", "'paper' is none of materialx, gltf, usd"),
        ["definitions"] = ("bisque", p => p["definitions"] = "theirs", "'theirs' is none of standard, own"),
        ["beside"] = ("bisque", p => p["beside"] = "openpbr", "Only a USD layer holds another network"),
        ["input twice"] = ("bisque", p => p["inputs"]!.AsArray().Add(p["inputs"]![1]!.DeepClone()), "There are two inputs 'body_dryness'"),
        ["type of an input"] = ("bisque", p => p["inputs"]![1]!["type"] = "number", "'number' is none of float, color3"),
        ["shader of an input"] = ("bisque", p => p["inputs"]![1]!["shader"] = "volume", "'volume' is none of surface, displacement"),
        ["displacement without a node"] = ("bisque", p => p["inputs"]![1]!["shader"] = "displacement", "names no node of its own"),
        ["token without choices"] = ("bisque", p => p["inputs"]![1]!["type"] = "token", "is a token and needs 'choices'"),
        ["length of a default"] = ("bisque", p => p["inputs"]![0]!["default"] = new JsonArray(1), "has 1 numbers; a color3 has 3"),
        ["no image"] = ("bisque", p => p.Remove("image"), "needs 'image'"),
        ["no placement"] = ("bisque", p => p.Remove("placement"), "needs 'placement'"),
        ["readings"] = ("bisque", p => p["image"]!["readings"] = "guessed", "'guessed' is none of materialx, config, named, fixed"),
        ["named readings"] = ("bisque", p => p["image"]!["readings"] = "named", "need 'spacePort' and 'spaces'"),
        ["scale without bias"] = ("bisque", p => p["image"]!["scalePort"] = "scale", "has both 'scalePort' and 'biasPort' or neither"),
        ["tiled formats"] = ("bisque", p => p["textures"]!["formats"] = new JsonArray("png"), "are written as TIFF and OpenEXR"),
        ["slot"] = ("gltf", p => p["slots"]![0]!["channels"]!["r"] = "sparkle", "which is no input of the renderer"),
        ["diffuse"] = ("bisque", p => p["scattering"]!["diffuse"] = "velvet", "'velvet' is none of eon, lambert, orenNayar"),
        ["dielectric"] = ("bisque", p => p["scattering"]!["dielectric"] = "rough", "'rough' is none of exact, schlick"),
        ["metal"] = ("bisque", p => p["scattering"]!["metal"] = "gold", "'gold' is none of f82, schlick, conductor"),
        ["distribution"] = ("bisque", p => p["scattering"]!["distribution"] = "phong", "'phong' is none of ggx, beckmann"),
        ["fuzz"] = ("bisque", p => p["scattering"]!["fuzz"] = "wool", "'wool' is none of zeltner, charlie"),
        ["coat"] = ("bisque", p => p["scattering"]!["coat"] = "lacquer", "'lacquer' is none of absorbing, tint"),
        ["order of a placement"] = (
            "bisque",
            p => p["placement"]!["order"] = "rotate_scale",
            "'rotate_scale' is none of rotate-scale, scale-rotate"
        ),
        ["scale of a placement"] = ("bisque", p => p["placement"]!["scale"] = "times", "'times' is none of multiply, divide"),
        ["shift of a placement"] = ("bisque", p => p["placement"]!["shift"] = "last", "'last' is none of before, after"),
        ["sense of a placement"] = ("bisque", p => p["placement"]!["sense"] = "left", "'left' is none of ccw, cw"),
        ["angle of a placement"] = ("bisque", p => p["placement"]!["angle"] = "turns", "'turns' is none of degrees, radians"),
        ["directions"] = ("bisque", p => p["normals"]!["decode"] = "texture", "'texture' is none of node, picture, scale-bias"),
        ["grey files"] = ("bisque", p => p["textures"]!["grey"] = "mean", "'mean' is none of first, luminance, alpha"),
        ["a number for a word"] = ("bisque", p => p["structure"] = 2, "The value of 'structure' is of the wrong kind"),
        ["loss"] = ("bisque", p => p["losses"]![0]!["input"] = "shininess", "is about no neutral input"),
        ["condition of a loss"] = ("bisque", p => p["losses"]![0]!["when"] = "shininess", "which is no neutral input"),
        ["unread"] = ("usd_preview", p => p["unread"]![0]!["input"] = "sparkle", "The renderer has no input 'sparkle'"),
        ["unknown neutral term"] = ("bisque", p => p["mapping"]!["bend"] = "seenIndex", "mentions 'seenIndex'"),
        ["term called as an input"] = ("bisque", p => p["neutralTerms"]!["specular_ior"] = "1", "is called as an input is"),
        ["way back"] = ("bisque", p => p["back"]!["shininess"] = "polish", "'shininess' is no neutral input"),
        ["displacement formula"] = (
            "bisque",
            p => p["displacement"]!["metres"] = "specular_roughness",
            "which is no input of the renderer"
        ),
    };

    public static TheoryData<string> Names() => [.. Faults.Keys];

    private static JsonObject Shipped(string profile) =>
        JsonNode.Parse(File.ReadAllText(Repository.Path("profiles", profile + ".json")))!.AsObject();

    [Theory]
    [MemberData(nameof(Names))]
    public void OneFaultIsOneSentence(string name)
    {
        var (profile, change, sentence) = Faults[name];
        Assert.Empty(ProfileCheck.Read(Shipped(profile).ToJsonString()).Problems);
        var changed = Shipped(profile);
        change(changed);
        var problems = ProfileCheck.Read(changed.ToJsonString()).Problems;
        Assert.True(
            problems.Any(p => p.Sentence.Contains(sentence, StringComparison.Ordinal)),
            $"“{sentence}” is not among: {string.Join(" | ", problems.Select(p => p.Sentence))}"
        );
    }

    /// <summary>What was written before must stay readable: words in capitals, and one that meant luminance.</summary>
    [Fact]
    public void FormerWordsAreRead()
    {
        var before = Shipped("celadon");
        before["textures"]!["grey"] = "automatic";
        before["scattering"]!["distribution"] = "GGX";
        var (profile, problems) = ProfileCheck.Read(before.ToJsonString());
        Assert.Empty(problems);
        Assert.Equal(GreySource.Luminance, profile!.Textures.Grey);
        Assert.Equal("luminance", WordConverter<GreySource>.Word(profile.Textures.Grey));
    }
}
