namespace Kiln.Proof.Rendering;

/// <summary>A part of a picture, in shares of its width and height from the upper left: 0 to 1.</summary>
public readonly record struct PictureRegion(float Left, float Top, float Right, float Bottom)
{
    public static readonly PictureRegion Whole = new(0, 0, 1, 1);

    /// <summary>The pixels that it touches, at least one; right and bottom are the first ones outside.</summary>
    public (int Left, int Top, int Right, int Bottom) Pixels(int width, int height)
    {
        static (int From, int To) Range(float from, float to, int size)
        {
            var first = Math.Clamp((int)MathF.Floor(MathF.Min(from, to) * size), 0, size - 1);
            return (first, Math.Clamp((int)MathF.Ceiling(MathF.Max(from, to) * size), first + 1, size));
        }
        var ((left, right), (top, bottom)) = (Range(Left, Right, width), Range(Top, Bottom, height));
        return (left, top, right, bottom);
    }
}
