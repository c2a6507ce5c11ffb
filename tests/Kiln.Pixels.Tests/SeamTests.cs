namespace Kiln.Pixels.Tests;

/// <summary>
/// Whether a picture repeats: functions of one period meet at their edges by their very definition; a fall of light over the picture, or
/// half a period, does not.
/// </summary>
public sealed class SeamTests
{
    private static PictureProbe Probe(Func<float, float, float> at, int size = 128)
    {
        var picture = new ImageBuffer(size, size, ["Y"], SampleType.U8);
        var row = new float[size];
        for (var y = 0; y < size; y++)
        {
            for (var x = 0; x < size; x++)
                row[x] = at((float)x / size, (float)y / size);
            picture.WriteRow(y, row);
        }
        return PictureProbe.Measure(picture);
    }

    /// <summary>Steps as steep as they come: joints of masonry, one of them on the very edge.</summary>
    private static float Joints(float u, float v) => u * 4 % 1 < 0.1f || v * 4 % 1 < 0.1f ? 0.2f : 0.8f;

    private static float Grain(float u, float v) => new Random((int)(u * 4096) * 7919 + (int)(v * 4096)).NextSingle() * 0.4f + 0.2f;

    [Fact]
    public void WhatRepeatsHasNoSeam()
    {
        foreach (var at in new Func<float, float, float>[] { Joints, Grain, (u, v) => 0.5f + 0.3f * MathF.Sin(2 * MathF.PI * (u + 2 * v)) })
        {
            var probe = Probe(at);
            Assert.InRange(Math.Max(probe.SeamAcross, probe.SeamDown), 0, 1.2f);
        }
    }

    /// <summary>
    /// Not over joints along the edge: their own steps are larger than that of the light, and the measure stays silent rather than cry at
    /// every wall.
    /// </summary>
    [Fact]
    public void AFallOfLightShowsAcrossAndNotDown()
    {
        foreach (
            var at in new Func<float, float, float>[]
            {
                (u, v) => Grain(u, v) * (1 - 0.35f * u),
                (u, v) => 0.5f + 0.3f * MathF.Sin(MathF.PI * u) * MathF.Sin(2 * MathF.PI * v) + 0.3f * u,
            }
        )
        {
            var probe = Probe(at);
            Assert.True(probe.SeamAcross > 1.5f, $"across {probe.SeamAcross}");
            Assert.InRange(probe.SeamDown, 0, 1.2f);
        }
    }
}
