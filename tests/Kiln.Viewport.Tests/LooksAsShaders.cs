using Kiln.Exchange.Tests;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Graph;
using Kiln.Proof.Materials;
using Kiln.Viewport.Graphs;
using Kiln.Viewport.Tests.Running;

namespace Kiln.Viewport.Tests;

/// <summary>
/// Whole looks as the bench draws them: a graphics processor takes every one, and a change of value leaves the text as it is.
/// </summary>
[Collection(Shaders.Name)]
public sealed class LooksAsShaders(ShaderBrowser browser, DemoLooks demo) : IClassFixture<DemoLooks>
{
    private const string Head =
        "#version 300 es\nprecision highp float;\nprecision highp int;\nprecision highp sampler2DArray;\nprecision highp sampler3D;\n"
        + "precision highp usampler2D;\n";

    private static LookShader Shader(SurfaceGraph surface) => LookShader.Of(surface.Graph, surface.Nodes, surface.Model, new MapPlan(1024));

    private LookShader OfLook(Look look, LiveValues? live = null) =>
        Shader(SurfaceGraph.OfLook(look, demo.Shop.Profiles.Find("openpbr"), live: live));

    /// <summary>What the graphics processor says against a look's shaders: under lights with and without suns, and, of one that is not
    /// opaque, of what tells which triangles are seen.</summary>
    private IEnumerable<string> Faults(LookShader shader)
    {
        var text = ViewportText.Shipped;
        foreach (var suns in (int[])[0, 1])
            yield return browser.Link(Head + text.ScreenVertex, $"{Head}#define KILN_SUNS {suns}\n{shader.Source}{text.Form}");
        if (!shader.IsOpaque)
            yield return browser.Link(Head + text.TriangleVertex, $"{Head}#define KILN_SUNS 0\n{shader.Source}{text.Cut}");
    }

    [Fact]
    public void EveryLookOfTheDemoLinks()
    {
        var shaders = demo.All.Select(l => OfLook(l)).ToList();
        Assert.Contains(shaders, s => !s.IsOpaque);
        foreach (var shader in shaders)
            Assert.All(Faults(shader), f => Assert.Equal("", f));
    }

    [Fact]
    public async Task ALookLinksAsEveryDialectHasIt()
    {
        foreach (var dialect in Workshop.Dialects)
        {
            var network = (await demo.Shop.CompileAsync(demo.All[0], dialect)).Network;
            Assert.All(Faults(Shader(SurfaceGraph.OfNetwork(network, demo.Shop.Profiles.Find(dialect)))), f => Assert.Equal("", f));
        }
    }

    [Fact]
    public void WhatStandsAroundALookLinks()
    {
        var text = ViewportText.Shipped;
        foreach (
            var (vertex, fragment) in ((string, string)[])
                [
                    (text.FloorVertex, text.Floor),
                    (text.ScreenVertex, text.Background),
                    (text.ScreenVertex, text.Display),
                    (text.FloorVertex, text.Shadow),
                    (text.TriangleVertex, text.Whole),
                    (text.ScreenVertex, text.CellLight),
                    (text.ScreenVertex, text.FloorLight),
                    (text.ScreenVertex, text.FormLight),
                ]
        )
            Assert.Equal("", browser.Link(Head + vertex, Head + fragment));
    }

    /// <summary>A lane's value changes numbers; only another structure changes the text.</summary>
    [Fact]
    public void AValueIsANumberAndNoNewShader()
    {
        Look With(string lane, float value) => demo.All[0] with { Lanes = demo.All[0].Lanes.SetItem(lane, new(LookValue.Of(value))) };
        var (one, other) = (OfLook(With("specular_ior", 1.4f)), OfLook(With("specular_ior", 1.6f)));
        Assert.Equal(one.Source, other.Source);
        Assert.NotEqual(one.Numbers, other.Numbers);
        // A coat that is not there costs nothing, so one that comes is another structure; unless somebody is about to lay it on.
        Assert.NotEqual(OfLook(With("coat_weight", 0)).Structure, OfLook(With("coat_weight", 0.5f)).Structure);
        LookShader About(float value)
        {
            var look = With("coat_weight", value);
            return OfLook(look, LiveValues.Of(look, ["coat_weight"]));
        }
        var (bare, coated) = (About(0), About(0.5f));
        Assert.Equal(bare.Source, coated.Source);
        var place = Assert.Single(bare.Parameters);
        Assert.Equal(("coat_weight", 1), (place.Name, place.Count));
        Assert.Equal((0f, 0.5f), (bare.Numbers[place.At / 4][place.At % 4], coated.Numbers[place.At / 4][place.At % 4]));
    }

    /// <summary>Maps of one size lie in one texture, however many they are: a look with forty needs no unit more.</summary>
    [Fact]
    public void MapsShareTextureUnits()
    {
        foreach (var look in demo.All)
            Assert.InRange(OfLook(look).Maps.Count, 0, 6);
    }
}
