using System.Numerics;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Lowering;

/// <summary>
/// Lowers to a dialect whose textures have fixed places and channels: files that already fit go through untouched, all else is packed.
/// </summary>
internal sealed class SlotLowering(DialectProfile profile, Bakery bakery, ShadeGraph graph, string material)
{
    /// <summary>Sheets in memory at a time, however many processors there are.</summary>
    private const int MostAtOnce = 4;

    private readonly NetworkBuilder network = new(material, profile.Textures);

    public async Task<Lowered> LowerAsync(Dictionary<string, int?> mapped, List<ReportLine> baked, CancellationToken cancel)
    {
        var ports = new List<NetworkPort>();
        var factors = new Dictionary<string, int>();
        var filled = profile
            .Slots.Select(slot =>
                (
                    Slot: slot,
                    Parts: slot.Channels.Where(c => mapped.GetValueOrDefault(c.Value) is { } n && !graph.IsConstant(n))
                        .Select(c => (Channels: c.Key, Input: c.Value, Node: mapped[c.Value]!.Value))
                        .ToList()
                )
            )
            .Where(s => s.Parts.Count > 0)
            // A plain value that no factor can say goes into the sheet beside the maps.
            .Select(s =>
                (
                    s.Slot,
                    Parts: s.Parts.Concat(
                            s.Slot.Channels.Where(c =>
                                    s.Slot.Channels.Count > 1
                                    && s.Slot.Factors?.ContainsKey(c.Value) != true
                                    && mapped.GetValueOrDefault(c.Value) is { } n
                                    && graph.IsConstant(n)
                                )
                                .Select(c => (Channels: c.Key, Input: c.Value, Node: mapped[c.Value]!.Value))
                        )
                        .ToList()
                )
            )
            .Select(s => (s.Slot, s.Parts, Through: PassesUnchanged(s.Slot, [.. s.Parts.Select(p => (p.Channels, p.Node))], mapped)))
            .ToList();
        // Sheets are made side by side: writing one takes one processor, and they are few at a time.
        using var atOnce = new SemaphoreSlim(Math.Clamp(Environment.ProcessorCount, 1, MostAtOnce));
        var sheets = filled
            .Where(f => f.Through is null)
            .ToDictionary(
                f => f.Slot.Name,
                f =>
                    Task.Run(
                        async () =>
                        {
                            await atOnce.WaitAsync(cancel);
                            try
                            {
                                return await bakery.BakeAsync(
                                    graph,
                                    [.. f.Parts.Select(p => new BakePart(p.Channels, p.Node))],
                                    $"{material}_{f.Slot.Name}",
                                    ColourSpace.Find(f.Slot.Space),
                                    profile.Textures,
                                    p => PlacementTerms.CanSay(profile.Placement!, p),
                                    profile.Normals.Y == NormalY.Down,
                                    cancel
                                );
                            }
                            finally
                            {
                                atOnce.Release();
                            }
                        },
                        cancel
                    )
            );
        await Task.WhenAll(sheets.Values);
        foreach (var (slot, parts, through) in filled)
        {
            string node;
            if (through is { } lookup)
            {
                node = Texture(slot, lookup.Image.File, lookup.Image.Placement, false, parts.Select(p => p.Channels), lookup.Strength);
            }
            else
            {
                var map = await sheets[slot.Name];
                node = Texture(slot, map.File, map.Placement, true, parts.Select(p => p.Channels));
                baked.AddRange(
                    parts.Select(p => new ReportLine(
                        profile.NeutralOf(p.Input),
                        p.Input,
                        $"{map.File.Name}, channel {p.Channels}: {Why(slot, p.Node)}, {map.Width} x {map.Height}."
                    ))
                );
            }
            ports.Add(new(slot.Name, profile.Image is null ? "color3" : slot.PictureType, Node: node));
        }
        foreach (var input in profile.Inputs)
        {
            if (mapped.GetValueOrDefault(input.Name) is not { } value)
                continue;
            var slot = profile.Slots.FirstOrDefault(s => s.Channels.ContainsValue(input.Name));
            var port = slot?.Factors?.GetValueOrDefault(input.Name) ?? (slot is null ? input.Name : null);
            if (port is null)
                continue;
            var constant = graph.IsConstant(value) ? graph.ValueOf(value) : Vector3.One;
            if (!input.TakesMaps && !graph.IsConstant(value))
                continue;
            if (graph.IsConstant(value) || slot is not null)
                ports.Add(new(port, input.Type, Text(constant, input, graph.IsConstant(value))));
        }
        network.Add("surface", profile.Surface, "surfaceshader", ports);
        return new([.. network.Nodes], [.. network.Textures]);
    }

    private string Text(Vector3 value, DialectInput input, bool convert)
    {
        if (!input.TakesMaps)
            return input.Choice(value.X);
        if (input.Type != "color3")
            return NetworkBuilder.Number(Math.Clamp(value.X, input.Low, input.High));
        return NetworkBuilder.Text(convert ? WrittenColour.Of(profile, input, graph.Working, value).Written : value);
    }

    private string Texture(
        TextureSlot slot,
        MapFile file,
        Placement placement,
        bool isBaked,
        IEnumerable<string> channels,
        float strength = 1
    )
    {
        // A format of factors tells which channels are in use; a document of nodes has a picture node of its own, and the place decides how
        // it is read.
        List<NetworkPort> ports = profile.Image is { } image
            ?
            [
                new(image.FilePort, "filename", network.Texture(file, isBaked)),
                .. (image.Fixed ?? []).Select(f => new NetworkPort(f.Key, "string", f.Value)),
            ]
            :
            [
                new("file", "filename", network.Texture(file, isBaked), Space: slot.Space),
                new("channels", "string", string.Concat(channels)),
            ];
        if (strength != 1)
            ports.Add(new(slot.Strength!, "float", NetworkBuilder.Text(strength)));
        var rule = profile.Placement!;
        if (!placement.IsIdentity)
        {
            var terms = PlacementTerms.Of(rule, placement);
            ports.Add(new(rule.ScalePort, "vector2", $"{NetworkBuilder.Text(terms.ScaleU)}, {NetworkBuilder.Text(terms.ScaleV)}"));
            ports.Add(new(rule.RotatePort, "float", NetworkBuilder.Text(terms.Angle)));
            ports.Add(new(rule.ShiftPort, "vector2", $"{NetworkBuilder.Text(terms.ShiftU)}, {NetworkBuilder.Text(terms.ShiftV)}"));
        }
        return network.Add(slot.Name, profile.Image?.Node ?? "texture", profile.Image is null ? "color3" : slot.PictureType, ports);
    }

    /// <summary>
    /// The one lookup behind all parts, if its file can stand in the slot byte for byte, and the strength that the slot itself says.
    /// </summary>
    private (ImageLookup Image, float Strength)? PassesUnchanged(
        TextureSlot slot,
        List<(string Channels, int Node)> parts,
        Dictionary<string, int?> mapped
    )
    {
        ImageLookup? common = null;
        var strength = 1f;
        foreach (var (channels, node) in parts)
        {
            var n = graph[node];
            // A picture with the dialect's own green is what a normal slot holds, at full strength or at the one that the slot says.
            if (
                n is DecodeNormalNode decode
                && decode.YDown == (profile.Normals.Y == NormalY.Down)
                && graph.IsConstant(n.Inputs[1])
                && (graph.ValueOf(n.Inputs[1]).X == 1 || slot.Strength is not null)
            )
                (strength, n) = (graph.ValueOf(n.Inputs[1]).X, graph[n.Inputs[0]]);
            else if (
                slot.Strength is not null
                && AffinePicture.Of(graph, node) is { } affine
                && MathF.Abs(affine.Scale.X + affine.Bias.X - 1) < 1e-6f
                && affine.Scale.X is > 0 and <= 1
            )
                (strength, n) = (affine.Scale.X, graph[affine.Image]);
            if (n.Op != ShadeOp.Image || n.Image is not { } image)
                return null;
            var reading = image.Reading;
            var fits =
                profile.Textures.Reads(image.File, image.Reading.Kind == ReadingKind.Colour)
                && PlacementTerms.CanSay(profile.Placement!, image.Placement)
                && reading.Space == slot.Space
                && image.File.Bits <= 8
                && (
                    reading.Channel == channels
                    || channels == "rg" && reading.Channel == "rgb"
                    || reading.Channel == "luminance"
                        && channels.Length == 1
                        && channels != "a"
                        && (image.File.EqualChannels || image.File.Channels.Count == 1)
                );
            if (!fits || common is not null && (common.File != image.File || common.Placement != image.Placement))
                return null;
            common = image;
        }
        // What the file holds in a channel that nothing asked for would be multiplied in, unless that input is 0 or the file lacks the
        // channel.
        foreach (var (channels, input) in slot.Channels.Where(c => parts.All(p => p.Channels != c.Key)))
            if (
                !(channels == "a" && !common!.File.Channels.Contains("A"))
                && !(mapped.GetValueOrDefault(input) is { } n && graph.IsConstant(n) && graph.ValueOf(n) == Vector3.Zero)
            )
                return null;
        return common is null ? null : (common, strength);
    }

    private string Why(TextureSlot slot, int node)
    {
        var lookups = graph.Needed([node]).Where(i => graph[i].Op == ShadeOp.Image).Select(i => graph[i].Image!).ToList();
        if (lookups.Any(l => l.Placement.Variation is not null))
            return $"{profile.Title} cannot vary tiles, so all its repeats are baked as they lie";
        if (lookups.Any(l => !PlacementTerms.CanSay(profile.Placement!, l.Placement)))
            return $"{profile.Title} scales before it turns, so this rotated and unequally repeated placement is baked in";
        if (graph[node].Type == ShadeType.Direction)
            return profile.Normals.Y == NormalY.Up && lookups.Any(l => l.Reading.NormalY == NormalY.Down)
                ? "turned from Y down to Y up"
                : "directions decoded, turned and stored as the dialect reads them";
        return slot.Channels.Count > 1
            ? "packed into the channels the dialect reads"
            : "steps applied, because the dialect has no nodes for them";
    }
}
