using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>Tokens that spell a packed file's channels letter by letter, such as ORM or RMA, in any order.</summary>
public static class PackedLetters
{
    /// <summary>
    /// Three or four letters, each a property, with roughness or shine and metalness or occlusion among them; null for any other token.
    /// </summary>
    public static IReadOnlyDictionary<string, MapRole>? Read(string token)
    {
        if (token.Length is < 3 or > 5)
            return null;
        // "aorm" and "rmao" write occlusion with two letters.
        var letters = token.Replace("ao", "o");
        if (letters.Length is < 3 or > 4)
            return null;
        var channels = new Dictionary<string, MapRole>();
        for (var i = 0; i < letters.Length; i++)
        {
            MapRole? role = letters[i] switch
            {
                'o' or 'a' => MapRole.AmbientOcclusion,
                'r' => MapRole.Roughness,
                's' or 'g' => MapRole.Glossiness,
                'm' => MapRole.Metalness,
                'h' or 'd' => MapRole.Height,
                'e' => MapRole.Emission,
                'c' => MapRole.Cavity,
                't' => MapRole.Thickness,
                _ => null,
            };
            if (role is null || !channels.TryAdd("rgba"[i].ToString(), role.Value) || channels.Values.Count(r => r == role) > 1)
                return null;
        }
        var shine = channels.Values.Count(r => r is MapRole.Roughness or MapRole.Glossiness);
        var usual = channels.Values.Count(r => r is MapRole.Metalness or MapRole.AmbientOcclusion);
        return shine == 1 && (usual == 2 || usual == 1 && channels.ContainsValue(MapRole.Height)) ? channels : null;
    }
}
