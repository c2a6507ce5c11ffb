namespace Kiln.Viewport;

/// <summary>
/// The texts of what the viewport draws beside a look, and what goes around a look's own. GLSL ES 3.0 without version lines.
/// </summary>
/// <param name="Form">What follows a look's text to draw a form while something moves.</param>
public sealed record ViewportText(
    string FormVertex,
    string Form,
    string FloorVertex,
    string Floor,
    string ScreenVertex,
    string Background,
    string Display,
    string Shadow
)
{
    public static ViewportText Shipped { get; } =
        new(
            ShaderText.Of("form-vertex"),
            ShaderText.Of("light") + ShaderText.Of("moving"),
            ShaderText.Of("floor-vertex"),
            ShaderText.Of("noise") + ShaderText.Of("light") + ShaderText.Of("floor"),
            ShaderText.Of("screen-vertex"),
            ShaderText.Of("light") + ShaderText.Of("background"),
            ShaderText.Of("display"),
            ShaderText.Of("shadow")
        );
}
