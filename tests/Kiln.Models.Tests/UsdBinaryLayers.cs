using System.Text;
using CsCheck;
using Kiln.Testing;
using Kiln.Testing.Files;
using Kiln.Usd;
using Kiln.Usd.Crate;

namespace Kiln.Models.Tests;

/// <summary>The binary form of USD layers, value by value against their text; and damaged ones.</summary>
public sealed class UsdBinaryLayers : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-usdc-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    /// <summary>Values of every kind that meshes and materials have, short and long, whole and packed.</summary>
    [Fact]
    public void BinaryValuesOfEveryKindAreTheTexts()
    {
        string Numbers(int count, Func<int, string> one) => string.Join(", ", Enumerable.Range(0, count).Select(one));
        var text = UsdText.Parse(
            $$"""
            #usda 1.0
            ( metersPerUnit = 0.0254 upAxis = "Z" )
            def Xform "a"
            {
                bool a = true
                int b = -7
                int c = 100000
                float d = 0.1
                double e = 0.5
                double f = 0.1
                double3 g = (1, -2, 3)
                double3 h = (1.5, 2, 3)
                float3 i = (127, -128, 0)
                float3 j = (128, 0, 0)
                quatf k = (0.5, 0.1, 0.2, 0.3)
                matrix4d l = ( (1, 0, 0, 0), (0, 2, 0, 0), (0, 0, 3, 0), (4, 5, 6, 1) )
                string m = "text, with comma"
                token n = "word"
                asset o = @maps/a.<UDIM>.png@ ( colorSpace = "raw" )
                token[] p = ["one", "two"]
                int[] q = []
                int[] r = [3, 1, 2]
                int[] s = [{{Numbers(500, i => (i * 7919 % 1000 - (i % 9 == 0 ? 100000 : 0)).ToString())}}]
                int[] t = [{{Numbers(5000, i => i.ToString())}}]
                float[] u = [{{Numbers(100, i => (i / 10).ToString())}}]
                float[] v = [{{Numbers(100, i => i % 3 == 0 ? "0.25" : "1.5")}}] ( interpolation = "vertex" )
                texCoord2f[] w = [{{Numbers(30, i => $"({i}, 0.5)")}}]
                texCoord2h[] x = [(0.1, 0.2), (0.3, 0.4)]
                double[] y = [0.1, 0.2]
                color3f[] z = [(0.1, 0.2, 0.3)]
                float3 aa = (0.1, 0.2, 0.3)
                float3 ab.connect = </a.aa>
                rel ac = </a/b>
                rel ad = [</a/b>, </a>]
                over "b" { }
                class "c" { token n = "inner" }
            }
            """
        );
        UsdLayers.Equal(text, UsdCrate.Parse(CrateWriter.Of(text)));
        var layer = UsdCrate.Parse(CrateWriter.Of(text));
        Assert.Equal(0.0254, layer.Metadata["metersPerUnit"].Numbers!.Single());
        Assert.Equal("Z", layer.Metadata["upAxis"].Text);
    }

    /// <summary>A variant stands beside its prim's children, at a path with the choice in it.</summary>
    [Theory]
    [InlineData("variants = { string size = \"large\" }", "large")]
    [InlineData("", "small", "dark")]
    // The choice of a set within a variant is made outside it, within it, and outside all the same.
    [InlineData("variants = { string size = \"large\" string tone = \"dark\" }", "large", "dark")]
    [InlineData("variants = { string size = \"small\" }", "small", "dark")]
    [InlineData("variants = { string size = \"small\" string tone = \"pale\" }", "small", "pale")]
    public void ABinaryLayersChosenVariantHolds(string metadata, string chosen, string tone = "pale")
    {
        var text = UsdText.Parse(
            $$"""
            #usda 1.0
            def Xform "a" ( sets = ["size"] {{metadata}} )
            {
                token kept = "stronger"
                over "{size=}" ( choices = ["small", "large"] ) { }
                over "{size=small}" ( sets = ["tone"] variants = { string tone = "dark" } )
                {
                    token kept = "weaker"
                    def Mesh "small" { {{UsdLayers.Triangle}} }
                    over "{tone=}" ( choices = ["pale", "dark"] ) { }
                    over "{tone=pale}" { token tone = "pale" }
                    over "{tone=dark}" { token tone = "dark" }
                }
                over "{size=large}" ( sets = ["tone"] )
                {
                    def Mesh "large" { {{UsdLayers.Triangle}} }
                    over "{tone=}" ( choices = ["pale", "dark"] ) { }
                    over "{tone=pale}" { token tone = "pale" }
                    over "{tone=dark}" { token tone = "dark" }
                }
            }
            """
        );
        var path = Path.Combine(folder, "variants.usdc");
        File.WriteAllBytes(path, CrateWriter.Of(text));
        Assert.Equal([$"/a/{chosen}"], AsRead.Of(path).Parts.Select(p => p.Path));
        var prim = UsdCrate.Parse(File.ReadAllBytes(path)).Children[0];
        Assert.Equal("stronger", prim.Find("kept")!.Text);
        Assert.Equal(tone, prim.Find("tone")!.Text);
    }

    /// <summary>A binary layer with any of its bytes changed, or cut off anywhere: a model, or a sentence.</summary>
    [Fact]
    public void DamagedBinaryLayersAreReadOrRefusedWithASentence()
    {
        var whole = CrateWriter.Of(UsdText.Parse(UsdScenes.Of(7)));
        Gen.Select(Gen.Int[0, whole.Length - 1].Array[1, 4], Gen.Byte, Gen.Int[0, 3 * whole.Length])
            .Sample(
                (at, to, end) =>
                {
                    var changed = whole.ToArray();
                    foreach (var i in at)
                        changed[i] = to;
                    var path = Path.Combine(folder, $"damaged_{Environment.CurrentManagedThreadId}.usdc");
                    File.WriteAllBytes(path, changed[..Math.Min(end, changed.Length)]);
                    try
                    {
                        Assert.All(AsRead.Of(path).Parts, p => Assert.All(p.Positions, v => Assert.True(float.IsFinite(v.X + v.Y + v.Z))));
                    }
                    catch (ModelException e)
                    {
                        Assert.Contains("damaged_", e.Message);
                    }
                },
                iter: 3000
            );
    }
}
