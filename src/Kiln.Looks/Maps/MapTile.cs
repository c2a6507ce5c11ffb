using System.Numerics;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Pixels;

namespace Kiln.Looks.Maps;

/// <summary>One UDIM tile of a map: its number (1001 + u + 10 v), its content by SHA-256 and its name as it came.</summary>
public sealed record MapTile(int Number, ContentHash Content, string Name)
{
    public const int First = 1001,
        Columns = 10;

    /// <summary>The lower left corner of the tile in UV.</summary>
    public static Vector2 Corner(int number) => new((number - First) % Columns, (number - First) / Columns);

    /// <summary>The tile at a point of UV; null left of the first column, right of the last, or below the first row.</summary>
    public static int? At(Vector2 uv)
    {
        float u = MathF.Floor(uv.X),
            v = MathF.Floor(uv.Y);
        return u is >= 0 and < Columns && v is >= 0 and < 900 ? First + (int)u + Columns * (int)v : null;
    }

    /// <summary>
    /// A path with a tile token (&lt;UDIM&gt;, or &lt;UVTILE&gt; as MaterialX defines it: u and v counted from 1) for one tile.
    /// </summary>
    public static string Named(string path, int number)
    {
        var corner = Corner(number);
        return path.Replace("<UDIM>", number.ToString(), StringComparison.Ordinal)
            .Replace("<UVTILE>", $"u{(int)corner.X + 1}_v{(int)corner.Y + 1}", StringComparison.Ordinal);
    }

    public static bool HasToken(string path) =>
        path.Contains("<UDIM>", StringComparison.Ordinal) || path.Contains("<UVTILE>", StringComparison.Ordinal);
}

/// <summary>
/// Reads lists of tiles; documents of before tiles had contents hold plain numbers, which say nothing that could be drawn and are passed
/// over.
/// </summary>
internal sealed class MapTilesConverter : JsonConverter<IReadOnlyList<MapTile>>
{
    public override IReadOnlyList<MapTile>? Read(ref Utf8JsonReader reader, Type type, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
            throw new JsonException("tiles is a list.");
        var tiles = new List<MapTile>();
        while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
            if (reader.TokenType != JsonTokenType.Number)
                tiles.Add(JsonSerializer.Deserialize<MapTile>(ref reader, options) ?? throw new JsonException("A tile is empty."));
        return tiles.Count == 0 ? null : tiles;
    }

    public override void Write(Utf8JsonWriter writer, IReadOnlyList<MapTile> value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        foreach (var tile in value)
            JsonSerializer.Serialize(writer, tile, options);
        writer.WriteEndArray();
    }
}
