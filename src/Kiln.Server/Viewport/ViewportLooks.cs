using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Moving;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Materials;
using Kiln.Scattering;
using Kiln.Server.Looks;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Viewport;
using Kiln.Viewport.Graphs;
using Kiln.Viewport.Surfaces;

namespace Kiln.Server.Viewport;

/// <summary>One picture of a look's maps, as a layer of an array: which content, read how.</summary>
public sealed record ViewportLayer(ContentHash Content, string Name, string Kind, string Space, string Channel, int Width, int Height);

/// <summary>Maps of one size, which lie in one texture.</summary>
/// <param name="Components">1 or 3.</param>
/// <param name="IsPrecise">Whether halves are too coarse for them.</param>
public sealed record ViewportMaps(int Width, int Height, int Components, bool IsPrecise, IReadOnlyList<ViewportLayer> Layers);

/// <summary>A look as the viewport draws it.</summary>
/// <param name="Structure">The same for the same text.</param>
/// <param name="Source">The shader; null where the asker has the text of this structure.</param>
/// <param name="Numbers">Four a row.</param>
/// <param name="FromXyz">Nine, column by column.</param>
/// <param name="Distribution">Whose albedo tables it reads.</param>
/// <param name="Moved">The same for the same movement of the surface; null where it is not moved.</param>
/// <param name="Parameters">Numbers that may be changed by name, without asking.</param>
/// <param name="LongestMap">Limits the longer side of its maps.</param>
/// <param name="Luminance">What each primary of the working space gives to luminance.</param>
public sealed record ViewportLook(
    string Structure,
    string? Source,
    IReadOnlyList<float> Numbers,
    IReadOnlyList<float> FromXyz,
    string Distribution,
    bool IsOpaque,
    bool LetsLightIn,
    string Working,
    IReadOnlyList<float> Luminance,
    string? Moved,
    int LongestMap,
    IReadOnlyList<ViewportMaps> Maps,
    IReadOnlyList<ShaderParameter> Parameters
);

/// <summary>Looks as shaders, kept by document like networks and surfaces.</summary>
public sealed class ViewportLooks(LookViews views, LookCompilation compilation, MapTextures textures, ThumbnailCache kept)
{
    /// <summary>Longest side of maps on the viewer's graphics processor: as large as a picture of the bench can show.</summary>
    public const int LongestMap = 1024;

    /// <summary>What the maps of a look may take of the memory of a graphics processor; more of them are drawn smaller.</summary>
    public const long MapBytes = 256L << 20;

    /// <summary>Longest side of what stands in for a map until it is there.</summary>
    public const int SmallMap = 64;

    public async Task<ViewportLook> OfAsync(ViewportQuery query, CancellationToken cancel)
    {
        var (look, seen) = await views.SeenAsync(query.Id, query.Variant, query.At);
        var viewed = seen(look);
        var surface = await SurfaceAsync(query, viewed);
        var plan = Plan(surface);
        var shader = LookShader.Of(surface.Graph, surface.Nodes, surface.Model, plan);
        // A shader that stays the same whatever its numbers become, though they may be such as leave a part out now.
        if (Moved(query, look) is { Count: > 0 } moving && await Followed(query, seen).WholeAsync(look, moving) is { } whole)
            if (whole.Structure != shader.Structure)
                shader = whole;
        var moved = surface.Shift is { } shift ? (await shift.LoadAsync(textures, LongestMap, cancel)).Key : null;
        return Described(shader, viewed.Working, plan) with
        {
            Source = query.Have == shader.Structure ? null : shader.Source,
            Moved = moved is null ? null : ContentHash.Of(System.Text.Encoding.UTF8.GetBytes(moved)).ToString(),
        };
    }

    /// <summary>A look on a part of a model, where the surface stays where it is.</summary>
    /// <param name="longest">Limits the longer side of its maps.</param>
    /// <param name="bytes">What its maps may take of the memory of a graphics processor.</param>
    public async Task<ViewportLook> OnPartAsync(Look look, WorkingSpace working, int longest, long bytes)
    {
        var surface = await compilation.SurfaceAsync(look, null, working, longest);
        var plan = MapPlan.Within(surface.Graph, surface.Nodes.Values, longest, bytes);
        return Described(LookShader.Of(surface.Graph, surface.Nodes, surface.Model, plan), working, plan);
    }

    private static ViewportLook Described(LookShader shader, WorkingSpace working, MapPlan plan) =>
        new(
            shader.Structure,
            shader.Source,
            [.. shader.Numbers.SelectMany(n => new[] { n.X, n.Y, n.Z, n.W })],
            SurfaceText.Matrix(shader.Model),
            shader.Model.Distribution == Distribution.Beckmann ? "beckmann" : "ggx",
            shader.IsOpaque,
            shader.LetsLightIn,
            working.Id,
            ViewportShape.Numbers(working.LuminanceWeights),
            null,
            plan.Longest ?? LongestMap,
            [.. shader.Maps.Select(Described)],
            shader.Parameters
        );

    private static MapPlan Plan(SurfaceGraph surface) => MapPlan.Within(surface.Graph, surface.Nodes.Values, LongestMap, MapBytes);

    /// <summary>Numbers that are about to be changed and have no name in the shader; none of a lane that is looked at alone.</summary>
    private static List<LookNumber> Moved(ViewportQuery query, Look look) =>
        query.SoloLane is not null
            ? []
            : [.. (query.Live ?? []).SelectMany(address => LookNumbers.At(look, address)).Where(n => !IsNamed(query, n))];

    /// <summary>Values and single fields of steps stay numbers of the shader, where nothing lies between the two.</summary>
    private static bool IsNamed(ViewportQuery query, LookNumber number) =>
        query is { Dialect: null, Variant: null } && !LiesOnSurface(number);

    /// <summary>Whether it says where maps lie.</summary>
    private static bool LiesOnSurface(LookNumber number) =>
        number.Name.Contains('.')
        || number.Name.StartsWith(LookNumbers.Placement + "#", StringComparison.Ordinal)
        || number.Name.StartsWith(LookNumbers.Size + "#", StringComparison.Ordinal);

    /// <summary>The shader of a look that is only tried out; null where it needs a baked file.</summary>
    private async Task<LookShader?> TriedAsync(ViewportQuery query, ViewedLook viewed)
    {
        try
        {
            var surface = await compilation.TriedSurfaceAsync(viewed.Look, query.Dialect, viewed.Working, LongestMap, Named(query, viewed));
            return LookShader.Of(surface.Graph, surface.Nodes, surface.Model, Plan(surface));
        }
        catch (LookException)
        {
            return null;
        }
    }

    /// <summary>How the shader follows numbers that are about to be changed; none where it needs baked files.</summary>
    public async Task<IReadOnlyList<FollowedNumber>> FollowedAsync(ViewportQuery query)
    {
        var (look, seen) = await views.SeenAsync(query.Id, query.Variant, query.At);
        var moved = Moved(query, look);
        // Where maps move the surface itself, the form has to be made anew.
        if ((await SurfaceAsync(query, seen(look))).Shift is not null)
            moved.RemoveAll(n => LiesOnSurface(n));
        return moved.Count == 0 ? [] : await Followed(query, seen).OfAsync(look, moved);
    }

    private Following Followed(ViewportQuery query, Func<Look, ViewedLook> seen) => new(tried => TriedAsync(query, seen(tried)));

    /// <summary>How the look moves its surface; null where it does not.</summary>
    public async Task<SurfaceDisplacement?> MovementAsync(ViewportQuery query, CancellationToken cancel)
    {
        var surface = await SurfaceAsync(query, await views.OfAsync(query.Id, query.Variant, query.At));
        return surface.Shift is { } shift ? await shift.LoadAsync(textures, LongestMap, cancel) : null;
    }

    private async Task<SurfaceGraph> SurfaceAsync(ViewportQuery query, ViewedLook viewed) =>
        query.SoloLane is { } lane
            ? LookViews.SoloSurface(viewed, LaneAddress.Parse(lane), query.SoloSteps)
            : await compilation.SurfaceAsync(viewed.Look, query.Dialect, viewed.Working, LongestMap, Named(query, viewed));

    private static LiveValues? Named(ViewportQuery query, ViewedLook viewed) =>
        query is { Dialect: null, Variant: null, Live: { Length: > 0 } live } ? LiveValues.Of(viewed.Look, live) : null;

    private static ViewportMaps Described(MapArray array) =>
        new(
            array.Width,
            array.Height,
            array.Components,
            array.IsPrecise,
            [
                .. array.Layers.Select(l => new ViewportLayer(
                    l.File.Content,
                    l.File.Name,
                    l.Reading.Kind.ToString(),
                    l.Reading.Space.ToString(),
                    l.Reading.Channel.Word(),
                    l.File.Width,
                    l.File.Height
                )),
            ]
        );

    /// <summary>Makes what stands in for a look's maps, so that the first who opens it sees it at once.</summary>
    public async Task PrepareAsync(LookId id, CancellationToken cancel)
    {
        var look = await OfAsync(new(id, null, null, null, null, null, null), cancel);
        foreach (var array in look.Maps)
        foreach (var l in array.Layers)
            await LayerAsync(
                new(l.Content, l.Kind, l.Space, l.Channel, l.Width, l.Height, look.Working, array.IsPrecise, l.Name, SmallMap),
                cancel
            );
    }

    /// <summary>
    /// The numbers of one layer: halves, or floats where those are too coarse. Small ones are kept on disk: they stand in until the others
    /// are there.
    /// </summary>
    public async Task<byte[]> LayerAsync(LayerQuery query, CancellationToken cancel)
    {
        if (query.Side is { } side && side <= SmallMap)
            return await kept.GetAsync(
                $"viewport/{query.Content}/{query.Kind}/{query.Space}/{query.Channel}/{query.Working}/{query.Precise}/{side}",
                () => NumbersAsync(query, side, cancel)
            );
        return await NumbersAsync(query, Math.Clamp(query.Side ?? LongestMap, 1, LongestMap), cancel);
    }

    private async Task<byte[]> NumbersAsync(LayerQuery query, int side, CancellationToken cancel)
    {
        var file = new MapFile(query.Content, query.Name ?? "a map", query.Width, query.Height, 8, false, "", [], null);
        var lookup = new ImageLookup(file, query.Reading(), Placement.Identity);
        var texture = await textures.GetAsync(lookup, WorkingSpace.Find(query.Working), LongestMap, cancel);
        var whole = new MapPlan(LongestMap).Size(query.Width, query.Height);
        var (width, height) = new MapPlan(side).Size(whole.Width, whole.Height);
        return query.Precise ? MapTexels.Floats(texture, width, height) : MapTexels.Halves(texture, width, height);
    }
}
