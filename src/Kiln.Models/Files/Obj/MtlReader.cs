using System.Globalization;
using Kiln.Looks.Readings;

namespace Kiln.Models.Files.Obj;

/// <summary>Materials beside an OBJ: colours, the extension for physically based ones, and the pictures they name.</summary>
internal sealed class MtlReader(TextureSearch textures, List<string> remarks)
{
    private static readonly Dictionary<string, MapRole> Roles = new(StringComparer.OrdinalIgnoreCase)
    {
        ["map_Kd"] = MapRole.BaseColor,
        ["map_Ks"] = MapRole.SpecularColor,
        ["map_Ns"] = MapRole.Glossiness,
        ["map_d"] = MapRole.Opacity,
        ["map_Ke"] = MapRole.Emission,
        ["map_Bump"] = MapRole.Bump,
        ["bump"] = MapRole.Bump,
        ["disp"] = MapRole.Height,
        ["norm"] = MapRole.Normal,
        ["map_Pr"] = MapRole.Roughness,
        ["map_Pm"] = MapRole.Metalness,
        ["map_Ps"] = MapRole.Fuzz,
        ["map_Pc"] = MapRole.Coat,
        ["map_Pcr"] = MapRole.CoatRoughness,
        ["aniso"] = MapRole.Anisotropy,
    };

    private static readonly Dictionary<string, string> Numbers = new()
    {
        ["Pr"] = "specular_roughness",
        ["Pm"] = "base_metalness",
        ["Ni"] = "specular_ior",
        ["d"] = "geometry_opacity",
        ["Pc"] = "coat_weight",
        ["Pcr"] = "coat_roughness",
    };

    /// <summary>What each option of a picture has after it: words that are all taken, or at most so many numbers.</summary>
    private static readonly Dictionary<string, (int Words, int Numbers)> Options = new()
    {
        ["-blendu"] = (1, 0),
        ["-blendv"] = (1, 0),
        ["-cc"] = (1, 0),
        ["-clamp"] = (1, 0),
        ["-imfchan"] = (1, 0),
        ["-type"] = (1, 0),
        ["-texres"] = (1, 0),
        ["-boost"] = (1, 0),
        ["-bm"] = (1, 0),
        ["-mm"] = (2, 0),
        ["-o"] = (0, 3),
        ["-s"] = (0, 3),
        ["-t"] = (0, 3),
    };

    private readonly List<ModelMaterial> read = [];
    private List<ModelTexture> pictures = [];
    private Dictionary<string, float[]> values = [];
    private string? name;
    private bool hasRoughness;

    public IReadOnlyList<ModelMaterial> Read(string path)
    {
        foreach (var line in File.ReadLines(path))
            Line(line.Trim());
        End();
        return read;
    }

    private void Line(string line)
    {
        var space = line.IndexOfAny([' ', '\t']);
        if (space < 0 || line[0] == '#')
            return;
        var (word, rest) = (line[..space], line[(space + 1)..].Trim());
        if (word == "newmtl")
        {
            End();
            (name, pictures, values, hasRoughness) = (rest, [], [], false);
        }
        else if (name is null)
            return;
        else if (word == "Kd" && Three(rest) is { } colour)
            values["base_color"] = colour;
        else if (word == "Ke" && Three(rest) is { } light)
            values["emission_color"] = light;
        else if (word == "Tr" && One(rest) is { } clear)
            values["geometry_opacity"] = [1 - clear];
        else if (word == "Ns" && !hasRoughness && One(rest) is { } exponent and >= 0)
            // A Blinn lobe of that exponent as a width; common practice, no source.
            values["specular_roughness"] = [MathF.Sqrt(MathF.Sqrt(2 / (exponent + 2)))];
        else if (Numbers.TryGetValue(word, out var input) && One(rest) is { } number)
        {
            values[input] = [number];
            hasRoughness |= word == "Pr";
        }
        else if (Roles.TryGetValue(word, out var role) && Picture(rest) is { Length: > 0 } picture)
            pictures.Add(new(role, picture, textures.Find(picture)));
        else if (word.StartsWith("map_", StringComparison.OrdinalIgnoreCase) || word is "refl" or "decal")
            remarks.Add($"Material {name}: {word} has no place among the roles of maps and is left out.");
    }

    private void End()
    {
        if (name is null)
            return;
        if (read.Any(m => m.Name == name))
            remarks.Add($"Material {name} is there twice; the first one is used.");
        else
            read.Add(new(name, pictures, values));
    }

    private static float? One(string text) =>
        float.TryParse(text.Split([' ', '\t'], 2)[0], CultureInfo.InvariantCulture, out var v) && float.IsFinite(v) ? v : null;

    /// <summary>A colour; one number stands for three. Spectral files and XYZ are not read.</summary>
    private static float[]? Three(string text)
    {
        var words = text.Split([' ', '\t'], StringSplitOptions.RemoveEmptyEntries);
        var numbers = words.Select(One).ToArray();
        return numbers is [{ } r, { } g, { } b, ..] ? [r, g, b]
            : numbers is [{ } grey] ? [grey, grey, grey]
            : null;
    }

    /// <summary>What is left when the options are gone: a file's name, which may have blanks.</summary>
    private static string Picture(string text)
    {
        var rest = text;
        while (rest.StartsWith('-'))
        {
            var option = Next(ref rest);
            if (!Options.TryGetValue(option, out var takes))
                return rest;
            for (var i = 0; i < takes.Words; i++)
                Next(ref rest);
            for (var i = 0; i < takes.Numbers && IsNumber(rest); i++)
                Next(ref rest);
        }
        return rest.Trim().Trim('"');

        static bool IsNumber(string of) =>
            of.Contains(' ') && float.TryParse(of.Split([' ', '\t'], 2)[0], CultureInfo.InvariantCulture, out _);
    }

    private static string Next(ref string rest)
    {
        var at = rest.IndexOfAny([' ', '\t']);
        var word = at < 0 ? rest : rest[..at];
        rest = at < 0 ? "" : rest[(at + 1)..].TrimStart();
        return word;
    }
}
