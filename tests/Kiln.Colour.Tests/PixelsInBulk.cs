using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Tests;

/// <summary>Whole buffers, which are converted with vectors, against one colour at a time, which is compared with OpenColorIO.</summary>
public class PixelsInBulk
{
    public static TheoryData<string> Spaces() => [.. ColourSpace.All.Select(s => s.Id.Text)];

    [Theory]
    [MemberData(nameof(Spaces))]
    public void GiveWhatSingleColoursGive(string from)
    {
        var random = new Random(7);
        foreach (var to in ColourSpace.All)
        foreach (var (count, stride) in new[] { (1, 3), (2, 3), (7, 3), (1025, 3), (9, 4), (1030, 4) })
        {
            var pixels = Enumerable.Range(0, count * stride).Select(_ => random.NextSingle() * 1.3f - 0.1f).ToArray();
            var before = (float[])pixels.Clone();
            var transform = ColourTransform.Between(ColourSpace.Find(from), to);
            transform.Apply(pixels, stride);
            for (var i = 0; i < count; i++)
            {
                var one = transform.Apply(new Vector3(before[i * stride], before[i * stride + 1], before[i * stride + 2]));
                var error =
                    Vector3.Abs(one - new Vector3(pixels[i * stride], pixels[i * stride + 1], pixels[i * stride + 2]))
                    / MathF.Max(1, one.Length());
                Assert.True(
                    error.Length() < 1e-5f,
                    $"{from} → {to.Id}, pixel {i} of {count}: {one} against {pixels[i * stride]} {pixels[i * stride + 1]} "
                        + $"{pixels[i * stride + 2]}"
                );
                for (var c = 3; c < stride; c++)
                    Assert.Equal(before[i * stride + c], pixels[i * stride + c]);
            }
        }
    }
}
