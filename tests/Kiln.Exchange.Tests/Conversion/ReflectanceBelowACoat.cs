using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// What a dielectric below a coat reflects at normal incidence, from every dialect to every other. F0 = ((n − 1)/(n + 1))²; OpenPBR 1.1
/// ("Coat") means the base's index against
/// the coat's, weighed by the coat; every other dialect here means it against air, whatever lies over it. Each dialect's reflectance is
/// worked out here from the written words.
/// </summary>
public sealed class ReflectanceBelowACoat(Workshop shop) : IClassFixture<Workshop>
{
    private static double OfIndex(double n) => (n - 1) * (n - 1) / ((n + 1) * (n + 1));

    private static double Number(Network network, DialectProfile profile, string input, double otherwise) =>
        network.Surface.Port(input)?.Value is { } text
            ? text.Split(',').Average(t => double.Parse(t, CultureInfo.InvariantCulture))
            : profile.Inputs.FirstOrDefault(i => i.Name == input)?.Default?.Average(d => (double)d) ?? otherwise;

    /// <summary>By the words of the document; null for a metal.</summary>
    private static double Reflectance(Network network, DialectProfile profile)
    {
        double Of(string input, double otherwise = 0) => Number(network, profile, input, otherwise);
        switch (profile.Id)
        {
            case "openpbr":
                var (n, c, w) = (Of("specular_ior"), Of("coat_ior"), Of("coat_weight"));
                return OfIndex(n + (Math.Max(n / c, c / n) - n) * w) * Of("specular_weight");
            case "standard_surface":
                return OfIndex(Of("specular_IOR")) * Of("specular");
            case "gltf":
                return OfIndex(Of("ior")) * Of("specularFactor", 1);
            case "usd_preview":
                return Of("useSpecularWorkflow") > 0.5 ? Of("specularColor") : OfIndex(Of("ior"));
            case "bisque":
                return OfIndex(Of("bend")) * Of("polish_amount");
            case "celadon":
                return Of("front");
            case "tenmoku":
                return 0.08 * Of("gleam");
            default:
                return 0.04;
        }
    }

    private static Look Coated(double ior, double coatIor, double weight) =>
        new()
        {
            Name = "coated",
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add("specular_ior", new(new ScalarValue((float)ior)))
                .Add("coat_ior", new(new ScalarValue((float)coatIor)))
                .Add("coat_weight", new(new ScalarValue((float)weight)))
                .Add("base_color", new(new TintValue(0.4f, 0.3f, 0.2f, "acescg"))),
        };

    [Fact]
    public async Task StaysInAll64Pairs()
    {
        var table = new StringBuilder(
            $"| from \\ to | {string.Join(" | ", Workshop.Dialects.Select(d => shop.Profiles.Find(d).Title))} "
                + $"|\n|---|{string.Concat(Workshop.Dialects.Select(_ => "---|"))}\n"
        );
        var wrong = new List<string>();
        foreach (var from in Workshop.Dialects)
        {
            var source = shop.Profiles.Find(from);
            table.Append($"| {source.Title} |");
            foreach (var to in Workshop.Dialects)
            {
                var target = shop.Profiles.Find(to);
                var most = 0.0;
                foreach (
                    var (ior, coat, weight) in new[]
                    {
                        (1.5, 1.6, 1.0),
                        (1.5, 1.25, 1.0),
                        (2.0, 1.5, 1.0),
                        (1.33, 1.5, 1.0),
                        (1.5, 1.5, 0.5),
                        (1.7, 1.4, 0.8),
                        (1.5, 1.6, 0.0),
                    }
                )
                {
                    var first = (await shop.CompileAsync(Coated(ior, coat, weight), from)).Network;
                    var second = await shop.CompileAsync(await NetworkReading.ReadAsync(source, first), to);
                    var (before, after) = (Reflectance(first, source), Reflectance(second.Network, target));
                    // Two dialects reflect no more, or no other, than they can say; their reports have it.
                    var says = to switch
                    {
                        "tenmoku" => Math.Min(before, 0.08),
                        "saggar" => 0.04,
                        _ => before,
                    };
                    if (to == "saggar" && Math.Abs(before - 0.04) > 1e-4)
                        Assert.Contains(second.Report.Lost, l => l.Input == "specular_ior");
                    most = Math.Max(most, Math.Abs(after - says));
                    if (Math.Abs(after - says) > 1e-4)
                        wrong.Add($"{from} to {to}, index {ior} below {coat} by {weight}: {before:0.0000} became {after:0.0000}");
                }
                table.Append(most < 5e-6 ? " 0 |" : $" {most.ToString("0.00000", CultureInfo.InvariantCulture)} |");
            }
            table.Append('\n');
        }
        Assert.True(wrong.Count == 0, string.Join("\n", wrong));
        DocumentedTable.Holds(shop, "conversion.md", "reflectance below a coat", table.ToString());
    }

    /// <summary>A coat that reflects more than the base below it does not vanish in the dialect that has one index for both.</summary>
    [Fact]
    public async Task UsdKeepsTheCoatsOwnIndexWhereTheBaseHardlyReflects()
    {
        var surface = (await shop.CompileAsync(Coated(1.5, 1.6, 1), "usd_preview")).Network.Surface;
        Assert.Equal("1", surface.Port("useSpecularWorkflow")!.Value);
        Assert.Equal(1.6, double.Parse(surface.Port("ior")!.Value!, CultureInfo.InvariantCulture), 1e-5);
        // Where they are alike, the published translation's words stand.
        var alike = (await shop.CompileAsync(Coated(2.25, 1.5, 1), "usd_preview")).Network.Surface;
        Assert.Equal("0", alike.Port("useSpecularWorkflow")!.Value);
        Assert.Equal(1.5, double.Parse(alike.Port("ior")?.Value ?? "1.5", CultureInfo.InvariantCulture), 1e-5);
    }

    /// <summary>A weight beyond what the greatest index reflects is still there when it comes back.</summary>
    [Theory]
    [InlineData(1.5f)]
    [InlineData(4)]
    [InlineData(12)]
    public async Task AWeightAboveOneComesBackFromStandardSurface(float weight)
    {
        var look = new Look
        {
            Name = "bright",
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("specular_weight", new(new ScalarValue(weight))),
        };
        var profile = shop.Profiles.Find("standard_surface");
        var network = (await shop.CompileAsync(look, "standard_surface")).Network;
        Assert.Equal(0.04 * weight, Reflectance(network, profile), 1e-4);
        var back = await NetworkReading.ReadAsync(profile, network);
        Assert.Equal(0.04 * weight, Reflectance((await shop.CompileAsync(back, "openpbr")).Network, shop.Profiles.Find("openpbr")), 1e-4);
    }

    /// <summary>A dense dielectric is no metal on its way back from two colours.</summary>
    [Theory]
    [InlineData(1.9f)]
    [InlineData(2.4f)]
    [InlineData(2.9f)]
    public async Task ADenseDielectricThroughCeladonStaysOne(float ior)
    {
        var back = await NetworkReading.ReadAsync(
            shop.Profiles.Find("celadon"),
            (await shop.CompileAsync(Coated(ior, 1.6, 0), "celadon")).Network
        );
        Assert.False(back.Lanes.ContainsKey("base_metalness"));
        Assert.Equal(ior, ((ScalarValue)back.Lanes["specular_ior"].Value!).Number, 1e-3f);
    }
}
