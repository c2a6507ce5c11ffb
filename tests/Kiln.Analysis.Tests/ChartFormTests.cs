using Kiln.Analysis.Chart;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Pixels.Decoding;
using Kiln.Proof.Materials;

namespace Kiln.Analysis.Tests;

public class ChartFormTests
{
    private static readonly NoFiles None = new();

    /// <summary>
    /// Matt patches and polished metals, rendered in even light and displayed one to one, are what they state (the expected values are
    /// checked through OpenColorIO in ReferenceChartTests).
    /// </summary>
    [Theory]
    [InlineData("acescg")]
    [InlineData("lin_rec709")]
    public async Task EveryPatchOfTheFormIsDisplayedAsStated(string working)
    {
        var look = new Look { Name = "strip" };
        var material = await ProofMaterial.OfLookAsync(
            look,
            DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find("openpbr"),
            new MapTextures(None, None),
            working: WorkingSpace.Find(working)
        );
        var proof = ChartProof.OfForm(material);
        Assert.Equal(24, proof.Patches.Count);
        Assert.Equal(6, proof.Patches.Count(p => p.Kind == PatchKind.Metal));
        Assert.All(proof.Patches, p =>
            Assert.True(
                p.DeltaE <= 0.5f,
                $"{p.Name}: ΔE {p.DeltaE:0.000}, {string.Join(" ", p.Shown)} instead of {string.Join(" ", p.Expected)}"
            )
        );
        // At most gold is brighter in red than the display; everything else is compared as it is.
        Assert.All(proof.Patches.Where(p => p.Clipped), p => Assert.Equal(PatchKind.Metal, p.Kind));
        Console.WriteLine(
            $"chart form worked in {working}: worst ΔE2000 {proof.Greatest:0.000}, clipped: "
                + $"{string.Join(", ", proof.Patches.Where(p => p.Clipped).Select(p => p.Name))}"
        );
    }
}
