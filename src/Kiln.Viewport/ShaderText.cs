using System.Collections.Concurrent;

namespace Kiln.Viewport;

/// <summary>The pieces of GLSL that are written by hand, by the name of their file.</summary>
internal static class ShaderText
{
    private static readonly ConcurrentDictionary<string, string> Read = new();

    /// <exception cref="ArgumentException">There is no such piece.</exception>
    public static string Of(string name) => Read.GetOrAdd(name, static n =>
        {
            using var stream = typeof(ShaderText).Assembly.GetManifestResourceStream(n + ".glsl")
                ?? throw new ArgumentException($"There is no piece of shader '{n}'.");
            return new StreamReader(stream).ReadToEnd();
        });
}
