using System.Globalization;
using System.Numerics;
using System.Text;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Viewport.Graphs;

/// <summary>A lookup in a map: by itself, over UDIM tiles, and with its repeats broken up.</summary>
internal sealed class LookupText(ImageLookup lookup, MapPlan plan, bool isPrecise, ShaderNumbers numbers, ShaderMaps maps)
{
    private readonly TileScatter? scatter = TileScatter.Of(lookup.Placement, lookup.Reading);

    public bool IsScattered => scatter is not null;

    /// <summary>The linear part and the shift of a placement, and by which a footprint on the surface is multiplied to be one in the
    /// picture.</summary>
    public static (string Lie, string Scale) Lie(Placement placement, ShaderNumbers numbers)
    {
        var (uu, uv, vu, vv) = placement.Linear;
        var linear = numbers.Put(new Vector4(uu, uv, vu, vv));
        return ($"{linear}, {numbers.Put(new Vector4(placement.Shift.X, placement.Shift.Y, 0, 0))}", $"kilnScale({linear})");
    }

    /// <summary>The function <c>vec3 lookN(vec2 uv, float footprint)</c>.</summary>
    public string Function(int node)
    {
        var (lie, scale) = Lie(lookup.Placement, numbers);
        var body = scatter is null
            ? $"  return {One($"kilnPlace({lie}, uv)", $"footprint * {scale}")};\n"
            : Scattered(lie, scale, lookup.Placement.Variation!);
        return $"{TileFunction(node)}vec3 look{node}(vec2 uv, float footprint) {{\n{body}}}\n".Replace(
            "@",
            node.ToString(CultureInfo.InvariantCulture)
        );
    }

    private bool IsTiled => lookup.File.IsTiled;

    /// <summary>The picture at a place, spread over three components; "@" stands for the node.</summary>
    private string One(string at, string footprint)
    {
        if (IsTiled)
            return $"tile@({at}, {footprint})";
        var (array, layer) = maps.Put(plan, Layer(lookup.File), isPrecise, repeats: true);
        return Spread($"kilnMap({ShaderMaps.Name(array)}, {numbers.Put(layer)}, {at}, {footprint})");
    }

    private MapLayer Layer(MapFile file) => new(file with { Tiles = null }, lookup.Reading);

    private string Spread(string texel) => lookup.Reading.Components == 1 ? $"vec3({texel}.r)" : texel;

    /// <summary>Which tile lies where; without one, a number or colour is 0 and a direction straight up.</summary>
    private string TileFunction(int node)
    {
        if (!IsTiled)
            return "";
        var text = new StringBuilder($"vec3 tile{node}(vec2 at, float footprint) {{\n  int number = kilnTileNumber(at);\n");
        foreach (var number in lookup.File.Tiles!.Select(t => t.Number).Order())
        {
            var (array, layer) = maps.Put(plan, Layer(lookup.File.OnTile(number)!), isPrecise, repeats: false);
            text.Append(
                CultureInfo.InvariantCulture,
                $"  if (number == int({numbers.Put(number)})) return "
                    + $"{Spread($"kilnTile({ShaderMaps.Name(array)}, {numbers.Put(layer)}, at, footprint)")};\n"
            );
        }
        return text.Append(lookup.Reading.Kind == ReadingKind.Direction ? "  return vec3(0.5, 0.5, 1.0);\n}\n" : "  return vec3(0.0);\n}\n")
            .ToString();
    }

    private string Scattered(string lie, string scale, TileVariation variation)
    {
        var settings =
            $"int({numbers.Put(variation.Cells)}), {numbers.Put(variation.RotationDegrees * MathF.PI / 180f)}, "
            + $"uint({numbers.Put(variation.Seed)})";
        var picture = One($"kilnPlace({lie}, kilnCornerPlace(corners[k], uv)) + corners[k].shift", $"footprint * {scale}");
        var value = scatter!.IsDirection ? $"kilnCornerSlopes(corners[k], {picture}, {numbers.Put(scatter.Sense)})" : picture;
        return $$"""
              KilnCorner corners[3];
              kilnCorners(uv, {{settings}}, corners);
              vec3 sum = vec3(0.0);
              for (int k = 0; k < 3; k++)
                if (corners[k].weight >= 1e-6) sum += corners[k].weight * {{value}};
              return {{(scatter.IsDirection ? "(normalize(sum) + 1.0) * 0.5" : "sum")}};

            """;
    }
}
