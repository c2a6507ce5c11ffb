using Kiln.Dialects.Networks;

namespace Kiln.Exchange.MaterialX;

/// <summary>Standard nodes of MaterialX 1.39 that say what others say too, restated in those that profiles know.</summary>
internal static class StandardNodes
{
    /// <summary>
    /// What stands for the node where it is connected: of an output, a dot or a constant what it holds; null for a node of its own.
    /// </summary>
    public static NetworkPort? PassesOn(NetworkNode node) =>
        node.Category switch
        {
            "output" or "dot" => node.Port("in"),
            "constant" => node.Port("value"),
            _ => null,
        };

    /// <summary>
    /// The nodes that say the same: a tiled image is an image under a placement, and a placement one that shifts first and scales last.
    /// </summary>
    public static IEnumerable<NetworkNode> Plain(NetworkNode node) =>
        node.Category switch
        {
            "tiledimage" => Tiled(node),
            "place2d" => [Placed(node)],
            _ => [node],
        };

    /// <summary>
    /// The node's own graph (NG_place2d_vector2 of the standard library): about a pivot, in one of two orders. Either is L·uv plus a shift;
    /// restated without a pivot as L·(uv − offset)
    /// in order 1 (rotate, then scale). Only where it scales unequally before it rotates does order 0 stay: L·uv − offset.
    /// </summary>
    private static NetworkNode Placed(NetworkNode node)
    {
        var scaleFirst = node.Port("operationorder")?.Value is null or "0";
        var (scale, offset, pivot) = (Pair(node, "scale", 1), Pair(node, "offset", 0), Pair(node, "pivot", 0));
        var degrees = node.Port("rotate")?.Value is { } told && float.TryParse(told, out var number) ? number : 0;
        var (sin, cos) = MathF.SinCos(degrees * MathF.PI / 180);
        var quarters = MathF.Abs(MathF.IEEERemainder(degrees, 90)) < 1e-4f;
        var shears = scaleFirst && scale.U != scale.V && !quarters;
        if (scaleFirst && quarters && MathF.Abs(MathF.IEEERemainder(degrees, 180)) > 45)
            scale = (scale.V, scale.U);
        var (shiftU, shiftV) = scaleFirst ? Behind(offset.U - pivot.U, offset.V - pivot.V) : Behind(-pivot.U, -pivot.V);
        if (shears)
            // p − L·p − offset as what is subtracted last; L = R·S⁻¹.
            return With(
                offset.U - pivot.U + cos * pivot.U / scale.U + sin * pivot.V / scale.V,
                offset.V - pivot.V - sin * pivot.U / scale.U + cos * pivot.V / scale.V
            );
        var (u, v) = scaleFirst ? (pivot.U + shiftU, pivot.V + shiftV) : (pivot.U + offset.U + shiftU, pivot.V + offset.V + shiftV);
        return With(u, v);

        NetworkNode With(float x, float y) =>
            node with
            {
                Ports =
                [
                    .. node.Ports.Where(p => p.Name == "texcoord"),
                    new("scale", "vector2", $"{scale.U:R}, {scale.V:R}"),
                    new("rotate", "float", $"{degrees:R}"),
                    new("offset", "vector2", $"{x:R}, {y:R}"),
                    new("operationorder", "integer", shears ? "0" : "1"),
                ],
            };

        // L⁻¹ = R⁻¹·S, with R = (cos, sin; −sin, cos).
        (float U, float V) Behind(float x, float y) => (cos * scale.U * x - sin * scale.V * y, sin * scale.U * x + cos * scale.V * y);
    }

    private static IEnumerable<NetworkNode> Tiled(NetworkNode node)
    {
        var repeats = Pair(node, "uvtiling", 1);
        var (real, size) = (Pair(node, "realworldimagesize", 1), Pair(node, "realworldtilesize", 1));
        var (u, v) = (repeats.U * size.U / real.U, repeats.V * size.V / real.V);
        var shift = Pair(node, "uvoffset", 0);
        var ports = node.Ports.Where(p => p.Name is "file" or "default" or "filtertype");
        if ((u, v, shift.U, shift.V) == (1, 1, 0, 0))
            return [node with { Category = "image", Ports = [.. ports, .. node.Ports.Where(p => p.Name == "texcoord")] }];
        // The tiled image multiplies the coordinates and then subtracts; the placement subtracts first and then divides.
        var place = new NetworkNode(
            node.Name + "_place",
            "place2d",
            "vector2",
            [
                node.Port("texcoord") is { } given ? given : new("texcoord", "vector2", Node: SurfaceCoordinates(node)),
                new("scale", "vector2", $"{1 / u:R}, {1 / v:R}"),
                new("rotate", "float", "0"),
                new("offset", "vector2", $"{shift.U / repeats.U:R}, {shift.V / repeats.V:R}"),
                new("operationorder", "integer", "1"),
            ]
        );
        NetworkNode[] coordinates = node.Port("texcoord") is null ? [new(SurfaceCoordinates(node), "texcoord", "vector2", [])] : [];
        return [.. coordinates, place, node with { Category = "image", Ports = [.. ports, new("texcoord", "vector2", Node: place.Name)] }];
    }

    /// <summary>
    /// A tiled image whose coordinates are not connected lies on the surface's own (defaultgeomprop UV0); a placement has to be told so.
    /// </summary>
    private static string SurfaceCoordinates(NetworkNode node) => node.Name + "_coordinates";

    private static (float U, float V) Pair(NetworkNode node, string port, float otherwise) =>
        node.Port(port)?.Value?.Split(',') is [var u, var v]
        && float.TryParse(u, out var x)
        && float.TryParse(v, out var y)
        && (otherwise == 0 || x * y != 0)
            ? (x, y)
            : (otherwise, otherwise);
}
