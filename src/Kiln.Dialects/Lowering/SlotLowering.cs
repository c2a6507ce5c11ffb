using System.Collections.Concurrent;
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

/// <summary>
/// Lowers to a dialect whose textures have fixed places and channels: files that already fit go through untouched, all else is packed.
/// </summary>
internal sealed class SlotLowering(DialectProfile profile, Bakery bakery, ShadeGraph graph, string material)
{
    /// <summary>Sheets in memory at a time, however many processors there are.</summary>
    private const int MostAtOnce = 4;

    private readonly NetworkBuilder network = new(material, profile.Textures);

    /// <summary>A channel, or several, of a slot: the dialect's input they hold, and what gives it.</summary>
    private readonly record struct SlotPart(string Channels, string Input, int Node);

    /// <summary>A slot that gets a file.</summary>
    /// <param name="Through">The stored file that can stand there as it is; null where one is made.</param>
    private sealed record FilledSlot(TextureSlot Slot, List<SlotPart> Parts, (ImageLookup Image, float Strength)? Through);

    public async Task<Lowered> LowerAsync(Dictionary<string, int?> mapped, List<ReportLine> baked, CancellationToken cancel)
    {
        var ports = new List<NetworkPort>();
        var filled = profile.Slots.Select(s => Filled(s, mapped)).OfType<FilledSlot>().ToList();
        var sheets = await SheetsAsync(filled.Where(f => f.Through is null), cancel);
        foreach (var (slot, parts, through) in filled)
        {
            string node;
            if (through is { } lookup)
            {
                node = Texture(slot, lookup.Image.File, lookup.Image.Placement, false, parts.Select(p => p.Channels), lookup.Strength);
            }
            else
            {
                var map = sheets[slot.Name];
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
        ports.AddRange(Values(mapped));
        network.Add("surface", profile.Surface, "surfaceshader", ports);
        return new([.. network.Nodes], [.. network.Textures]);
    }

    /// <summary>What a slot holds; null where no map feeds it.</summary>
    private FilledSlot? Filled(TextureSlot slot, Dictionary<string, int?> mapped)
    {
        SlotPart Part(KeyValuePair<string, string> channel) => new(channel.Key, channel.Value, mapped[channel.Value]!.Value);
        bool IsConstant(KeyValuePair<string, string> channel) => mapped.GetValueOrDefault(channel.Value) is { } n && graph.IsConstant(n);
        bool IsMap(KeyValuePair<string, string> channel) => mapped.GetValueOrDefault(channel.Value) is { } n && !graph.IsConstant(n);
        var parts = slot.Channels.Where(IsMap).Select(Part).ToList();
        if (parts.Count == 0)
            return null;
        // A plain value that no factor can say goes into the sheet beside the maps.
        if (slot.Channels.Count > 1)
            parts.AddRange(slot.Channels.Where(c => slot.Factors?.ContainsKey(c.Value) != true && IsConstant(c)).Select(Part));
        return new(slot, parts, PassesUnchanged(slot, [.. parts.Select(p => (p.Channels, p.Node))], mapped));
    }

    /// <summary>Sheets are made side by side: writing one takes one processor, and they are few at a time.</summary>
    private async Task<Dictionary<string, BakedMap>> SheetsAsync(IEnumerable<FilledSlot> filled, CancellationToken cancel)
    {
        var made = new ConcurrentDictionary<string, BakedMap>();
        await Parallel.ForEachAsync(
            filled,
            new ParallelOptions
            {
                MaxDegreeOfParallelism = Math.Clamp(Environment.ProcessorCount, 1, MostAtOnce),
                CancellationToken = cancel,
            },
            async (f, stop) =>
                made[f.Slot.Name] = await bakery.BakeAsync(
                    graph,
                    [.. f.Parts.Select(p => new BakePart(p.Channels, p.Node))],
                    new(
                        $"{material}_{f.Slot.Name}",
                        ColourSpace.Find(f.Slot.Space),
                        profile.Textures,
                        p => PlacementTerms.CanSay(profile.Placement!, p),
                        profile.Normals.Y == NormalY.Down
                    ),
                    stop
                )
        );
        return new(made);
    }

    /// <summary>Inputs that are plain values, and the factors beside slots.</summary>
    private IEnumerable<NetworkPort> Values(Dictionary<string, int?> mapped)
    {
        foreach (var input in profile.Inputs)
        {
            if (mapped.GetValueOrDefault(input.Name) is not { } value)
                continue;
            var slot = profile.Slots.FirstOrDefault(s => s.Channels.ContainsValue(input.Name));
            var port = slot?.Factors?.GetValueOrDefault(input.Name) ?? (slot is null ? input.Name : null);
            var isConstant = graph.IsConstant(value);
            if (port is not null && (isConstant || slot is not null && input.TakesMaps))
                yield return new(port, input.Type, Text(isConstant ? graph.ValueOf(value) : Vector3.One, input, isConstant));
        }
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
                    reading.Channel.Word() == channels
                    || channels == "rg" && reading.Channel == MapChannel.Rgb
                    || reading.Channel == MapChannel.Luminance
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
