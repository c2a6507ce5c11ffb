using Kiln.Dialects.Networks;

namespace Kiln.Server.Looks.Bench;

/// <summary>A port as the dialect's document holds it: a value, or the node it comes from.</summary>
public sealed record ShownPort(string Name, string Type, string? Value, string? From, string? Space);

public sealed record ShownNode(string Name, string Category, string Type, IReadOnlyList<ShownPort> Ports, bool IsSurface);

/// <summary>A generated network to look at, with the document that is written.</summary>
/// <param name="Text">The document's own text; null where it is binary.</param>
public sealed record ShownNetwork(string Dialect, string Material, string WorkingSpace, IReadOnlyList<ShownNode> Nodes, string? Text)
{
    public static ShownNetwork Of(Network network, string? text) =>
        new(
            network.Dialect,
            network.Material,
            network.WorkingSpace,
            [
                .. network.Nodes.Select(n => new ShownNode(
                    n.Name,
                    n.Category,
                    n.Type,
                    [.. n.Ports.Select(p => new ShownPort(p.Name, p.Type, p.Value, p.Node, p.Space))],
                    n == network.Surface
                )),
            ],
            text
        );
}
