namespace Kiln.Viewport;

/// <summary>
/// The texts of what the viewport draws beside a look, and what goes around a look's own. GLSL ES 3.0 without version lines.
/// </summary>
/// <param name="Form">What follows a look's text to draw a form while something moves.</param>
/// <param name="Trace">What follows it to add up paths of light while nothing does; before both goes the text of a hierarchy of triangles
/// (<c>BVH</c>, <c>bvhIntersectFirstHit</c>, <c>texelFetch1D</c>).</param>
public sealed record ViewportText(
    string FormVertex,
    string Form,
    string FloorVertex,
    string Floor,
    string ScreenVertex,
    string Background,
    string Display,
    string Shadow,
    string Trace
)
{
    public static ViewportText Shipped { get; } =
        new(
            ShaderText.Of("form-vertex"),
            ShaderText.Of("light") + ShaderText.Of("meeting") + ShaderText.Of("moving"),
            ShaderText.Of("floor-vertex"),
            ShaderText.Of("noise") + ShaderText.Of("light") + ShaderText.Of("floor"),
            ShaderText.Of("screen-vertex"),
            ShaderText.Of("light") + ShaderText.Of("background"),
            ShaderText.Of("display"),
            ShaderText.Of("shadow"),
            ShaderText.Of("noise") + ShaderText.Of("light") + ShaderText.Of("meeting") + ShaderText.Of("trace")
        );
}
