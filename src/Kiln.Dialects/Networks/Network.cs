using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;

namespace Kiln.Dialects.Networks;

/// <summary>
/// A setting or connection of a node, in the dialect's own terms. Exactly one of Value and Node is set. Type is a MaterialX type name.
/// </summary>
/// <param name="Space">The colour space as the dialect writes it on this port, or null.</param>
/// <param name="Output">Which output of the node, where it has several.</param>
public sealed record NetworkPort(
    string Name,
    string Type,
    string? Value = null,
    string? Node = null,
    string? Space = null,
    string? Output = null
);

/// <summary>A node as the dialect's document will hold it.</summary>
public sealed record NetworkNode(string Name, string Category, string Type, ImmutableArray<NetworkPort> Ports)
{
    public NetworkPort? Port(string name) => Ports.FirstOrDefault(p => p.Name == name);

    public bool Equals(NetworkNode? other) =>
        other is not null && Name == other.Name && Category == other.Category && Type == other.Type && Ports.SequenceEqual(other.Ports);

    public override int GetHashCode() => HashCode.Combine(Name, Category);
}

/// <summary>A file the network reads: its path as written (relative, / separated) and its content.</summary>
/// <param name="Baked">Whether the file was made for this dialect rather than brought in.</param>
public sealed record NetworkTexture(string Path, MapFile File, bool Baked)
{
    /// <summary>Stands for a tile's number in paths of dialects that have no token of their own.</summary>
    public const string TilePlace = "<UDIM>";
}

/// <summary>What a look becomes in one dialect. Nodes stand in an order in which inputs come first; the last one is the surface.</summary>
public sealed record Network(
    string Dialect,
    string Material,
    string WorkingSpace,
    ImmutableArray<NetworkNode> Nodes,
    ImmutableArray<NetworkTexture> Textures
)
{
    public NetworkNode Surface => Nodes[^1];

    /// <summary>The node that moves the surface; null where there is none of its own.</summary>
    public NetworkNode? Displacement => Nodes.FirstOrDefault(n => n.Type == DisplacementType);

    /// <summary>The type of a node that moves the surface.</summary>
    public const string DisplacementType = "displacementshader";

    public NetworkNode Node(string name) => Nodes.First(n => n.Name == name);

    public bool IsTiled => Textures.Any(t => t.File.IsTiled);

    /// <summary>The tiles that every map has, and those that some have and others lack.</summary>
    public (IReadOnlyList<int> Whole, IReadOnlyList<int> Partly) TilesToSplit()
    {
        var tiled = Textures.Where(t => t.File.IsTiled).Select(t => t.File.Tiles!.Select(x => x.Number).ToHashSet()).ToList();
        var all = tiled.SelectMany(t => t).Distinct().Order().ToList();
        var whole = all.Where(n => tiled.All(t => t.Contains(n))).ToList();
        return (whole, [.. all.Except(whole)]);
    }

    /// <summary>The network of one tile by itself: its material and its textures carry the tile's number.</summary>
    public Network OnTile(int number) =>
        WithPaths(path => MapTile.Named(path, number), file => file.OnTile(number)!) with
        {
            Material = $"{Material}_{number}",
        };

    /// <summary>The same with other names for its nodes, connections included.</summary>
    /// <param name="name">Gives no two nodes of the network the same.</param>
    public Network WithNodeNames(Func<string, string> name)
    {
        var names = Nodes.ToDictionary(n => n.Name, n => name(n.Name));
        return this with
        {
            Nodes =
            [
                .. Nodes.Select(n =>
                    n with
                    {
                        Name = names[n.Name],
                        Ports = [.. n.Ports.Select(p => p.Node is { } node ? p with { Node = names[node] } : p)],
                    }
                ),
            ],
        };
    }

    /// <summary>The same with its files elsewhere, or others in their places.</summary>
    public Network WithPaths(Func<string, string> path, Func<MapFile, MapFile>? file = null) =>
        this with
        {
            Nodes =
            [
                .. Nodes.Select(n =>
                    n with
                    {
                        Ports = [.. n.Ports.Select(p => p.Type == "filename" && p.Value is { } value ? p with { Value = path(value) } : p)],
                    }
                ),
            ],
            Textures = [.. Textures.Select(t => t with { Path = path(t.Path), File = file is null ? t.File : file(t.File) })],
        };
}

/// <summary>One line of a conversion report.</summary>
public sealed record ReportLine(string Input, string? DialectInput, string Note);

/// <summary>What happened to every input: exact, approximated, baked or lost.</summary>
public sealed record ConversionReport(
    ImmutableArray<ReportLine> Exact,
    ImmutableArray<ReportLine> Approximated,
    ImmutableArray<ReportLine> Baked,
    ImmutableArray<ReportLine> Lost
);

/// <summary>A dialect input as the command line tells it.</summary>
public sealed record InputSummary(string Input, string? Texture, string? Value, string? Space, ImmutableArray<string> Steps);

public sealed record CompiledLook(Network Network, ConversionReport Report, ImmutableArray<InputSummary> Inputs);
