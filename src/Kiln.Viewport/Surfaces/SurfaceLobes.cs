namespace Kiln.Viewport.Surfaces;

/// <summary>Which parts of a surface a shader has; what is left out costs nothing.</summary>
/// <param name="Through">Light through the body, or straight through a thin sheet.</param>
/// <param name="Sheet">Light that a thin sheet scatters to its other side.</param>
public readonly record struct SurfaceLobes(bool Metal, bool Coat, bool Fuzz, bool Film, bool Through, bool Sheet)
{
    public static SurfaceLobes All { get; } = new(true, true, true, true, true, true);
}
