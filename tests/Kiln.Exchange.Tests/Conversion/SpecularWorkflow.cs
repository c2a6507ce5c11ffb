using System.Globalization;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Folding;
using Kiln.Looks.Document;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// USD Preview Surface's specular workflow by the formula that the Khronos Group published for specular-glossiness materials
/// (KHR_materials_pbrSpecularGlossiness, appendix "conversion"), written out here anew.
/// </summary>
public sealed class SpecularWorkflow(Workshop shop) : IClassFixture<Workshop>
{
    private const double Dielectric = 0.04,
        Epsilon = 1e-6;

    private static (double[] Base, double Metalness) Published(double[] diffuse, double[] specular)
    {
        static double Brightness(double[] c) => Math.Sqrt(0.299 * c[0] * c[0] + 0.587 * c[1] * c[1] + 0.114 * c[2] * c[2]);
        var notMirrored = 1 - specular.Max();
        double metal = 0;
        if (Brightness(specular) >= Dielectric)
        {
            double a = Dielectric,
                b = Brightness(diffuse) * notMirrored / (1 - Dielectric) + Brightness(specular) - 2 * Dielectric,
                c = Dielectric - Brightness(specular);
            metal = Math.Clamp((-b + Math.Sqrt(Math.Max(0, b * b - 4 * a * c))) / (2 * a), 0, 1);
        }
        double Of(int i)
        {
            var fromDiffuse = diffuse[i] * (notMirrored / (1 - Dielectric) / Math.Max(1 - metal, Epsilon));
            var fromSpecular = (specular[i] - Dielectric * (1 - metal)) / Math.Max(metal, Epsilon);
            return Math.Clamp(fromDiffuse + (fromSpecular - fromDiffuse) * metal * metal, 0, 1);
        }
        return ([Of(0), Of(1), Of(2)], metal);
    }

    private async Task<Look> ReadAsync(string inputs)
    {
        var path = Path.Combine(shop.Folder, $"specular {inputs.GetHashCode(StringComparison.Ordinal):x}.usda");
        File.WriteAllText(
            path,
            $$"""
            #usda 1.0
            def Material "paint"
            {
                token outputs:surface.connect = </paint/s.outputs:surface>
                def Shader "s"
                {
                    uniform token info:id = "UsdPreviewSurface"
                    int inputs:useSpecularWorkflow = 1
                    {{inputs}}
                    token outputs:surface
                }
            }
            """
        );
        return await NetworkReading.ReadAsync(shop.Profiles.Find("usd_preview"), shop.Read(path, "usd_preview"));
    }

    private static double[] Colour(Look look) =>
        look.Lanes["base_color"].Value is TintValue t
        && ColourTransform.Between(ColourSpace.Find(t.Space), ColourSpace.LinRec709).Apply(new System.Numerics.Vector3(t.R, t.G, t.B))
            is var v
            ? [v.X, v.Y, v.Z]
            : [];

    [Theory]
    [InlineData("0, 0, 0", "1, 0.77, 0.34")]
    [InlineData("0.5, 0.4, 0.3", "0.04, 0.04, 0.04")]
    [InlineData("0.3, 0.3, 0.3", "0.3, 0.25, 0.2")]
    [InlineData("0.1, 0.2, 0.05", "0.6, 0.6, 0.6")]
    public async Task ComesInByThePublishedFormula(string diffuse, string specular)
    {
        double[] Three(string t) => [.. t.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture))];
        var look = await ReadAsync($"color3f inputs:diffuseColor = ({diffuse})\n color3f inputs:specularColor = ({specular})");
        var (colour, metal) = Published(Three(diffuse), Three(specular));
        Assert.Equal(metal, look.Lanes.GetValueOrDefault("base_metalness")?.Value is ScalarValue s ? s.Number : 0, 2e-3);
        Assert.All(colour.Zip(Colour(look)), p => Assert.Equal(p.First, p.Second, 2e-3));
    }

    /// <summary>Below 4 % the formula has no answer; the reflection is weakened to what the document says.</summary>
    [Fact]
    public async Task WithoutAReflectionItIsADarkDielectricAndNotBlack()
    {
        var look = await ReadAsync("color3f inputs:diffuseColor = (0.5, 0.4, 0.3)");
        Assert.False(look.Lanes.ContainsKey("base_metalness"));
        Assert.All(Colour(look).Zip([0.5, 0.4, 0.3]), p => Assert.Equal(p.Second, p.First, 1e-4));
        Assert.Equal(0, ((ScalarValue)look.Lanes["specular_weight"].Value!).Number, 1e-6f);
    }

    /// <summary>What is written in this workflow comes back as it was.</summary>
    [Fact]
    public async Task WhatWeWriteInItComesBack()
    {
        var look = new Look
        {
            Name = "lacquer",
            Lanes = System
                .Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add(
                    "base_color",
                    new(new TintValue(0.5f, 0.4f, 0.3f, "lin_rec709"))
                )
                .Add("coat_weight", new(new ScalarValue(1)))
                .Add("coat_ior", new(new ScalarValue(1.7f)))
                .Add("specular_ior", new(new ScalarValue(1.9f))),
        };
        var network = (await shop.CompileAsync(look, "usd_preview")).Network;
        Assert.Equal("1", network.Surface.Port("useSpecularWorkflow")!.Value);
        var back = await NetworkReading.ReadAsync(shop.Profiles.Find("usd_preview"), network);
        Assert.Equal(1.7f, ((ScalarValue)back.Lanes["coat_ior"].Value!).Number, 1e-3f);
        Assert.Equal(1.9f, ((ScalarValue)back.Lanes["specular_ior"].Value!).Number, 1e-3f);
        Assert.All(Colour(back).Zip([0.5, 0.4, 0.3]), p => Assert.Equal(p.Second, p.First, 1e-3));
    }
}
