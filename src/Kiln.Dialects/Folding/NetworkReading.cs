using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Execution;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Pixels;

namespace Kiln.Dialects.Folding;

/// <summary>
/// Reads a network of a dialect into a neutral look: executed as the dialect would, through the profile's way back, folded into lanes.
/// </summary>
public static class NetworkReading
{
    private static readonly Dictionary<string, MapRole> Roles = new()
    {
        ["base_color"] = MapRole.BaseColor,
        ["base_metalness"] = MapRole.Metalness,
        ["specular_roughness"] = MapRole.Roughness,
        ["specular_color"] = MapRole.SpecularColor,
        ["specular_weight"] = MapRole.SpecularLevel,
        ["geometry_normal"] = MapRole.Normal,
        ["geometry_coat_normal"] = MapRole.Normal,
        ["geometry_opacity"] = MapRole.Opacity,
        ["occlusion"] = MapRole.AmbientOcclusion,
        ["displacement"] = MapRole.Height,
        ["geometry_tangent"] = MapRole.Anisotropy,
        ["geometry_coat_tangent"] = MapRole.Anisotropy,
        ["emission_color"] = MapRole.Emission,
        ["transmission_weight"] = MapRole.Transmission,
        ["subsurface_weight"] = MapRole.Subsurface,
        ["fuzz_weight"] = MapRole.Fuzz,
        ["coat_weight"] = MapRole.Coat,
        ["coat_roughness"] = MapRole.CoatRoughness,
        ["specular_roughness_anisotropy"] = MapRole.Anisotropy,
    };

    private static WorkingSpace WorkingOf(Network network) =>
        WorkingSpace.All.FirstOrDefault(w => w.Id == network.WorkingSpace)
        ?? throw new ProfileException($"The document's colours are in '{network.WorkingSpace}', which is no space to work in.");

    /// <param name="spaceOf">From a space name as written to one of ours.</param>
    /// <exception cref="ProfileException">The profile has no way back, or the network holds what is no value. Nodes that the profile does
    /// not know become remarks.</exception>
    /// <param name="bakery">Makes pictures of what no steps say; null leaves such maps out. Either way there is a remark.</param>
    public static async Task<Look> ReadAsync(
        DialectProfile profile,
        Network network,
        Func<string, SpaceId>? spaceOf = null,
        Bakery? bakery = null,
        CancellationToken cancel = default
    )
    {
        try
        {
            return await ReadWholeAsync(profile, network, spaceOf, bakery, cancel);
        }
        catch (Exception e)
            when (e
                    is FormatException
                        or OverflowException
                        or ArgumentException
                        or InvalidOperationException
                        or IndexOutOfRangeException
                        or KeyNotFoundException
                && e is not OperationCanceledException
            )
        {
            // Words of a document where numbers belong, or nodes without what their kind has to have: the document's fault, whichever node
            // it was.
            throw new ProfileException($"The network of '{network.Material}' is damaged: {e.Message.ReplaceLineEndings(" ")}");
        }
    }

    private static async Task<Look> ReadWholeAsync(
        DialectProfile profile,
        Network network,
        Func<string, SpaceId>? spaceOf,
        Bakery? bakery,
        CancellationToken cancel
    )
    {
        if (profile.BackFormulas.Count == 0)
            throw new ProfileException($"The profile '{profile.Id}' says nothing of how its networks are read back.");
        var graph = new ShadeGraph(WorkingOf(network));
        var remarks = new List<string>();
        var execution = new NetworkExecution(profile, network, graph, spaceOf, remarks);
        var folding = new LaneFolding(graph);
        var lanes = ImmutableSortedDictionary<string, Lane>.Empty;
        var displacement = new Dictionary<string, float>();
        foreach (var (name, formula) in profile.BackFormulas)
        {
            if (DisplacementSettings.Exists(name))
            {
                if (ExpressionGraph.Build(formula, graph, execution.Input) is { } number && graph.IsConstant(number))
                    displacement[name] = graph.ValueOf(number).X;
                continue;
            }
            var input = NeutralInputs.Find(name);
            if (ExpressionGraph.Build(formula, graph, execution.Input) is not { } found)
                continue;
            var (node, type) = Fed(graph, found, input);
            if (graph.IsConstant(node) && IsUsual(graph, node, input))
                continue;
            var most = input.IsScalar ? MathF.Max(1, input.High) : 1;
            Func<int, Task<(MapFile, Reading, Placement, float)>>? bake = bakery is null
                ? null
                : n => BakedAsync(graph, n, $"{network.Material}_{name}", most, bakery, cancel);
            try
            {
                var role = Roles.GetValueOrDefault(name, MapRole.IdMask);
                lanes = lanes.SetItem(name, await folding.LaneAsync(node, type, role, name, bake));
            }
            catch (KilnException e) when (e is PictureException or ContentMissingException)
            {
                remarks.Add(
                    $"{LaneAddress.InWords(name)} is left as it usually is: a picture had to be made for it, and {Gone(graph, node)} "
                        + "is not there."
                );
            }
        }
        remarks.AddRange(profile.Unread.Where(r => IsSaid(r, graph, execution)).Select(r => r.Note));
        return Shared(
            new Look
            {
                Name = NameOf(profile, network.Material),
                Lanes = lanes,
                Slots = folding.Slots,
                Displacement = DisplacementSettings.With(new(), displacement),
                Remarks = [.. folding.Remarks, .. remarks],
            }
        );
    }

    /// <summary>What feeds an input, as the type that the input has; a map of turns is a lane of numbers.</summary>
    private static (int Node, ShadeType Type) Fed(ShadeGraph graph, int found, NeutralInput input)
    {
        var type =
            input.IsColour ? ShadeType.Colour
            : input.IsDirection ? ShadeType.Direction
            : ShadeType.Scalar;
        var node = graph.As(found, type);
        return graph[node].Op == ShadeOp.Heading ? (graph[node].Inputs[0], ShadeType.Scalar) : (node, type);
    }

    private static bool IsSaid(LossRule rule, ShadeGraph graph, NetworkExecution execution)
    {
        if (rule.Condition is not { } condition)
            return true;
        var value = graph.As(ExpressionGraph.Build(condition, graph, execution.Input)!.Value, ShadeType.Scalar);
        return !graph.IsConstant(value) || graph.ValueOf(value).X > 0;
    }

    private static string Gone(ShadeGraph graph, int node) =>
        string.Join(
            ", ",
            graph.Needed([node]).Where(n => graph[n].Image is not null).Select(n => $"'{graph[n].Image!.File.Name}'").Distinct()
        );

    /// <summary>The material's name without what the dialect's template puts around it.</summary>
    private static string NameOf(DialectProfile profile, string material)
    {
        var around = profile.Names.Material.Split("{name}");
        if (
            around.Length == 2
            && material.Length > around[0].Length + around[1].Length
            && material.StartsWith(around[0], StringComparison.Ordinal)
            && material.EndsWith(around[1], StringComparison.Ordinal)
        )
            material = material[around[0].Length..^around[1].Length];
        return material.Replace('_', ' ');
    }

    private static readonly TextureRule Anything = new(["png", "openexr"]);

    /// <param name="range">A number up to which it goes; a picture of data holds 0 to 1.</param>
    private static async Task<(MapFile, Reading, Placement, float)> BakedAsync(
        ShadeGraph graph,
        int node,
        string name,
        float range,
        Bakery bakery,
        CancellationToken cancel
    )
    {
        var type = graph[node].Type;
        if (range != 1)
            node = graph.Add(ShadeOp.Multiply, node, graph.Constant(1 / range));
        var space = type == ShadeType.Colour ? graph.Working.Space : ColourSpace.Raw;
        var map = await bakery.BakeAsync(
            graph,
            [new(type == ShadeType.Scalar ? "y" : "rgb", node)],
            new(name, space, Anything, _ => true, GreenDown: false),
            cancel
        );
        var reading = type switch
        {
            ShadeType.Colour => new Reading(ReadingKind.Colour, space.Id, MapChannel.Rgb),
            ShadeType.Direction => new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up),
            _ => new Reading(ReadingKind.Scalar, "raw", MapChannel.Luminance),
        };
        return (map.File, reading, map.Placement, range);
    }

    private static bool IsUsual(ShadeGraph graph, int node, NeutralInput input)
    {
        if (input.Default is not { } d)
            return !input.IsTangent || Vector3.Distance(graph.ValueOf(node), Vector3.UnitX) < 1e-6f;
        var usual = input.IsColour
            ? ColourTransform.Between(ColourSpace.AcesCg, graph.Working.Space).Apply(new Vector3(d[0], d[1], d[2]))
            : new Vector3(d[0]);
        return Vector3.Distance(usual, graph.ValueOf(node)) < 1e-6f;
    }

    /// <summary>A placement that all maps have is the look's own.</summary>
    private static Look Shared(Look look)
    {
        var chains = look.Lanes.Values.Where(l => l.Chain is not null).Select(l => l.Chain!).ToList();
        var placements = chains.Select(c => (c.Steps.FirstOrDefault() as PlaceStep)?.Placement ?? Placement.Identity).Distinct().ToList();
        if (placements is not [{ IsIdentity: false } common] || chains.Any(c => c.Steps.Skip(1).Any(s => s is MixStep)))
            return look;
        return look with
        {
            Placement = common,
            Lanes = look.Lanes.ToImmutableSortedDictionary(
                l => l.Key,
                l => l.Value.Chain is { } c ? l.Value with { Chain = c with { Steps = c.Steps.RemoveAt(0) } } : l.Value
            ),
        };
    }
}
