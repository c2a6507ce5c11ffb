using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Lowering;

/// <summary>Lowers graph nodes to the nodes a dialect has; the smallest part that has none is baked.</summary>
internal sealed class NodeLowering
{
    private readonly DialectProfile profile;
    private readonly Bakery bakery;
    private readonly ShadeGraph graph;
    private readonly string material;
    private readonly CompileOptions options;
    private readonly NetworkBuilder network;
    private readonly PictureNodes pictures;
    private readonly Dictionary<int, NetworkPort> done = [];
    private List<ReportLine> baked = [];
    private string current = "";
    private CancellationToken cancel;

    public NodeLowering(DialectProfile profile, Bakery bakery, ShadeGraph graph, string material, CompileOptions options)
    {
        (this.profile, this.bakery, this.graph, this.material, this.options) = (profile, bakery, graph, material, options);
        network = new(material, profile.Textures);
        pictures = new(profile, network, graph.Working, options);
    }

    public async Task<Lowered> LowerAsync(Dictionary<string, int?> mapped, List<ReportLine> bakedLines, CancellationToken cancel)
    {
        (baked, this.cancel) = (bakedLines, cancel);
        List<NetworkPort> ports = [],
            moving = [];
        foreach (var input in profile.Inputs)
        {
            var own = input.IsOfDisplacement ? moving : ports;
            if (mapped.GetValueOrDefault(input.Name) is not { } node)
                continue;
            current = input.Name;
            // Along u, or straight away from the surface: what every dialect does where nothing is said.
            if (
                input.Type == "vector3"
                && graph.IsConstant(node)
                && (graph.ValueOf(node) == Vector3.UnitX || graph.ValueOf(node) == Vector3.UnitZ)
            )
                continue;
            if (!input.TakesMaps)
            {
                // A choice is a plain value; where a map would have to decide, the dialect's default stands.
                if (graph.IsConstant(node) && (input.AlwaysWrite || !SameAsDefault(node, input)))
                    own.Add(new(input.Name, input.Type, input.Choice(graph.ValueOf(node).X)));
                continue;
            }
            var port = input.Type == "vector3" ? await DirectionAsync(node) : await ValueAsync(node);
            if (port.Value is null || input.AlwaysWrite || !SameAsDefault(node, input))
                own.Add(port with { Name = input.Name, Type = input.Type, Value = port.Value is null ? null : Surface(node, input) });
        }
        // A plain height would move everything alike, so the node is there for a map only.
        if (moving.Any(p => p.Node is not null))
            network.Add("displacement", profile.Displacement!.Node!, Network.DisplacementType, moving);
        network.Add("surface", profile.Surface, "surfaceshader", ports);
        return new([.. network.Nodes], [.. network.Textures]);
    }

    private bool SameAsDefault(int node, DialectInput input)
    {
        if (input.Default is not { } d)
            return false;
        var value = graph.ValueOf(node);
        bool Is(Vector3 v) =>
            MathF.Abs(v.X - d[0]) < 1e-6f && (d.Length < 3 || MathF.Abs(v.Y - d[1]) < 1e-6f && MathF.Abs(v.Z - d[2]) < 1e-6f);
        return Is(value)
            || input.Type == "color3" && Is(ColourTransform.Between(graph.Working.Space, ColourSpace.Find(ValueSpace)).Apply(value));
    }

    private string Surface(int node, DialectInput input) =>
        input.ShadeType == ShadeType.Colour
            ? NetworkBuilder.Text(WrittenColour.Of(profile, input, graph.Working, graph.ValueOf(node)).Written)
            : Constant(node, input.ShadeType);

    private string ValueSpace => profile.ValueSpace == "document" ? options.WorkingSpace : profile.ValueSpace;

    private string Constant(int node, ShadeType type)
    {
        var value = graph.ValueOf(node);
        return type switch
        {
            ShadeType.Scalar => NetworkBuilder.Number(value.X),
            ShadeType.Direction => NetworkBuilder.Text(value),
            _ => NetworkBuilder.Text(Tidy(ColourTransform.Between(graph.Working.Space, ColourSpace.Find(ValueSpace)).Apply(value))),
        };
    }

    /// <summary>Seven digits are what single precision holds; a tint that came in as 0.8 goes out as 0.8.</summary>
    private static Vector3 Tidy(Vector3 v) => new(MathF.Round(v.X, 6), MathF.Round(v.Y, 6), MathF.Round(v.Z, 6));

    private async Task<NetworkPort> ValueAsync(int node)
    {
        if (graph.IsConstant(node))
            return new("", TypeName(graph[node].Type), Constant(node, graph[node].Type));
        if (done.TryGetValue(node, out var known))
            return known;
        var port = graph[node].Op switch
        {
            _ when profile.Image!.ScalePort is not null => ByItself(AffinePicture.Of(graph, node), graph[node].Type)
                ?? await BakeAsync(node),
            ShadeOp.Image => await ImageAsync(node),
            ShadeOp.Luminance when HasRule(ShadeOp.Luminance) && HasRule(ShadeOp.Channel) => await LuminanceAsync(node),
            ShadeOp.Channel when HasRule(ShadeOp.Channel) => await ExtractAsync(
                await ValueAsync(graph[node].Inputs[0]),
                ((ChannelNode)graph[node]).Channel
            ),
            ShadeOp.DecodeNormal or ShadeOp.RotateDirection or ShadeOp.HeightToNormal or ShadeOp.AddReliefs => await DirectionAsync(node),
            ShadeOp.Curve when HasRule(ShadeOp.Curve) => await CurveAsync(node),
            var op when HasRule(op) => await OperationAsync(node),
            _ when AsRemap(node) is { } remapped => await OperationAsync(remapped),
            _ => await BakeAsync(node),
        };
        return done[node] = port;
    }

    private bool HasRule(ShadeOp op) => profile.Nodes.ContainsKey(Key(op));

    private static string Key(ShadeOp op) => char.ToLowerInvariant(op.ToString()[0]) + op.ToString()[1..];

    private NodeRule Rule(ShadeOp op) => profile.Nodes[Key(op)];

    private async Task<NetworkPort> OperationAsync(int node)
    {
        var (n, rule) = (graph[node], Rule(graph[node].Op));
        var ports = new List<NetworkPort>();
        for (var i = 0; i < n.Inputs.Length; i++)
        {
            var input = n.Inputs[i];
            // Main inputs have the node's own type; amounts, limits and exponents may stay plain numbers where the standard has such a
            // form.
            var main = i == 0 && n.Op != ShadeOp.Splat || n.Op is ShadeOp.Mix && i == 1 || n.Op is ShadeOp.IfGreater && i >= 2;
            if (n.Op is ShadeOp.IfGreater && i < 2)
                main = false;
            if (main && n.Type == ShadeType.Colour && graph[input].Type == ShadeType.Scalar)
                input = graph.IsConstant(input)
                    ? graph.Constant(graph.ValueOf(input), ShadeType.Colour)
                    : graph.As(input, ShadeType.Colour);
            var port = await ValueAsync(input);
            ports.Add(port with { Name = rule.Ports[i] });
        }
        return Made(network.Add(Key(n.Op), rule.Node, TypeName(n.Type), ports), n.Type);
    }

    /// <summary>A gain or an offset by a plain number where the dialect has neither, but can remap.</summary>
    private int? AsRemap(int node)
    {
        var n = graph[node];
        if (!HasRule(ShadeOp.Remap) || n.Op is not (ShadeOp.Multiply or ShadeOp.Add or ShadeOp.Subtract or ShadeOp.Divide))
            return null;
        var at =
            graph.IsConstant(n.Inputs[1]) ? 1
            : n.Op is ShadeOp.Multiply or ShadeOp.Add && graph.IsConstant(n.Inputs[0]) ? 0
            : -1;
        if (at < 0 || graph[n.Inputs[1 - at]].Type != n.Type || graph[n.Inputs[at]].Type != ShadeType.Scalar)
            return null;
        var c = graph.ValueOf(n.Inputs[at]).X;
        var (low, high) = n.Op switch
        {
            ShadeOp.Multiply => (0f, c),
            ShadeOp.Divide => (0f, 1 / c),
            ShadeOp.Add => (c, 1 + c),
            _ => (-c, 1 - c),
        };
        var main = graph[n.Inputs[1 - at]].Inputs.Length > 1 ? AsRemap(n.Inputs[1 - at]) ?? n.Inputs[1 - at] : n.Inputs[1 - at];
        return graph.Add(
            new ArithmeticNode(
                ShadeOp.Remap,
                n.Type,
                [main, graph.Constant(0f), graph.Constant(1f), graph.Constant(low), graph.Constant(high)]
            )
        );
    }

    /// <summary>A curve through points, as three lists: places, heights and slopes.</summary>
    private async Task<NetworkPort> CurveAsync(int node)
    {
        var rule = Rule(ShadeOp.Curve);
        var input = await ValueAsync(graph[node].Inputs[0]);
        string List(int part) =>
            string.Join(", ", ((CurveNode)graph[node]).Curve.Where((_, i) => i % 3 == part).Select(NetworkBuilder.Text));
        return Made(
            network.Add(
                "curve",
                rule.Node,
                TypeName(graph[node].Type),
                [
                    input with
                    {
                        Name = rule.Ports[0],
                    },
                    .. Enumerable.Range(0, 3).Select(i => new NetworkPort(rule.Ports[i + 1], "floatarray", List(i))),
                ]
            ),
            graph[node].Type
        );
    }

    /// <summary>A picture that multiplies and adds by itself; null where it cannot stand for the node.</summary>
    private NetworkPort? ByItself(AffinePicture? affine, ShadeType type)
    {
        if (affine is not { } a || graph[a.Image].Image is not { } lookup || !pictures.Fits(lookup))
            return null;
        var channel =
            type == ShadeType.Scalar ? AffinePicture.Channel(lookup)
            : lookup.Reading.Channel == MapChannel.Rgb ? "rgb"
            : null;
        if (channel is null)
            return null;
        var name = pictures.Add(
            lookup.File,
            "color3",
            type == ShadeType.Colour && !lookup.Reading.Space.IsRaw ? lookup.Reading.Space : (SpaceId?)null,
            lookup.Placement,
            false,
            type,
            a
        );
        return new("", TypeName(type), Node: name, Output: channel);
    }

    private async Task<NetworkPort> LuminanceAsync(int node)
    {
        var input = await ValueAsync(graph[node].Inputs[0]);
        // The standard's node weighs as ACEScg does unless it is told otherwise.
        var weights = ((LuminanceNode)graph[node]).Weights;
        NetworkPort[] told =
            weights == WorkingSpace.AcesCg.LuminanceWeights ? [] : [new("lumacoeffs", "color3", NetworkBuilder.Text(weights))];
        var grey = network.Add(
            "luminance",
            Rule(ShadeOp.Luminance).Node,
            "color3",
            [input with { Name = Rule(ShadeOp.Luminance).Ports[0] }, .. told]
        );
        return await ExtractAsync(new("", "color3", Node: grey), MapChannel.R);
    }

    private Task<NetworkPort> ExtractAsync(NetworkPort picture, MapChannel channel)
    {
        var rule = Rule(ShadeOp.Channel);
        var index = channel.Place() ?? throw new ArgumentException("A number is taken from one channel.", nameof(channel));
        var name = network.Add(
            $"pick_{channel.Word()}",
            rule.Node,
            "float",
            [picture with { Name = rule.Ports[0] }, new(rule.Ports[1], "integer", index.ToString())]
        );
        return Task.FromResult(Made(name, ShadeType.Scalar));
    }

    private async Task<NetworkPort> ImageAsync(int node)
    {
        var lookup = graph[node].Image!;
        var (file, reading) = (lookup.File, lookup.Reading);
        if (!pictures.Fits(lookup) && lookup.Placement.Variation is null)
            return await BakeAsync(node);
        if (lookup.Placement.Variation is not null)
            return await BakeAsync(node, $"{profile.Title} cannot vary tiles, so all its repeats are baked as they lie");
        if (
            options.ConvertTextures
            && reading.Kind == ReadingKind.Colour
            && !reading.Space.IsRaw
            && reading.Space != graph.Working.Space.Id
            && pictures.HoldWorkingSpace
        )
            return await BakeAsync(
                node,
                $"converted once, from {ColourSpace.Find(reading.Space).Label} to {graph.Working.Space.Label}; it must not be "
                    + "converted again",
                $"{Path.GetFileNameWithoutExtension(file.Name)}_{graph.Working.Id}"
            );
        if (reading.Kind == ReadingKind.Scalar && !pictures.ReadByThemselves(file, reading.Channel))
        {
            // A file of grey and alpha has no third channel for a vector to hold.
            var wide = reading.Channel == MapChannel.A ? "vector4" : "vector3";
            if (HasRule(ShadeOp.Channel) && file.Channels.Count > 2 && reading.Channel != MapChannel.Luminance)
                return await ExtractAsync(new("", wide, Node: pictures.Add(file, wide, null, lookup.Placement, false)), reading.Channel);
            if (
                !HasRule(ShadeOp.Luminance)
                || !HasRule(ShadeOp.Channel)
                || file.Channels.Count < 3
                || reading.Channel != MapChannel.Luminance
            )
                return await BakeAsync(node);
            // The luminance of a picture with colour, taken from its stored values.
            var stored = new NetworkPort("", "color3", Node: pictures.Add(file, "color3", null, lookup.Placement, false));
            var weights = new NetworkPort("lumacoeffs", "color3", "0.2126, 0.7152, 0.0722");
            var grey = network.Add(
                "luminance",
                Rule(ShadeOp.Luminance).Node,
                "color3",
                [stored with { Name = Rule(ShadeOp.Luminance).Ports[0] }, weights]
            );
            return await ExtractAsync(new("", "color3", Node: grey), MapChannel.R);
        }
        var type = TypeName(graph[node].Type);
        return Made(
            pictures.Add(
                file,
                type,
                reading.Kind == ReadingKind.Colour && !reading.Space.IsRaw ? reading.Space : (SpaceId?)null,
                lookup.Placement,
                false,
                graph[node].Type
            ),
            graph[node].Type
        );
    }

    /// <summary>A direction: a decoded picture, several of them where the dialect adds reliefs, or one that is baked first.</summary>
    private async Task<NetworkPort> DirectionAsync(int node)
    {
        if (done.TryGetValue(node, out var known))
            return known;
        if (graph[node].Op == ShadeOp.AddReliefs && HasRule(ShadeOp.AddReliefs))
            return done[node] = await AddedAsync(node);
        return done[node] = await DecodedAsync(node) ?? await BakeAsync(node);
    }

    /// <summary>
    /// A decoded picture, turned where its placement or the dialect's green asks for it; null where the node is more than that.
    /// </summary>
    private async Task<NetworkPort?> DecodedAsync(int node)
    {
        if (profile.Normals.Decode == NormalDecoding.ScaleAndBias)
            return ByItself(AffinePicture.OfDirection(graph, node, profile.Normals.Y == NormalY.Down), ShadeType.Direction);
        return await StoredAsync(node) is var (picture, steep) ? Decoded(picture, steep) : null;
    }

    /// <summary>The picture of a direction as the dialect decodes it, and how steep; null where the node is more than that.</summary>
    private async Task<(NetworkPort Picture, NetworkPort Steep)?> StoredAsync(int node)
    {
        if (graph.IsConstant(node) && profile.Normals.Decode == NormalDecoding.Node)
            return (
                new(
                    "",
                    "vector3",
                    NetworkBuilder.Text(
                        Tidy((graph.ValueOf(node) * new Vector3(1, profile.Normals.Y == NormalY.Down ? -1 : 1, 1) + Vector3.One) * 0.5f)
                    )
                ),
                new("", "float", "1")
            );
        var rotation = (graph[node] as RotateDirectionNode)?.Matrix ?? RotateDirectionNode.Identity;
        var decode = (graph[node] is RotateDirectionNode rotated ? graph[rotated.Input] : graph[node]) as DecodeNormalNode;
        var down = profile.Normals.Y == NormalY.Down;
        if (decode is not null && graph[decode.Input].Op == ShadeOp.Image)
        {
            var fromDown = decode.YDown;
            // In stored axes: source green, then the rotation, then the dialect's green.
            var stored = new Vector4(
                rotation.X,
                rotation.Y * (fromDown ? -1 : 1),
                rotation.Z * (down ? -1 : 1),
                rotation.W * (fromDown ? -1 : 1) * (down ? -1 : 1)
            );
            var isRotated = stored != new Vector4(1, 0, 0, 1);
            var steep = decode.Inputs[1];
            if (
                (!isRotated || CanRotate)
                && (profile.Normals.Decode == NormalDecoding.Node || graph.IsConstant(steep) && graph.ValueOf(steep).X == 1)
            )
            {
                var picture = await ValueAsync(decode.Inputs[0]);
                return (isRotated ? Rotated(picture, stored) : picture, await ValueAsync(steep));
            }
        }
        return null;
    }

    /// <summary>Reliefs that a node adds: of directions, or of pictures where the node that decodes takes several.</summary>
    private async Task<NetworkPort> AddedAsync(int node)
    {
        var rule = Rule(ShadeOp.AddReliefs);
        var most = rule.Ports.Length / 2;
        var takesPictures = profile.Nodes.TryGetValue(Key(ShadeOp.DecodeNormal), out var decoding) && decoding.Node == rule.Node;
        var parts = Reliefs(node, most);
        var ports = new List<NetworkPort>();
        foreach (var (part, weight) in parts)
        {
            var (direction, share) =
                !takesPictures ? (await DirectionAsync(part), weight)
                : graph[part].Op == ShadeOp.DecodeNormal
                && graph.IsConstant(graph[part].Inputs[1])
                && await StoredAsync(part) is var (picture, _)
                    ? (picture, graph.Add(ShadeOp.Multiply, weight, graph[part].Inputs[1]))
                : (await BakeAsync(part, decoded: false), weight);
            ports.Add(direction with { Name = rule.Ports[ports.Count], Type = "vector3" });
            ports.Add(await ValueAsync(share) with { Name = rule.Ports[ports.Count], Type = "float" });
        }
        return Made(network.Add("reliefs", rule.Node, "vector3", ports), ShadeType.Direction);
    }

    /// <summary>A sum of sums as one list, as long as it may be.</summary>
    private List<(int Node, int Weight)> Reliefs(int node, int most)
    {
        var i = graph[node].Inputs;
        List<(int Node, int Weight)> parts = [(i[0], i[1]), (i[2], i[3])];
        for (var at = 0; at < parts.Count; at++)
            while (parts.Count < most && graph[parts[at].Node] is { Op: ShadeOp.AddReliefs } inner && graph.IsConstant(parts[at].Weight))
            {
                var weight = parts[at].Weight;
                parts.Insert(at + 1, (inner.Inputs[2], graph.Add(ShadeOp.Multiply, inner.Inputs[3], weight)));
                parts[at] = (inner.Inputs[0], graph.Add(ShadeOp.Multiply, inner.Inputs[1], weight));
            }
        return parts;
    }

    private bool CanRotate =>
        profile.Normals.Decode == NormalDecoding.Node
        && (
            profile.Nodes.ContainsKey("turn")
            && profile.Nodes.ContainsKey("normalise")
            && HasRule(ShadeOp.Add)
            && HasRule(ShadeOp.Subtract)
            && HasRule(ShadeOp.Multiply)
        );

    private NetworkPort Rotated(NetworkPort picture, Vector4 rotation)
    {
        string Add(string key, NetworkPort input, NetworkPort? second = null)
        {
            var rule = profile.Nodes[key];
            return network.Add(
                key,
                rule.Node,
                "vector3",
                second is null
                    ? [input with { Name = rule.Ports[0] }]
                    : [input with { Name = rule.Ports[0] }, second with { Name = rule.Ports[1] }]
            );
        }
        NetworkPort V(string node) => new("", "vector3", Node: node);
        NetworkPort F(float value) => new("", "float", NetworkBuilder.Text(value));
        Func<float, string> t = NetworkBuilder.Text;
        // Row vectors times a matrix written row by row, as MaterialX transformmatrix does.
        var matrix = new NetworkPort("", "matrix33", $"{t(rotation.X)}, {t(rotation.Z)}, 0, {t(rotation.Y)}, {t(rotation.W)}, 0, 0, 0, 1");
        var centred = Add("subtract", V(Add("multiply", picture, F(2))), F(1));
        var unit = Add("normalise", V(Add("turn", V(centred), matrix)));
        return V(Add("add", V(Add("multiply", V(unit), F(0.5f))), F(0.5f)));
    }

    private NetworkPort Decoded(NetworkPort picture, NetworkPort strength)
    {
        if (profile.Normals.Decode == NormalDecoding.Picture)
            return picture with { Name = "" };
        var rule = Rule(ShadeOp.DecodeNormal);
        var ports = new List<NetworkPort> { picture with { Name = rule.Ports[0] } };
        if (strength.Value != "1")
            ports.Add(strength with { Name = rule.Ports[1], Type = "float" });
        return Made(network.Add("normal", rule.Node, "vector3", ports), ShadeType.Direction);
    }

    /// <param name="decoded">Of a direction: whether the picture is decoded at once.</param>
    private async Task<NetworkPort> BakeAsync(int node, string? reason = null, string? stem = null, bool decoded = true)
    {
        var n = graph[node];
        var down = profile.Normals.Y == NormalY.Down;
        var colours =
            profile.Textures.ColourBake is { } fixedSpace ? ColourSpace.Find(fixedSpace)
            : pictures.HoldWorkingSpace ? graph.Working.Space
            : ColourSpace.SrgbTexture;
        var space = n.Type == ShadeType.Colour ? colours : ColourSpace.Raw;
        var channels = n.Type == ShadeType.Scalar ? "y" : "rgb";
        var encodedDirection = n.Op == ShadeOp.Image && n.Type == ShadeType.Direction;
        var target = node;
        if (encodedDirection)
            target = graph.Add(new DecodeNormalNode(node, graph.Constant(1), YDown: false));
        var name = stem
            ?? profile
                .Names.Texture.Replace("{material}", material, StringComparison.Ordinal)
                .Replace("{part}", current, StringComparison.Ordinal);
        var map = await bakery.BakeAsync(
            graph,
            [new(channels, target)],
            new(name, space, profile.Textures, p => PlacementTerms.CanSay(profile.Placement!, p), down && !encodedDirection),
            cancel
        );
        baked.Add(new(profile.NeutralOf(current), current, $"{map.File.Name}: {reason ?? Reason(n)}, {map.Width} x {map.Height}."));
        var type = TypeName(n.Type);
        var isDirection = n.Type == ShadeType.Direction;
        if (profile.Image!.ScalePort is not null)
        {
            var affine = isDirection ? new AffinePicture(node, new(2), new(-1)) : new AffinePicture(node, Vector3.One, Vector3.Zero);
            return new(
                "",
                type,
                Node: pictures.Add(
                    map.File,
                    "color3",
                    n.Type == ShadeType.Colour ? space.Id : (SpaceId?)null,
                    map.Placement,
                    true,
                    n.Type,
                    affine
                ),
                Output: channels == "y" ? "r" : channels
            );
        }
        var picture = Made(
            pictures.Add(map.File, type, n.Type == ShadeType.Colour ? space.Id : (SpaceId?)null, map.Placement, true, n.Type),
            n.Type
        );
        return isDirection && !encodedDirection && decoded ? Decoded(picture, new("", "float", "1")) : picture;
    }

    private string Reason(ShadeNode node)
    {
        if (node.Op != ShadeOp.Image || node.Image is not { } lookup)
            return $"{profile.Title} has no node for {Key(node.Op)}";
        return pictures.WhyNot(lookup);
    }

    private static NetworkPort Made(string name, ShadeType type) => new("", TypeName(type), Node: name);

    private static string TypeName(ShadeType type) =>
        type switch
        {
            ShadeType.Scalar => "float",
            ShadeType.Colour => "color3",
            _ => "vector3",
        };
}
