using System.Globalization;
using System.Text;

namespace Kiln.Demo.Models;

/// <summary>A demo model as OBJ, and its materials as MTL.</summary>
internal static class ObjText
{
    public static byte[] Obj(string title, string library, IEnumerable<DemoPart> parts)
    {
        var text = new StringBuilder($"# {title}. Made up for the demo.\nmtllib {library}\n");
        var (corners, places) = (1, 1);
        foreach (var part in parts)
        {
            text.Append(CultureInfo.InvariantCulture, $"o {part.Name}\nusemtl {part.Material}\n");
            foreach (var v in part.Positions)
                text.Append(CultureInfo.InvariantCulture, $"v {v.X:0.######} {v.Y:0.######} {v.Z:0.######}\n");
            foreach (var uv in part.Uvs)
                text.Append(CultureInfo.InvariantCulture, $"vt {uv.X:0.#####} {uv.Y:0.#####}\n");
            foreach (var face in part.Faces)
            {
                text.Append('f');
                foreach (var (position, place) in face)
                    if (part.Uvs.Count > 0)
                        text.Append(CultureInfo.InvariantCulture, $" {position + corners}/{place + places}");
                    else
                        text.Append(CultureInfo.InvariantCulture, $" {position + corners}");
                text.Append('\n');
            }
            corners += part.Positions.Count;
            places += part.Uvs.Count;
        }
        return Encoding.ASCII.GetBytes(text.ToString());
    }

    /// <summary>Of the roles baseColor, roughness and normal.</summary>
    public static byte[] Mtl(string remark, IEnumerable<DemoMaterial> materials)
    {
        var text = new StringBuilder($"# {remark}\n");
        foreach (var material in materials)
        {
            text.Append(CultureInfo.InvariantCulture, $"newmtl {material.Name}\nKd 0.5 0.5 0.5\n");
            foreach (var (role, path) in material.Pictures)
                text.Append(CultureInfo.InvariantCulture, $"{Key(role)} {path}\n");
        }
        return Encoding.ASCII.GetBytes(text.ToString());
    }

    private static string Key(string role) =>
        role switch
        {
            "roughness" => "map_Pr",
            "normal" => "norm",
            _ => "map_Kd",
        };
}
