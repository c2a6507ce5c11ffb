using System.Globalization;
using YamlDotNet.Core;
using YamlDotNet.RepresentationModel;

namespace Kiln.Colour.Configs;

/// <summary>The YAML of a config as nodes with line numbers, within limits, and what is read from such nodes over and over.</summary>
internal static class ConfigYaml
{
    private const int LargestFile = 16 << 20,
        Deepest = 400,
        Stack = 64 << 20;

    /// <exception cref="ConfigException">Too large, too deep, not YAML, or not a config.</exception>
    public static YamlMappingNode Parse(Stream stream)
    {
        if (stream.CanSeek && stream.Length > LargestFile)
            throw new ConfigException($"The config is {stream.Length >> 20} MB of text; more than {LargestFile >> 20} MB are not read.");
        using var reader = new StreamReader(stream, leaveOpen: true);
        var text = reader.ReadToEnd();
        if (text.Length > LargestFile)
            throw new ConfigException($"The config has more than {LargestFile >> 20} MB of text.");
        CheckDepth(text);
        YamlMappingNode? root = null;
        Exception? fault = null;
        // The parser calls itself for every level; a thread of its own has room for all that the depth check lets through.
        var thread = new Thread(
            () =>
            {
                try
                {
                    var yaml = new YamlStream();
                    yaml.Load(new StringReader(text));
                    root = yaml.Documents.Count > 0 ? yaml.Documents[0].RootNode as YamlMappingNode : null;
                }
                catch (Exception e)
                {
                    fault = e;
                }
            },
            Stack
        );
        thread.Start();
        thread.Join();
        if (fault is YamlException y)
            throw new ConfigException($"Line {y.Start.Line}: the config is not valid YAML ({y.InnerException?.Message ?? y.Message}).", y);
        if (fault is not null)
            throw new ConfigException("The config is not valid YAML.", fault);
        return root is not null && root.Children.ContainsKey("ocio_profile_version")
            ? root
            : throw new ConfigException("The file is no OpenColorIO config: it does not begin with ocio_profile_version.");
    }

    private static void CheckDepth(string text)
    {
        int depth = 0,
            indent = 0,
            line = 1;
        var start = true;
        foreach (var c in text)
        {
            if (c == '\n')
                (start, indent, line) = (true, 0, line + 1);
            else if (start && c is ' ' or '-' && ++indent > Deepest)
                throw new ConfigException($"Line {line}: the config is nested more than {Deepest} levels deep.");
            else if (c != ' ')
                start = start && c == '-';
            if (c is '[' or '{' && ++depth > Deepest)
                throw new ConfigException($"Line {line}: the config is nested more than {Deepest} levels deep.");
            if (c is ']' or '}')
                depth--;
        }
    }

    public static int Line(this YamlNode node) => (int)node.Start.Line;

    /// <summary>The kind behind !&lt;Kind&gt;.</summary>
    public static string Kind(this YamlNode node) => node.Tag.IsEmpty ? "" : node.Tag.Value.TrimStart('!');

    public static YamlNode? Find(this YamlMappingNode map, string key) => map.Children.TryGetValue(key, out var value) ? value : null;

    public static string? Text(this YamlMappingNode map, string key) => map.Find(key) is YamlScalarNode { Value: { } text } ? text : null;

    public static bool Flag(this YamlMappingNode map, string key) => map.Text(key)?.ToLowerInvariant() is "true" or "yes" or "on";

    public static IEnumerable<YamlMappingNode> Maps(this YamlMappingNode map, string key) =>
        map.Find(key) is YamlSequenceNode list ? list.Children.OfType<YamlMappingNode>() : [];

    /// <summary>A list, or one text with separators.</summary>
    public static IEnumerable<string> Texts(this YamlMappingNode map, string key, params char[] separators) =>
        map.Find(key) switch
        {
            YamlSequenceNode list => list.Children.OfType<YamlScalarNode>().Select(s => s.Value ?? ""),
            YamlScalarNode { Value: { } text } => text.Split(
                separators,
                StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
            ),
            _ => [],
        };

    public static double? Number(this YamlMappingNode map, string key) => map.Find(key) is YamlScalarNode scalar ? Number(scalar) : null;

    /// <summary>So many numbers; a single one stands for all.</summary>
    public static double[]? Numbers(this YamlMappingNode map, string key, int count) =>
        map.Find(key) switch
        {
            null => null,
            YamlSequenceNode list when list.Children.Count == count => [.. list.Children.Select(Number)],
            YamlScalarNode one => [.. Enumerable.Repeat(Number(one), count)],
            var node => throw new ConfigException($"Line {node.Line()}: '{key}' needs {count} numbers."),
        };

    public static double[] Numbers(this YamlMappingNode map, string key) =>
        map.Find(key) is YamlSequenceNode list ? [.. list.Children.Select(Number)] : [];

    private static double Number(YamlNode node) =>
        node is YamlScalarNode { Value: { } text }
        && double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var v)
        && double.IsFinite(v)
            ? v
            : throw new ConfigException($"Line {node.Line()}: '{(node as YamlScalarNode)?.Value}' is no number.");
}
