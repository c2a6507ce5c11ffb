using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Execution;

/// <summary>
/// Reads a network as its dialect would: from categories, ports, space names and files alone, never from the look it came from.
/// The proof of a dialect runs what this gives, so it shows what was written.
/// </summary>
public sealed class NetworkExecution
{
    private readonly DialectProfile profile;
    private readonly Network network;
    private readonly Func<string, SpaceId> spaceOf;
    private readonly Dictionary<string, string> operations;
    private readonly Dictionary<string, int> done = [];

    private readonly List<string>? remarks;

    /// <param name="spaceOf">From a space name as written to one of ours; identity while no config is in force.</param>
    /// <param name="remarks">Takes a sentence for each node that the profile does not know, which then passes on what enters it; without it
    /// such a node is an error.</param>
    public NetworkExecution(
        DialectProfile profile,
        Network network,
        ShadeGraph graph,
        Func<string, SpaceId>? spaceOf = null,
        List<string>? remarks = null
    )
    {
        (this.profile, this.network, Graph, this.spaceOf, this.remarks) = (profile, network, graph, spaceOf ?? (s => s), remarks);
        operations = profile.Nodes.ToDictionary(n => n.Value.Node + "/" + n.Key, n => n.Key);
    }

    public ShadeGraph Graph { get; }

    /// <summary>The node of a dialect input; null for a direction that nothing turns.</summary>
    public int? Input(string name)
    {
        var input = profile.Input(name);
        if (profile.Structure == NetworkStructure.Slots)
            return Slot(input);
        var port = (input.IsOfDisplacement ? network.Displacement : network.Surface)?.Port(name);
        if (port is null)
            return input.Type == "vector3" ? null : Default(input);
        if (!input.TakesMaps && port.Value is { } written)
            return Graph.Constant(input.Number(written));
        return Graph.As(Port(port, input.Type), input.ShadeType);
    }

    private int Default(DialectInput input) =>
        !input.TakesMaps
            ? Graph.Constant(input.Default?[0] ?? 0)
            : Constant(input.Type, string.Join(", ", (input.Default ?? [0, 0, 0]).Select(d => d.ToString("R"))));

    private int? Slot(DialectInput input)
    {
        var slot = profile.Slots.FirstOrDefault(s => s.Channels.ContainsValue(input.Name));
        var factorPort = network.Surface.Port(slot?.Factors?.GetValueOrDefault(input.Name) ?? input.Name);
        var factor =
            input.Type == "vector3" ? (int?)null
            : factorPort is null ? Default(input)
            : input.TakesMaps ? Constant(input.Type, factorPort.Value)
            : Graph.Constant(input.Number(ValueOf(factorPort)));
        if (slot is null || network.Surface.Port(slot.Name) is not { Node: { } texture })
            return factor;
        var node = network.Node(texture);
        var channels = slot.Channels.First(c => c.Value == input.Name).Key;
        var kind = input.Type switch
        {
            "vector3" => ReadingKind.Direction,
            "color3" => ReadingKind.Colour,
            _ => ReadingKind.Scalar,
        };
        // A file without alpha is opaque.
        if (channels == "a" && !File(node).Channels.Contains("A"))
            return factor;
        // A grey file has one number in every channel.
        if (kind == ReadingKind.Scalar && channels != "a" && (File(node).Channels.Count <= 2 || File(node).EqualChannels))
            channels = "luminance";
        var image = Graph.Image(
            new(
                File(node),
                new Reading(kind, kind == ReadingKind.Colour ? slot.Space : "raw", MapChannels.Parse(channels)),
                Placement(node, "texture")
            )
        );
        var strength = slot.Strength is { } own && node.Port(own)?.Value is { } told ? float.Parse(told) : 1;
        if (kind == ReadingKind.Direction)
            return Graph.Add(new DecodeNormalNode(image, Graph.Constant(strength), profile.Normals.Y == NormalY.Down));
        if (strength != 1)
            image = Graph.Add(ShadeOp.Add, Graph.Add(ShadeOp.Multiply, image, Graph.Constant(strength)), Graph.Constant(1 - strength));
        return factorPort is null ? image : Graph.Add(ShadeOp.Multiply, image, factor!.Value);
    }

    private MapFile File(NetworkNode node)
    {
        var path = node.Ports.First(p => p.Type == "filename").Value;
        return network.Textures.First(t => t.Path == path).File;
    }

    private int Port(NetworkPort port, string? wanted = null)
    {
        if (port.Node is not { } name)
            return Constant(port.Type, port.Value, port.Space);
        var node = network.Node(name);
        return port.Output is { } output && node.Category == profile.Image!.Node ? Output(node, output, wanted ?? port.Type) : Node(node);
    }

    private int Node(NetworkNode node)
    {
        if (done.TryGetValue(node.Name, out var known))
            return known;
        return done[node.Name] =
            node.Category == profile.Image!.Node && node.Ports.Any(p => p.Type == "filename") ? Image(node, null) : Operation(node);
    }

    /// <summary>One output of a picture that has several, with what the picture multiplies and adds by itself.</summary>
    private int Output(NetworkNode node, string output, string wanted)
    {
        Vector4 scale = Four(node, profile.Image!.ScalePort, 1),
            bias = Four(node, profile.Image.BiasPort, 0);
        if (output != "rgb")
        {
            var i = "rgba".IndexOf(output, StringComparison.Ordinal);
            return Scaled(Image(node with { Type = "vector4" }, output), new(scale[i]), new(bias[i]));
        }
        if (wanted != "vector3")
            return Scaled(Image(node with { Type = "color3" }, null), scale.AsVector3(), bias.AsVector3());
        // A direction is stored around one half; the scale says how steep it is and which axes are turned over.
        var steep = Graph.Constant(MathF.Abs(scale.X) / MathF.Max(1e-6f, MathF.Abs(scale.Z)));
        var decoded = Graph.Add(new DecodeNormalNode(Image(node with { Type = "vector3" }, null), steep, scale.Y < 0));
        return scale.X < 0 ? Graph.Add(new RotateDirectionNode(decoded, new(-1, 0, 0, 1))) : decoded;
    }

    private int Scaled(int picture, Vector3 scale, Vector3 bias)
    {
        var type = Graph[picture].Type;
        return Graph.Add(ShadeOp.Add, Graph.Add(ShadeOp.Multiply, picture, Graph.Constant(scale, type)), Graph.Constant(bias, type));
    }

    private static Vector4 Four(NetworkNode node, string? port, float missing) =>
        port is not null && node.Port(port)?.Value is { } text && text.Split(',').Select(float.Parse).ToArray() is { Length: 4 } v
            ? new(v[0], v[1], v[2], v[3])
            : new(missing);

    /// <summary>The word on a picture's space port in our terms: what it was written for, colours before data.</summary>
    private SpaceId Space(string? written, bool colour)
    {
        if (profile.Image!.Readings != ReadingStyle.Named)
            return written is null ? "raw" : spaceOf(written);
        if (!colour)
            return "raw";
        return profile.Image.Spaces!.FirstOrDefault(s => s.Value == written).Key ?? "raw";
    }

    private static NetworkPort Needed(NetworkNode node, string port) =>
        node.Port(port) ?? throw new ProfileException($"The node '{node.Name}' lacks its '{port}'.");

    private static string ValueOf(NetworkPort? port) =>
        port?.Value ?? throw new ProfileException("A node lacks a value that it cannot do without.");

    private int Image(NetworkNode node, string? channel)
    {
        var file = Needed(node, profile.Image!.FilePort);
        var space = profile.Image.Readings == ReadingStyle.MaterialX ? file.Space : node.Port(profile.Image.SpacePort!)?.Value;
        var placement = Placement(node, profile.Image.TexcoordPort);
        var ours = Space(space, node.Type == "color3" && channel is null);
        var reading = node.Type switch
        {
            "float" => new Reading(ReadingKind.Scalar, "raw", profile.Textures.GreyChannel(File(node))),
            "vector3" when channel is null => new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb),
            "color3" when channel is null => new Reading(ReadingKind.Colour, ours, MapChannel.Rgb),
            _ => new Reading(ReadingKind.Scalar, "raw", MapChannels.Parse(channel!)),
        };
        var image = Graph.Image(new(File(node), reading, placement));
        // Where the picture itself is told that it holds directions, it gives them.
        return profile.Normals.Decode == NormalDecoding.Picture && reading.Kind == ReadingKind.Direction
            ? Graph.Add(new DecodeNormalNode(image, Graph.Constant(1), profile.Normals.Y == NormalY.Down))
            : image;
    }

    private int Operation(NetworkNode node)
    {
        var keys = operations.Where(o => o.Key.StartsWith(node.Category + "/", StringComparison.Ordinal)).Select(o => o.Value).ToList();
        if (keys.Count == 0)
            return Unknown(node);
        var key = keys[0];
        var rule = profile.Nodes[key];
        if (key == "channel")
            return Extracted(node, rule);
        if (key == "curve")
            return Curved(node, rule);
        var inputs = rule.Ports.Select(p => node.Port(p)).ToArray();
        int In(int i, float missing = 0) => inputs[i] is { } port ? Port(port) : Graph.Constant(missing);
        switch (key)
        {
            case "decodeNormal" or "addReliefs" when Added(node) is { } added:
                return added;
            case "decodeNormal":
                return Graph.Add(new DecodeNormalNode(In(0), In(1, 1), profile.Normals.Y == NormalY.Down));
            case "normalise":
                return Graph.Add(new RotateDirectionNode(In(0), RotateDirectionNode.Identity));
            case "turn":
                var m = ValueOf(inputs[1]).Split(',').Select(float.Parse).ToArray();
                return Graph.Add(new RotateDirectionNode(In(0), new(m[0], m[3], m[1], m[4])));
            case "luminance":
                return Luminance(node, In(0));
            default:
                var op = Enum.Parse<ShadeOp>(key, ignoreCase: true);
                if (op == ShadeOp.Splat)
                    return Graph.As(In(0), ShadeType.Colour);
                return Graph.Add(new ArithmeticNode(op, Type(node.Type), [.. Enumerable.Range(0, rule.Ports.Length).Select(i => In(i))]));
        }
    }

    /// <summary>A node that the profile does not know: what enters it first goes on unchanged, and what it was is told.</summary>
    private int Unknown(NetworkNode node)
    {
        var sentence = $"The network has a node '{node.Category}', which the profile '{profile.Id}' does not know.";
        if (remarks is null)
            throw new ProfileException(sentence);
        var settings = string.Join(", ", node.Ports.Where(p => p.Value is not null).Select(p => $"{p.Name} = {p.Value}"));
        var (colour, direction) = (node.Type == "color3", node.Type == "vector3");
        var main = node.Ports.FirstOrDefault(p => p.Node is not null && (p.Type == node.Type || !colour && !direction))
            ?? node.Ports.FirstOrDefault(p => p.Node is not null);
        var passed = main is null ? (int?)null : Port(main);
        if (passed is { } p && Graph[p].Type == ShadeType.Direction != direction)
            passed = null;
        remarks.Add(
            $"The node '{node.Name}' ({node.Category}{(settings.Length > 0 ? ": " + settings : "")}) is not known here: "
                + $"{(passed is null ? "a plain value stands for it" : $"what enters its '{main!.Name}' goes on unchanged")}."
        );
        if (passed is { } whole)
            return direction ? whole : Graph.As(whole, colour ? ShadeType.Colour : ShadeType.Scalar);
        var own = node.Ports.FirstOrDefault(q => q.Value is not null && q.Type == node.Type);
        return direction ? Graph.Constant(Vector3.UnitZ, ShadeType.Direction)
            : own is null ? Graph.As(Graph.Constant(0.5f), colour ? ShadeType.Colour : ShadeType.Scalar)
            : Constant(own.Type, own.Value);
    }

    /// <summary>
    /// Several reliefs with a weight each: of directions, or of pictures where the node that decodes takes several. Null where the node
    /// adds none, or has one picture.
    /// </summary>
    private int? Added(NetworkNode node)
    {
        if (!profile.Nodes.TryGetValue("addReliefs", out var rule) || rule.Node != node.Category)
            return null;
        var takesPictures = profile.Nodes.GetValueOrDefault("decodeNormal")?.Node == rule.Node;
        int? sum = null;
        var first = Graph.Constant(1);
        for (var i = 0; i + 1 < rule.Ports.Length; i += 2)
        {
            if (node.Port(rule.Ports[i]) is not { } port)
                continue;
            // The first counts whole, the others only as far as they are told to.
            var weight = node.Port(rule.Ports[i + 1]) is { } told ? Port(told) : Graph.Constant(i == 0 ? 1 : 0);
            var direction = Port(port);
            if (takesPictures)
                direction = Graph.Add(
                    new DecodeNormalNode(
                        direction,
                        sum is null && node.Port(rule.Ports[2]) is null ? weight : Graph.Constant(1),
                        profile.Normals.Y == NormalY.Down
                    )
                );
            if (sum is null)
                (sum, first) = (direction, takesPictures && node.Port(rule.Ports[2]) is null ? Graph.Constant(1) : weight);
            else
                (sum, first) = (Graph.Add(ShadeOp.AddReliefs, sum.Value, first, direction, weight), Graph.Constant(1));
        }
        return sum;
    }

    private int Curved(NetworkNode node, NodeRule rule)
    {
        var lists = rule.Ports[1..4].Select(p => ValueOf(node.Port(p)).Split(',').Select(float.Parse).ToArray()).ToArray();
        var input = Port(node.Port(rule.Ports[0])!);
        return Graph.Add(
            new CurveNode(
                input,
                Graph[input].Type,
                [.. Enumerable.Range(0, lists[0].Length).SelectMany(i => new[] { lists[0][i], lists[1][i], lists[2][i] })]
            )
        );
    }

    private int Luminance(NetworkNode node, int input)
    {
        if (node.Port("lumacoeffs")?.Value is not { } text)
            return Weighted(input, WorkingSpace.AcesCg.LuminanceWeights);
        var w = text.Split(',').Select(float.Parse).ToArray();
        return Weighted(input, new(w[0], w[1], w[2]));
    }

    private int Weighted(int input, Vector3 weights) => Graph.Add(new LuminanceNode(input, weights));

    private int Extracted(NetworkNode node, NodeRule rule)
    {
        var channel = "rgba"[int.Parse(ValueOf(node.Port(rule.Ports[1])))].ToString();
        var picture = network.Node(
            Needed(node, rule.Ports[0]).Node
                ?? throw new ProfileException($"The node '{node.Name}' has nothing connected where its picture belongs.")
        );
        if (picture.Category == profile.Image!.Node && picture.Type is "vector3" or "vector4")
            return Image(picture with { Type = "vector4" }, channel);
        return Graph.Channel(Node(picture), MapChannels.Parse(channel));
    }

    /// <summary>
    /// Where a picture lies, by its own settings or by the node that gives its coordinates. Inputs that are not connected have the
    /// standard's default, which may be one point.
    /// </summary>
    private Placement Placement(NetworkNode node, string texcoordPort)
    {
        var rule = profile.Placement!;
        if (rule.Node is null)
            return Settings(node, rule);
        if (node.Port(texcoordPort) is not { } port)
            return rule.UsualCoordinates ? Looks.Maps.Placement.Identity : Point(node, Vector2.Zero, Looks.Maps.Placement.Identity);
        if (port.Node is not { } name)
            return Point(node, Pair(port.Value), Looks.Maps.Placement.Identity);
        var place = network.Node(name);
        if (place.Category == rule.Node)
        {
            var placement = Settings(place, rule);
            // A dialect whose placement starts from the surface by itself has no input for coordinates.
            var from = rule.TexcoordNode is null ? null : place.Port(rule.TexcoordPort);
            return rule.TexcoordNode is null || from?.Node is not null ? placement : Point(place, Pair(from?.Value), placement);
        }
        if (place.Category != rule.TexcoordNode && place.Category is not ("texcoord" or "geompropvalue"))
            remarks?.Add($"The placement of '{node.Name}' ({place.Category}) is not known here: the map lies as it is.");
        else if (place.Port("index")?.Value is { } set and not "0")
            remarks?.Add($"'{node.Name}' lies by UV set {set}; the first UV set is used here.");
        return Looks.Maps.Placement.Identity;
    }

    private Placement Point(NetworkNode node, Vector2 at, Placement placement)
    {
        remarks?.Add(
            $"'{node.Name}' ({node.Category}) has no surface coordinates: by the standard's default it reads one point of its picture."
        );
        return Looks.Maps.Placement.AtPoint(placement.Apply(at));
    }

    private static Placement Settings(NetworkNode place, PlacementRule rule)
    {
        if (
            place.Port(rule.ScalePort)?.Value is null
            && place.Port(rule.ShiftPort)?.Value is null
            && place.Port(rule.RotatePort)?.Value is null
        )
            return Looks.Maps.Placement.Identity;
        var (scale, shift, angle) = (
            Pair(place.Port(rule.ScalePort)?.Value, 1),
            Pair(place.Port(rule.ShiftPort)?.Value),
            Pair(place.Port(rule.RotatePort)?.Value).X
        );
        if (rule.OrderPort is { } order && place.Port(order)?.Value == "0")
            return new PlacementTerms(scale.X, scale.Y, angle, -shift.X, -shift.Y).ToPlacement(rule.ScaledFirst());
        return new PlacementTerms(scale.X, scale.Y, angle, shift.X, shift.Y).ToPlacement(rule);
    }

    private static Vector2 Pair(string? text, float missing = 0)
    {
        var numbers = text?.Split(',');
        float Number(int at) =>
            numbers is not null && numbers.Length > at && float.TryParse(numbers[at], out var number) ? number : missing;
        return new(Number(0), Number(1));
    }

    /// <param name="space">The space that a colour says it is in, where it says so itself.</param>
    private int Constant(string type, string? text, string? space = null)
    {
        var v = (text ?? throw new ProfileException($"An input of type '{type}' has neither a value nor a connection."))
            .Split(',')
            .Select(n =>
                float.TryParse(n, out var number)
                    ? number
                    : n.Trim() switch
                    {
                        "true" => 1,
                        "false" => 0,
                        _ => throw new ProfileException($"'{text}' is no number."),
                    }
            )
            .ToArray();
        if (type == "color3")
            return Graph.Constant(
                ColourTransform
                    .Between(
                        ColourSpace.Find(profile.ValueSpace == "document" ? space ?? network.WorkingSpace : profile.ValueSpace),
                        Graph.Working.Space
                    )
                    .Apply(v.Length == 3 ? new(v[0], v[1], v[2]) : new(v[0]))
            );
        return v.Length == 3 ? Graph.Constant(new Vector3(v[0], v[1], v[2]), Type(type)) : Graph.Constant(v[0]);
    }

    private static ShadeType Type(string type) =>
        type switch
        {
            "float" => ShadeType.Scalar,
            "vector3" => ShadeType.Direction,
            _ => ShadeType.Colour,
        };
}
