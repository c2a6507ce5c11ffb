using System.Collections.Immutable;
using System.Globalization;
using YamlDotNet.RepresentationModel;

namespace Kiln.Colour.Configs;

/// <summary>Reads an OpenColorIO config, profile version 1 or 2, into a model without resolving anything.</summary>
public static class ConfigReader
{
    /// <exception cref="ConfigException">One sentence with the line, where the file is no config or cannot be used at all.</exception>
    public static OcioConfig Read(Stream stream)
    {
        var root = ConfigYaml.Parse(stream);
        var version = (root.Text("ocio_profile_version") ?? "").Split('.');
        if (!int.TryParse(version[0], NumberStyles.None, CultureInfo.InvariantCulture, out var major) || major is < 1 or > 2)
            throw new ConfigException(
                $"Line {root.Line()}: the config says it is of version {root.Text("ocio_profile_version")}; versions 1 and 2 are read."
            );
        var remarks = new List<string>();
        var sharedViews = root.Maps("shared_views").Select(View).ToList();
        var spaces = root.Maps("colorspaces")
            .Select(s => Space(s, false))
            .Concat(root.Maps("display_colorspaces").Select(s => Space(s, true)))
            .ToImmutableArray();
        RefuseTwice(spaces);
        var config = new OcioConfig
        {
            Version = major,
            MinorVersion = version.Length > 1 && int.TryParse(version[1], out var minor) ? minor : 0,
            Name = root.Text("name") ?? "",
            Description = root.Text("description") ?? "",
            SearchPath = [.. root.Texts("search_path", ':')],
            Environment = Pairs(root, "environment", StringComparer.Ordinal),
            Roles = Pairs(root, "roles", StringComparer.OrdinalIgnoreCase),
            Spaces = spaces,
            NamedTransforms = [.. root.Maps("named_transforms").Select(NamedTransformOf)],
            Looks = [.. root.Maps("looks").Select(LookOf)],
            ViewTransforms = [.. root.Maps("view_transforms").Select(ViewTransformOf)],
            DefaultViewTransform = root.Text("default_view_transform"),
            Displays = Displays(root, sharedViews, remarks),
            FileRules =
            [
                .. root.Maps("file_rules")
                    .Select(r => new FileRule(Name(r), r.Text("colorspace"), r.Text("pattern"), r.Text("extension"), r.Text("regex"))),
            ],
            ViewingRules =
            [
                .. root.Maps("viewing_rules")
                    .Select(r => new ViewingRule(Name(r), [.. r.Texts("colorspaces", ',')], [.. r.Texts("encodings", ',')])),
            ],
            ActiveDisplays = [.. root.Texts("active_displays", ',')],
            ActiveViews = [.. root.Texts("active_views", ',')],
            Inactive = [.. root.Texts("inactive_colorspaces", ',')],
        };
        if (config.Spaces.IsEmpty)
            throw new ConfigException("The config has no colour spaces.");
        return config with { Remarks = [.. remarks, .. NamesOfNothing(config)] };
    }

    private static void RefuseTwice(IEnumerable<ConfigSpace> spaces)
    {
        foreach (
            var twice in spaces
                .SelectMany(s => s.Aliases.Prepend(s.Name).Distinct(StringComparer.OrdinalIgnoreCase).Select(n => (Name: n, s.Line)))
                .GroupBy(s => s.Name, StringComparer.OrdinalIgnoreCase)
                .Where(g => g.Count() > 1)
        )
            throw new ConfigException($"Line {twice.Last().Line}: the colour space name '{twice.Key}' is given {twice.Count()} times.");
    }

    /// <summary>Roles and views that name what the config does not have: they are of no use, the rest is.</summary>
    private static IEnumerable<string> NamesOfNothing(OcioConfig config)
    {
        foreach (var role in config.Roles.Where(r => !config.Spaces.Any(s => Named(s, r.Value))))
            yield return $"The role '{role.Key}' names '{role.Value}', which is no colour space of the config.";
        foreach (var (display, view) in config.Displays.SelectMany(d => d.Views.Select(v => (d.Name, v))))
        {
            if (
                view.Space is { } space
                && space != "<USE_DISPLAY_NAME>"
                && !config.Spaces.Any(s => Named(s, space))
                && !config.Roles.ContainsKey(space)
                && !config.NamedTransforms.Any(t => t.Name == space)
            )
                yield return $"The view '{view.Name}' of '{display}' names '{space}', which is no colour space of the config.";
            if (view.Rule is { } rule && !config.ViewingRules.Any(r => r.Name.Equals(rule, StringComparison.OrdinalIgnoreCase)))
                yield return $"The view '{view.Name}' of '{display}' names the viewing rule '{rule}', which the config does not have.";
            if (
                view.ViewTransform is { } transform
                && !config.ViewTransforms.Any(t => t.Name.Equals(transform, StringComparison.OrdinalIgnoreCase))
            )
                yield return $"The view '{view.Name}' of '{display}' names the view transform '{transform}', "
                    + "which the config does not have.";
        }
    }

    private static NamedTransform NamedTransformOf(YamlMappingNode node) =>
        new(Name(node), [.. node.Texts("aliases", ',')], Transform(node.Find("transform")), Transform(node.Find("inverse_transform")));

    private static ConfigLook LookOf(YamlMappingNode node) =>
        new(Name(node), node.Text("process_space") ?? "", Transform(node.Find("transform")), Transform(node.Find("inverse_transform")));

    private static ViewTransform ViewTransformOf(YamlMappingNode node) =>
        new(
            Name(node),
            Transform(node.Find("from_scene_reference") ?? node.Find("from_reference")),
            Transform(node.Find("to_scene_reference") ?? node.Find("to_reference")),
            Transform(node.Find("from_display_reference")),
            Transform(node.Find("to_display_reference"))
        );

    internal static bool Named(ConfigSpace space, string name) =>
        space.Name.Equals(name, StringComparison.OrdinalIgnoreCase) || space.Aliases.Contains(name, StringComparer.OrdinalIgnoreCase);

    private static string Name(YamlMappingNode node) =>
        node.Text("name") is { Length: > 0 } name ? name : throw new ConfigException($"Line {node.Line()}: something has no name here.");

    private static ImmutableSortedDictionary<string, string> Pairs(YamlMappingNode root, string key, StringComparer comparer)
    {
        var result = ImmutableSortedDictionary.CreateBuilder<string, string>(comparer);
        if (root.Find(key) is YamlMappingNode map)
            foreach (var (k, v) in map.Children)
                if (k is YamlScalarNode { Value: { } name } && v is YamlScalarNode { Value: { } value })
                    result[name] = value;
        return result.ToImmutable();
    }

    private static ConfigSpace Space(YamlMappingNode node, bool display) =>
        new(Name(node))
        {
            Aliases = [.. node.Texts("aliases", ',')],
            Family = node.Text("family") ?? "",
            EqualityGroup = node.Text("equalitygroup") ?? "",
            BitDepth = node.Text("bitdepth") ?? "",
            Encoding = node.Text("encoding") ?? "",
            Description = (node.Text("description") ?? "").Trim(),
            IsData = node.Flag("isdata"),
            IsDisplay = display,
            ToReference = Transform(node.Find("to_scene_reference") ?? node.Find("to_display_reference") ?? node.Find("to_reference")),
            FromReference = Transform(
                node.Find("from_scene_reference") ?? node.Find("from_display_reference") ?? node.Find("from_reference")
            ),
            Line = node.Line(),
        };

    private static ConfigView View(YamlMappingNode v) =>
        new(
            Name(v),
            v.Text("colorspace"),
            v.Text("view_transform"),
            v.Text("display_colorspace"),
            v.Text("looks") ?? "",
            v.Text("description") ?? "",
            v.Text("rule")
        );

    private static ImmutableArray<ConfigDisplay> Displays(YamlMappingNode root, List<ConfigView> shared, List<string> remarks)
    {
        if (root.Find("displays") is not YamlMappingNode displays)
            return [];
        var result = new List<ConfigDisplay>();
        foreach (var (key, value) in displays.Children)
        {
            var name = (key as YamlScalarNode)?.Value ?? "";
            var views = new List<ConfigView>();
            foreach (var entry in value is YamlSequenceNode list ? list.Children : [])
                if (entry is YamlMappingNode view)
                    views.Add(View(view));
                else if (entry is YamlSequenceNode names)
                    foreach (var one in names.Children.OfType<YamlScalarNode>())
                        if (shared.Find(s => s.Name.Equals(one.Value, StringComparison.OrdinalIgnoreCase)) is { } found)
                            views.Add(found);
                        else
                            remarks.Add(
                                $"Line {one.Line()}: the display '{name}' names the shared view '{one.Value}', which the config "
                                    + "does not have."
                            );
            // A space given by the display's own name.
            result.Add(
                new(
                    name,
                    [
                        .. views.Select(v =>
                            v.DisplaySpace == "<USE_DISPLAY_NAME>" ? v with { DisplaySpace = name }
                            : v.Space == "<USE_DISPLAY_NAME>" ? v with { Space = name }
                            : v
                        ),
                    ]
                )
            );
        }
        return [.. result];
    }

    private static ConfigTransform? Transform(YamlNode? node) =>
        node switch
        {
            null or YamlScalarNode => null,
            YamlSequenceNode list => new GroupTransform([.. list.Children.Select(Transform).OfType<ConfigTransform>()]),
            YamlMappingNode map => Of(map) with { Inverse = map.Text("direction")?.ToLowerInvariant() == "inverse" },
            _ => throw new ConfigException($"Line {node.Line()}: this is no transform."),
        };

    private static ConfigTransform Of(YamlMappingNode t) =>
        t.Kind() switch
        {
            "GroupTransform" => new GroupTransform([
                .. t.Find("children") is YamlSequenceNode list ? list.Children.Select(Transform).OfType<ConfigTransform>() : [],
            ]),
            "MatrixTransform" => new MatrixTransform(
                t.Numbers("matrix", 16) ?? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
                t.Numbers("offset", 4) ?? new double[4]
            ),
            "ExponentTransform" => new ExponentTransform(
                t.Find("value") is YamlScalarNode ? [.. t.Numbers("value", 3)!, 1] : t.Numbers("value", 4) ?? [1, 1, 1, 1],
                t.Text("style")
            ),
            "ExponentWithLinearTransform" => new ExponentWithLinearTransform(
                WithAlpha(t, "gamma", 1),
                WithAlpha(t, "offset", 0),
                t.Text("style")
            ),
            "LogTransform" => new LogTransform(t.Number("base") ?? 2),
            "LogAffineTransform" or "LogCameraTransform" => new LogAffineTransform(
                t.Number("base") ?? 2,
                Three(t, "log_side_slope", 1),
                Three(t, "log_side_offset", 0),
                Three(t, "lin_side_slope", 1),
                Three(t, "lin_side_offset", 0),
                t.Numbers("lin_side_break", 3),
                t.Numbers("linear_slope", 3)
            ),
            "CDLTransform" => new CdlTransform(
                Three(t, "slope", 1),
                Three(t, "offset", 0),
                Three(t, "power", 1),
                t.Number("sat") ?? t.Number("saturation") ?? 1,
                t.Text("style")
            ),
            "RangeTransform" => new RangeTransform(
                t.Number("min_in_value"),
                t.Number("max_in_value"),
                t.Number("min_out_value"),
                t.Number("max_out_value"),
                t.Text("style")
            ),
            "ColorSpaceTransform" => new SpaceTransform(t.Text("src") ?? "", t.Text("dst") ?? ""),
            "LookTransform" => new LookTransform(t.Text("src") ?? "", t.Text("dst") ?? "", t.Text("looks") ?? ""),
            "DisplayViewTransform" => new DisplayTransform(t.Text("src") ?? "", t.Text("display") ?? "", t.Text("view") ?? ""),
            "BuiltinTransform" => new BuiltinTransform(t.Text("style") ?? ""),
            "FileTransform" => new FileTransform(t.Text("src") ?? "", t.Text("interpolation")),
            "AllocationTransform" => new AllocationTransform(t.Text("allocation") ?? "uniform", t.Numbers("vars")),
            "FixedFunctionTransform" => new FixedFunctionTransform(t.Text("style") ?? "", t.Numbers("params")),
            var kind => new UnknownTransform(kind.Length == 0 ? "a transform without a kind" : kind, t.Line()),
        };

    private static double[] Three(YamlMappingNode t, string key, double usual) => t.Numbers(key, 3) ?? [usual, usual, usual];

    private static double[] WithAlpha(YamlMappingNode t, string key, double alpha) =>
        t.Find(key) is YamlScalarNode ? [.. t.Numbers(key, 3)!, alpha] : t.Numbers(key, 4) ?? [alpha, alpha, alpha, alpha];
}
