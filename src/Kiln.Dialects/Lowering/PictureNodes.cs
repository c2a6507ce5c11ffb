using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Lowering;

/// <summary>The nodes by which a dialect reads picture files: which it can read as they are, in which space, and where they lie.</summary>
internal sealed class PictureNodes(DialectProfile profile, NetworkBuilder network, WorkingSpace working, CompileOptions options)
{
    /// <summary>Whether the dialect can be told to read the file as the reading says.</summary>
    public bool Fits(ImageLookup lookup)
    {
        var (file, reading) = (lookup.File, lookup.Reading);
        var spaceFits = reading.Kind != ReadingKind.Colour || reading.Space.IsRaw || Spaces?.Contains(reading.Space.Text) != false;
        var dataAsColour = reading.Kind != ReadingKind.Colour && !reading.Space.IsRaw;
        return profile.Textures.Reads(file, reading.Kind == ReadingKind.Colour)
            && spaceFits
            && !dataAsColour
            && lookup.Placement.Variation is null
            && reading is not { Kind: ReadingKind.Direction, Channel: MapChannel.Rg }
            && PlacementTerms.CanSay(profile.Placement!, lookup.Placement);
    }

    private IEnumerable<string>? Spaces =>
        profile.Image is { Readings: ReadingStyle.Named, Spaces: { } named } ? named.Keys : profile.Textures.ColourSpaces;

    /// <summary>Whether the channel asked for is the one that the dialect takes a number from when nothing is said.</summary>
    public bool ReadByThemselves(MapFile file, MapChannel channel)
    {
        var own = profile.Textures.GreyChannel(file);
        return own == channel
            || own != MapChannel.A
                && channel != MapChannel.A
                && channel is MapChannel.R or MapChannel.Luminance
                && own is MapChannel.R or MapChannel.Luminance
                && (file.Channels.Count <= 2 || file.EqualChannels);
    }

    /// <returns>The name of the node that reads the file there.</returns>
    public string Add(
        MapFile file,
        string type,
        SpaceId? space,
        Placement placement,
        bool isBaked,
        ShadeType kind = ShadeType.Scalar,
        AffinePicture? affine = null
    )
    {
        var rule = profile.Image!;
        var byAttribute = rule.Readings == ReadingStyle.MaterialX;
        var ports = new List<NetworkPort>
        {
            new(rule.FilePort, "filename", network.Texture(file, isBaked), Space: byAttribute ? space?.Text : null),
        };
        if (rule.SpacePort is { } spacePort)
            ports.Add(
                new(
                    spacePort,
                    rule.SpaceType,
                    rule.Readings == ReadingStyle.Named
                        ? rule.Spaces![(space ?? ColourSpace.Raw.Id).Text]
                        : options.NameOf(space ?? ColourSpace.Raw.Id)
                )
            );
        if (rule.KindPort is { } kindPort)
            ports.Add(
                new(
                    kindPort,
                    "string",
                    rule.Kinds![
                        kind switch
                        {
                            ShadeType.Colour => "colour",
                            ShadeType.Direction => "direction",
                            _ => "scalar",
                        }
                    ]
                )
            );
        if (affine is { } a && (a.Scale != Vector3.One || a.Bias != Vector3.Zero))
        {
            // A number may be taken from alpha too.
            var alpha = kind == ShadeType.Scalar ? (a.Scale.X, a.Bias.X) : (1f, 0f);
            ports.Add(new(rule.ScalePort!, "color4", $"{NetworkBuilder.Text(a.Scale)}, {NetworkBuilder.Text(alpha.Item1)}"));
            ports.Add(new(rule.BiasPort!, "color4", $"{NetworkBuilder.Text(a.Bias)}, {NetworkBuilder.Text(alpha.Item2)}"));
        }
        ports.AddRange((rule.Fixed ?? []).Select(f => new NetworkPort(f.Key, "string", f.Value)));
        if (profile.Placement is { Node: null })
            ports.AddRange(PlacementPorts(placement));
        else if (Placed(placement) is { } place)
            ports.Add(new(rule.TexcoordPort, "vector2", Node: place));
        else if (!profile.Placement!.UsualCoordinates && Surface() is { } coordinates)
            ports.Add(new(rule.TexcoordPort, "vector2", Node: coordinates));
        return network.Add(Path.GetFileNameWithoutExtension(file.Name), rule.Node, type, ports);
    }

    private string? Surface() => profile.Placement!.TexcoordNode is { } node ? network.Add("coordinates", node, "vector2", []) : null;

    private IEnumerable<NetworkPort> PlacementPorts(Placement placement)
    {
        if (placement.IsIdentity)
            return [];
        var rule = profile.Placement!;
        if (rule.OrderPort is { } order && !PlacementTerms.InOwnOrder(rule, placement))
        {
            var first = PlacementTerms.Of(rule.ScaledFirst(), placement);
            return
            [
                new(rule.ScalePort, "vector2", $"{NetworkBuilder.Text(first.ScaleU)}, {NetworkBuilder.Text(first.ScaleV)}"),
                new(rule.RotatePort, "float", NetworkBuilder.Text(first.Angle)),
                new(rule.ShiftPort, "vector2", $"{NetworkBuilder.Text(-first.ShiftU)}, {NetworkBuilder.Text(-first.ShiftV)}"),
                .. (rule.Fixed ?? []).Select(f => new NetworkPort(f.Key, "integer", f.Key == order ? "0" : f.Value)),
            ];
        }
        var terms = PlacementTerms.Of(rule, placement);
        return
        [
            new(rule.ScalePort, "vector2", $"{NetworkBuilder.Text(terms.ScaleU)}, {NetworkBuilder.Text(terms.ScaleV)}"),
            new(rule.RotatePort, "float", NetworkBuilder.Text(terms.Angle)),
            new(rule.ShiftPort, "vector2", $"{NetworkBuilder.Text(terms.ShiftU)}, {NetworkBuilder.Text(terms.ShiftV)}"),
            .. (rule.Fixed ?? []).Select(f => new NetworkPort(f.Key, "integer", f.Value)),
        ];
    }

    private string? Placed(Placement placement)
    {
        if (placement.IsIdentity)
            return null;
        var rule = profile.Placement!;
        var ports = PlacementPorts(placement).ToList();
        if (Surface() is { } coordinates)
            ports.Insert(0, new(rule.TexcoordPort, "vector2", Node: coordinates));
        return network.Add("place", rule.Node!, "vector2", ports);
    }

    /// <summary>Whether a file can hold the working space's own numbers, above 1 and finer than 8 bits.</summary>
    public bool HoldWorkingSpace =>
        (profile.Textures.ColourFormats ?? profile.Textures.Formats).Contains("openexr")
        && profile.Textures.ColourSpaces?.Contains(working.Id) != false;

    /// <summary>Why a file has to be baked that the dialect cannot be told to read as it should be.</summary>
    public string WhyNot(ImageLookup lookup)
    {
        var (file, reading) = (lookup.File, lookup.Reading);
        return !profile.Textures.Reads(file, reading.Kind == ReadingKind.Colour)
                ? $"{profile.Title} does not read {file.Name} ({file.Format}, {file.Width} x {file.Height})"
            : reading.Kind == ReadingKind.Colour && Spaces?.Contains(reading.Space.Text) == false
                ? $"{profile.Title} cannot be told that {file.Name} is in {ColourSpace.Find(reading.Space).Label}"
            : reading.Kind == ReadingKind.Scalar
                ? $"{profile.Title} takes a number from another channel of {file.Name} than {reading.Channel.Word()}"
            : $"{profile.Title} cannot read {file.Name} as it is";
    }
}
