namespace Kiln.Viewport;

/// <summary>
/// The texts of what the viewport draws beside a look, and what goes around a look's own. GLSL ES 3.0 without version lines.
/// </summary>
/// <param name="TriangleVertex">Draws the number of the triangle that each pixel sees, with <paramref name="Whole"/>, or with a look's text
/// and <paramref name="Cut"/> where that is not opaque.</param>
/// <param name="Form">What follows a look's text to shade each pixel by those numbers while something moves.</param>
/// <param name="CellLight">Light of each cell of directions; then <paramref name="FloorLight"/>, what of it arrives at the floor, and
/// <paramref name="FormLight"/>, at each vertex of a form. Drawn when light, form or their place change.</param>
/// <param name="Trace">What follows it to add up paths of light while nothing does; before both goes the text of a hierarchy of triangles
/// (<c>BVH</c>, <c>bvhIntersectFirstHit</c>, <c>texelFetch1D</c>).</param>
public sealed record ViewportText(
    string TriangleVertex,
    string Whole,
    string Cut,
    string Form,
    string FloorVertex,
    string Floor,
    string ScreenVertex,
    string Background,
    string Display,
    string Shadow,
    string CellLight,
    string FloorLight,
    string FormLight,
    string Trace
)
{
    public static ViewportText Shipped { get; } =
        new(
            ShaderText.Of("vertices") + ShaderText.Of("triangle-vertex"),
            ShaderText.Of("triangle") + ShaderText.Of("whole"),
            ShaderText.Of("triangle") + ShaderText.Of("cut"),
            ShaderText.Of("light") + ShaderText.Of("meeting") + ShaderText.Of("vertices") + ShaderText.Of("seen") + ShaderText.Of("moving"),
            ShaderText.Of("floor-vertex"),
            ShaderText.Of("noise") + ShaderText.Of("light") + ShaderText.Of("floor"),
            ShaderText.Of("screen-vertex"),
            ShaderText.Of("light") + ShaderText.Of("background"),
            ShaderText.Of("display"),
            ShaderText.Of("shadow"),
            ShaderText.Of("light") + ShaderText.Of("cell-light"),
            ShaderText.Of("light") + ShaderText.Of("floor-light"),
            ShaderText.Of("light") + ShaderText.Of("form-light"),
            ShaderText.Of("noise") + ShaderText.Of("light") + ShaderText.Of("meeting") + ShaderText.Of("trace")
        );
}
