using System.Collections.Concurrent;
using Kiln.Colour.Configs.Files;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Configs;

/// <summary>Turns what a config states into steps: spaces through their reference, looks, views, files, directions.</summary>
internal sealed class ConfigCompiler(OpenedConfig opened, string folder)
{
    private const int Deepest = 32,
        MostSteps = 4096;

    /// <summary>
    /// How deep the way through the config has led, and how many transforms were met on it; spaces that name each other twice would double
    /// them without end.
    /// </summary>
    internal readonly record struct Trail(int Depth, System.Runtime.CompilerServices.StrongBox<int> Met)
    {
        public static Trail Begin() => new(0, new());

        public Trail Deeper() => this with { Depth = Depth + 1 };

        public void Count()
        {
            if (++Met.Value > MostSteps)
                throw new ConfigException($"more than {MostSteps} transforms would be needed");
        }
    }

    private readonly ConcurrentDictionary<string, LutFile> files = new();
    private readonly ConfigFiles places = new(opened.Config, folder);

    private OcioConfig Config => opened.Config;

    public IEnumerable<ColourOp> Between(ConfigSpace from, ConfigSpace to, Trail trail)
    {
        // Data is never converted, and spaces of one equality group are declared to be the same.
        if (from.IsData || to.IsData || from == to || from.EqualityGroup.Length > 0 && from.EqualityGroup == to.EqualityGroup)
            return [];
        var steps = ToReference(from, trail);
        if (from.IsDisplay != to.IsDisplay)
            steps = steps.Concat(SceneToDisplay(DefaultViewTransform(), from.IsDisplay, trail));
        return steps.Concat(FromReference(to, trail));
    }

    public IEnumerable<ColourOp> ToReference(ConfigSpace space, Trail trail) =>
        Directed(space.ToReference, space.FromReference, trail, $"the colour space '{space.Name}'");

    public IEnumerable<ColourOp> FromReference(ConfigSpace space, Trail trail) =>
        Directed(space.FromReference, space.ToReference, trail, $"the colour space '{space.Name}'");

    public IEnumerable<ColourOp> View(ConfigSpace from, string display, string view, Trail trail)
    {
        var shown = Config.Displays.FirstOrDefault(d => d.Name.Equals(display, StringComparison.OrdinalIgnoreCase))
            ?? throw new ConfigException(
                $"The config has no display '{display}'. It has {string.Join(", ", Config.Displays.Select(d => d.Name))}."
            );
        var v = shown.Views.FirstOrDefault(x => x.Name.Equals(view, StringComparison.OrdinalIgnoreCase))
            ?? throw new ConfigException(
                $"The display '{shown.Name}' has no view '{view}'. It has {string.Join(", ", shown.Views.Select(x => x.Name))}."
            );
        if (from.IsData)
            return [];
        var (steps, at) = Looks(from, v.Looks, trail);
        if (v.ViewTransform is not { } name)
            return steps.Concat(
                Between(
                    at,
                    opened.Known(v.Space ?? throw new ConfigException($"The view '{v.Name}' names no colour space.")),
                    trail.Deeper()
                )
            );
        var transform = Config.ViewTransforms.FirstOrDefault(t => t.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
            ?? throw new ConfigException($"The view '{v.Name}' names the view transform '{name}', which the config does not have.");
        var target = opened.Known(v.DisplaySpace ?? throw new ConfigException($"The view '{v.Name}' names no display colour space."));
        steps = steps.Concat(ToReference(at, trail.Deeper()));
        if (!at.IsDisplay)
            steps = steps.Concat(SceneToDisplay(transform, false, trail.Deeper()));
        return steps.Concat(FromReference(target, trail.Deeper()));
    }

    private ViewTransform DefaultViewTransform() =>
        Config.ViewTransforms.FirstOrDefault(v =>
            Config.DefaultViewTransform is { } name && v.Name.Equals(name, StringComparison.OrdinalIgnoreCase)
        )
        ?? Config.ViewTransforms.FirstOrDefault(v => v.FromScene is not null || v.ToScene is not null)
        ?? throw new ConfigException("a display space is asked for, but the config has no view transform from the scene to the display");

    private IEnumerable<ColourOp> SceneToDisplay(ViewTransform view, bool backwards, Trail trail) =>
        backwards
            ? Directed(view.ToScene, view.FromScene, trail, $"the view transform '{view.Name}'")
            : Directed(view.FromScene, view.ToScene, trail, $"the view transform '{view.Name}'");

    /// <summary>Looks in order, each in its process space; the space in which the colours then are.</summary>
    private (IEnumerable<ColourOp> Steps, ConfigSpace At) Looks(ConfigSpace from, string looks, Trail trail)
    {
        IEnumerable<ColourOp> steps = [];
        var at = from;
        // Of alternatives between bars the first is meant.
        foreach (var token in looks.Split('|')[0].Split([',', ':'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var (name, backwards) = token[0] is '+' or '-' ? (token[1..].Trim(), token[0] == '-') : (token, false);
            var look = Config.Looks.FirstOrDefault(l => l.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                ?? throw new ConfigException($"The look '{name}' is not in the config.");
            var process = opened.Known(look.ProcessSpace);
            steps = steps
                .Concat(Between(at, process, trail.Deeper()))
                .Concat(
                    backwards
                        ? Directed(look.InverseTransform, look.Transform, trail, $"the look '{name}'")
                        : Directed(look.Transform, look.InverseTransform, trail, $"the look '{name}'")
                );
            at = process;
        }
        return (steps, at);
    }

    private IEnumerable<ColourOp> Directed(ConfigTransform? wanted, ConfigTransform? other, Trail trail, string whose)
    {
        if (trail.Depth > Deepest)
            throw new ConfigException($"{whose} leads back to itself");
        return wanted is not null ? Steps(wanted, false, trail.Deeper())
            : other is not null ? Steps(other, true, trail.Deeper())
            : [];
    }

    private IEnumerable<ColourOp> Steps(ConfigTransform transform, bool backwards, Trail trail)
    {
        if (trail.Depth > Deepest)
            throw new ConfigException("a transform leads back to itself");
        trail.Count();
        var inverse = transform.Inverse != backwards;
        if (transform is GroupTransform group)
            return (inverse ? group.Children.Reverse() : group.Children.AsEnumerable())
                .SelectMany(c => Steps(c, inverse, trail.Deeper()))
                .ToList();
        List<ColourOp> steps;
        switch (transform)
        {
            case SpaceTransform s:
                return (
                    inverse
                        ? Between(opened.Known(s.To), opened.Known(s.From), trail.Deeper())
                        : Between(opened.Known(s.From), opened.Known(s.To), trail.Deeper())
                ).ToList();
            case LookTransform l:
                var (found, at) = Looks(opened.Known(l.From), l.Looks, trail.Deeper());
                steps = [.. found, .. Between(at, opened.Known(l.To), trail.Deeper())];
                break;
            case DisplayTransform d:
                steps = [.. View(opened.Known(d.From), d.Display, d.View, trail.Deeper())];
                break;
            case CdlTransform c when Config.Version == 1:
                steps = [.. FirstVersionCdl(c)];
                break;
            case BuiltinTransform b:
                steps = [.. Builtins.Find(b.Style)];
                break;
            case FileTransform f:
                return files.GetOrAdd(places.Find(f.Path), LutFiles.Read).Steps(f.Interpolation, inverse).ToList();
            default:
                steps = [One(transform)];
                break;
        }
        if (inverse)
            steps = [.. steps.AsEnumerable().Reverse().Select(s => s.Inverse())];
        return steps;
    }

    /// <summary>
    /// In version 1 a colour decision list is a factor and offset, a power that clamps at zero, and a matrix of saturation.
    /// </summary>
    private static IEnumerable<ColourOp> FirstVersionCdl(CdlTransform c)
    {
        yield return MatrixOp.Scale(c.Slope, c.Offset);
        if (c.Power.Any(p => p != 1))
            yield return new ExponentOp([.. c.Power, 1], NegativeStyle.Clamp);
        double[] luma = [0.2126, 0.7152, 0.0722];
        double L(int r, int k) => (1 - c.Saturation) * luma[k] + (r == k ? c.Saturation : 0);
        yield return MatrixOp.Of(new(L(0, 0), L(0, 1), L(0, 2), L(1, 0), L(1, 1), L(1, 2), L(2, 0), L(2, 1), L(2, 2)));
    }

    private ColourOp One(ConfigTransform transform) =>
        transform switch
        {
            MatrixTransform m => new MatrixOp(m.Matrix, m.Offset),
            ExponentTransform e => new ExponentOp(e.Value, Style(e.Style)),
            ExponentWithLinearTransform e => new ExponentWithLinearOp(e.Gamma, e.Offset, e.Style?.ToLowerInvariant() == "mirror"),
            LogTransform l => LogOp.Plain(l.Lead),
            LogAffineTransform l => new LogOp(
                new LogCurve(l.Lead, l.LogSlope, l.LogOffset, l.LinSlope, l.LinOffset) { LineBreak = l.Break, LineSlope = l.LineSlope }
            ),
            CdlTransform c => new CdlOp(c.Slope, c.Offset, c.Power, c.Saturation, c.Style?.ToLowerInvariant() == "asc"),
            RangeTransform r => Range(r),
            AllocationTransform a => Allocation(a),
            FixedFunctionTransform f => FixedFunctions.Find(f.Style, f.Parameters)
                ?? throw new ConfigException($"the fixed function '{f.Style}' is not supported"),
            UnknownTransform u => throw new ConfigException($"{u.Kind} in line {u.Line} is not supported"),
            _ => throw new ConfigException($"{transform.GetType().Name} is not supported"),
        };

    private static NegativeStyle Style(string? style) =>
        style?.ToLowerInvariant() switch
        {
            "mirror" => NegativeStyle.Mirror,
            "pass_thru" or "passthru" => NegativeStyle.Pass,
            _ => NegativeStyle.Clamp,
        };

    private static RangeOp Range(RangeTransform r)
    {
        if (r.LowIn is null != r.LowOut is null || r.HighIn is null != r.HighOut is null || r.LowIn is null && r.HighIn is null)
            throw new ConfigException("a range has a limit on one side only of in and out");
        if (r is { LowIn: { } a, HighIn: { } b } && b - a < 1e-6)
            throw new ConfigException("a range ends before it begins");
        return new(r.LowIn, r.HighIn, r.LowOut, r.HighOut, r.Style?.ToLowerInvariant() != "noclamp");
    }

    /// <summary>
    /// Uniform: the two variables become 0 and 1. lg2: the same after the logarithm to base 2, with an optional offset before it.
    /// </summary>
    private static ColourOp Allocation(AllocationTransform a)
    {
        double low = a.Variables.Length > 0 ? a.Variables[0] : 0,
            high = a.Variables.Length > 1 ? a.Variables[1] : 1;
        if (high == low)
            throw new ConfigException("an allocation of no width");
        double scale = 1 / (high - low),
            offset = -low / (high - low);
        return a.Kind.ToLowerInvariant() switch
        {
            "uniform" => MatrixOp.Scale([scale, scale, scale], [offset, offset, offset]),
            "lg2" => Builtins.Same(2, scale, offset, 1, a.Variables.Length > 2 ? a.Variables[2] : 0, null, null),
            var kind => throw new ConfigException($"the allocation '{kind}' is not supported"),
        };
    }
}
