using System.Collections.Immutable;
using System.Globalization;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// The translation graphs of the MaterialX 1.39.4 library (bxdf/translation), worked out here from the library's own text, against what our
/// profiles give for plain looks.
/// Where we differ on purpose the reason stands beside the output; everything else agrees.
/// </summary>
public sealed class PublishedTranslations : IDisposable
{
    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    private static double[] Numbers(string text) =>
        text is "true" ? [1]
        : text is "false" ? [0]
        : [.. text.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture))];

    private static double[] OfSurface(Network network, DialectProfile profile, string input) =>
        network.Surface.Port(input)?.Value is { } text ? Numbers(text) : [.. (profile.Input(input).Default ?? [0]).Select(d => (double)d)];

    /// <summary>A neutral value in the numbers that documents in ACEScg hold.</summary>
    private static double[] OfLook(Look look, DialectProfile openPbr, string input)
    {
        var value = look.Lanes.GetValueOrDefault(input)?.Value;
        return value switch
        {
            TintValue t => ColourTransform.Between(ColourSpace.Find(t.Space), ColourSpace.AcesCg).Apply(new Vector3(t.R, t.G, t.B)) is var v
                ? [v.X, v.Y, v.Z]
                : [],
            ScalarValue s => [s.Number],
            _ => [.. (openPbr.Inputs.FirstOrDefault(i => i.Name == input)?.Default ?? [0]).Select(d => (double)d)],
        };
    }

    /// <summary>
    /// As a format whose colours are linear Rec.709 holds it: what lies outside its primaries is brought to their edge, and the report says
    /// so.
    /// </summary>
    private static double[] InRec709(double[] acesCg, double most)
    {
        var v = ColourTransform
            .Between(ColourSpace.AcesCg, ColourSpace.LinRec709)
            .Apply(new Vector3((float)acesCg[0], (float)acesCg[acesCg.Length / 2], (float)acesCg[^1]));
        return [Math.Clamp(v.X, 0, most), Math.Clamp(v.Y, 0, most), Math.Clamp(v.Z, 0, most)];
    }

    private sealed class Tally
    {
        public int Agreed,
            Excused;
        public readonly List<string> Wrong = [];

        public void Compare(string name, double[] published, double[] ours, string? reason)
        {
            double Of(double[] v, int i) => v[v.Length == 1 ? 0 : i];
            var n = Math.Max(published.Length, ours.Length);
            if (Enumerable.Range(0, n).All(i => Math.Abs(Of(published, i) - Of(ours, i)) <= 1e-4 * Math.Max(1, Math.Abs(Of(published, i)))))
                Agreed++;
            else if (reason is not null)
                Excused++;
            else
                Wrong.Add($"{name}: published {string.Join(" ", published)}, ours {string.Join(" ", ours)}");
        }

        public void Check(int least)
        {
            Assert.True(Wrong.Count == 0, string.Join("\n", Wrong.Take(12)));
            Assert.True(Agreed >= least && Excused < Agreed / 5, $"{Agreed} agree, {Excused} differ on purpose");
        }
    }

    [Fact]
    public async Task OpenPbrToStandardSurface()
    {
        var (openPbr, standard) = (shop.Profiles.Find("openpbr"), shop.Profiles.Find("standard_surface"));
        var tally = new Tally();
        foreach (var look in ConversionMatrix.Looks())
        {
            bool Has(params string[] inputs) => inputs.Any(look.Lanes.ContainsKey);
            var network = (await shop.CompileAsync(look, "standard_surface")).Network;
            var graph = new PublishedGraph("NG_open_pbr_surface_to_standard_surface", name => OfLook(look, openPbr, name));
            string? Reason(string input) =>
                input switch
                {
                    "specular" or "specular_IOR" when Has("specular_weight") =>
                        "the weight of OpenPBR changes the index, so it is written as one",
                    "specular_IOR" when Has("coat_weight") => "below a coat the index is that against the coat",
                    "specular_color" when Has("base_metalness") => "metals get the edge colour that reflects most alike",
                    "specular_roughness" when Has("coat_weight", "specular_roughness_anisotropy") =>
                        "widths are computed instead of exchanged: the coat's share, and the mean width of a stretched lobe",
                    "coat_roughness" when Has("coat_roughness_anisotropy") =>
                        "the mean width of a stretched lobe, as for the base: the two measure it otherwise",
                    "coat_affect_roughness" => "0, because the roughness holds the coat's share already",
                    "transmission_dispersion" => "an Abbe number, not the scale by which it is divided",
                    "subsurface_color" when Has("coat_weight") && !Has("subsurface_weight") => "what is not used is not darkened",
                    _ => null,
                };
            foreach (var output in graph.Outputs)
                tally.Compare(
                    $"{look.Name}, {output}",
                    graph.Output(output),
                    OfSurface(network, standard, output[..^4]),
                    Reason(output[..^4])
                );
        }
        tally.Check(2000);
    }

    [Fact]
    public async Task StandardSurfaceToUsdPreviewSurface()
    {
        var (standard, usd) = (shop.Profiles.Find("standard_surface"), shop.Profiles.Find("usd_preview"));
        var tally = new Tally();
        foreach (var look in ConversionMatrix.Looks())
        {
            bool Has(params string[] inputs) => inputs.Any(look.Lanes.ContainsKey);
            var from = (await shop.CompileAsync(look, "standard_surface")).Network;
            var to = (await shop.CompileAsync(await NetworkReading.ReadAsync(standard, from), "usd_preview")).Network;
            var graph = new PublishedGraph("NG_standard_surface_to_UsdPreviewSurface", name => OfSurface(from, standard, name));
            string? Reason(string input) =>
                input switch
                {
                    "diffuseColor" when Has("subsurface_weight") && Has("base_metalness") => "metal has nothing under its skin",
                    "emissiveColor" when Has("coat_weight") => "the coat's tint is left out of the light that the surface gives off",
                    "clearcoat" when Has("coat_color") => "the tint of a coat does not make it weaker",
                    "useSpecularWorkflow"
                    or "metallic"
                    or "specularColor"
                    or "diffuseColor"
                    or "ior" when to.Surface.Port("useSpecularWorkflow")?.Value == "1" =>
                        "a coat that reflects more than the base below it keeps its own index, and the base's reflection is a "
                            + "specular colour",
                    "roughness" or "ior" when Has("coat_weight") =>
                        "what a coat does to the surface below is undone and done again; the base's own index stays",
                    "roughness" when Has("specular_roughness_anisotropy") => "the mean width of a stretched lobe",
                    "clearcoatRoughness" when Has("coat_roughness_anisotropy") => "the mean width of a stretched lobe",
                    _ => null,
                };
            foreach (var output in graph.Outputs.Where(o => o != "normal_out"))
            {
                var (published, ours) = (graph.Output(output), OfSurface(to, usd, output[..^4]));
                tally.Compare(
                    $"{look.Name}, {output}",
                    usd.Input(output[..^4]).Type == "color3" ? InRec709(published, double.PositiveInfinity) : published,
                    ours,
                    Reason(output[..^4])
                );
            }
        }
        tally.Check(400);
    }

    /// <summary>
    /// The roughness of fibres is squared in glTF (KHR_materials_sheen, "Sheen distribution") and not in Standard Surface, so its root is
    /// written where the graph hands it on.
    /// </summary>
    [Fact]
    public async Task StandardSurfaceToGltf()
    {
        var (standard, gltf) = (shop.Profiles.Find("standard_surface"), shop.Profiles.Find("gltf"));
        var tally = new Tally();
        Look Turned(float turns) =>
            new()
            {
                Name = $"turned {turns}",
                Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("geometry_tangent", new(LookValue.Of(turns))),
            };
        foreach (
            var look in ConversionMatrix
                .Looks()
                .Append(Turned(0.3f))
                .Append(Turned(0.85f))
                .Where(l =>
                    !l.Lanes.ContainsKey("transmission_weight")
                    && !l.Lanes.ContainsKey("coat_weight")
                    && !l.Lanes.ContainsKey("specular_roughness_anisotropy")
                )
        )
        {
            var from = (await shop.CompileAsync(look, "standard_surface")).Network;
            var to = (await shop.CompileAsync(await NetworkReading.ReadAsync(standard, from), "gltf")).Network;
            var graph = new PublishedGraph("NG_standard_surface_to_gltf_pbr", name => OfSurface(from, standard, name));
            double[] Factor(string port, double missing) => to.Surface.Port(port)?.Value is { } text ? Numbers(text) : [missing];
            tally.Compare($"{look.Name}, base colour", InRec709(graph.Output("base_color_out"), 1), Factor("baseColorFactor", 1), null);
            tally.Compare($"{look.Name}, metallic", graph.Output("metallic_out"), Factor("metallicFactor", 1), null);
            tally.Compare($"{look.Name}, roughness", graph.Output("roughness_out"), Factor("roughnessFactor", 1), null);
            // The one place that tells in which sense the rotation counts. The graph has 2π as 6.283.
            static double[] Direction(double[] radians) => [Math.Cos(radians[0]), Math.Sin(radians[0])];
            tally.Compare(
                $"{look.Name}, rotation",
                Direction([graph.Output("anisotropy_rotation_out")[0] / 6.283 * 2 * Math.PI]),
                Direction(Factor("anisotropyRotation", 0)),
                null
            );
            tally.Compare($"{look.Name}, sheen", InRec709(graph.Output("sheen_color_out"), 1), Factor("sheenColorFactor", 0), null);
            tally.Compare(
                $"{look.Name}, sheen roughness",
                [Math.Sqrt(graph.Output("sheen_roughness_out")[0])],
                Factor("sheenRoughnessFactor", 0),
                null
            );
            var strength = Factor("emissiveStrength", 1)[0];
            tally.Compare(
                $"{look.Name}, emissive",
                InRec709(graph.Output("emissive_out"), double.PositiveInfinity),
                [.. Factor("emissiveFactor", 0).Select(v => v * strength)],
                look.Lanes.ContainsKey("emission_color")
                    ? "a factor ends at 1, and a colour that Rec.709 holds only beyond that is limited"
                    : null
            );
        }
        tally.Check(150);
    }
}
