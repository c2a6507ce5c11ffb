using Kiln.Looks.Document;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Looks.Tests.Steps;

/// <summary>
/// W3C "Compositing and Blending Level 1" (Candidate Recommendation, 2015), section 10.1, separable blend modes; backdrop is what was
/// there, source is what is mixed in.
/// </summary>
public class MixModes
{
    private static readonly float[] Grid = [0, 0.1f, 0.25f, 0.4f, 0.5f, 0.6f, 0.75f, 0.9f, 1];

    private static double Published(MixMode mode, double cb, double cs) =>
        mode switch
        {
            MixMode.Normal => cs,
            MixMode.Multiply => cb * cs,
            MixMode.Screen => cb + cs - cb * cs,
            MixMode.Overlay => Published(MixMode.HardLight, cs, cb),
            MixMode.Minimum => Math.Min(cb, cs),
            MixMode.Maximum => Math.Max(cb, cs),
            MixMode.HardLight => cs <= 0.5 ? cb * 2 * cs : Published(MixMode.Screen, cb, 2 * cs - 1),
            MixMode.SoftLight => cs <= 0.5
                ? cb - (1 - 2 * cs) * cb * (1 - cb)
                : cb + (2 * cs - 1) * ((cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.Sqrt(cb)) - cb),
            MixMode.Difference => Math.Abs(cb - cs),
            MixMode.Exclusion => cb + cs - 2 * cb * cs,
            // Not in the recommendation's blend modes: plus (Porter and Duff 1984, without the clamp) and its opposite.
            MixMode.Add => cb + cs,
            MixMode.Subtract => cb - cs,
            _ => throw new NotSupportedException(mode.ToString()),
        };

    public static TheoryData<MixMode> All() => [.. Enum.GetValues<MixMode>()];

    [Theory]
    [MemberData(nameof(All))]
    public void BlendAsPublishedWithAnyAmount(MixMode mode)
    {
        foreach (var backdrop in Grid)
        foreach (var source in Grid)
        foreach (var amount in new[] { 0f, 0.3f, 1f })
        {
            var expected = backdrop + (Published(mode, backdrop, source) - backdrop) * amount;
            Assert.Equal(expected, Graphs.Of(backdrop, new MixStep(mode, new(LookValue.Of(source)), new(amount))), 2e-6);
        }
    }
}
