using System.Collections.Immutable;
using Kiln.Analysis.Difference;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;

namespace Kiln.Analysis.Tests;

/// <summary>
/// Figures of single lines: an input that cannot be seen costs nothing at all, one that can costs more the farther it is off, and every
/// line has one.
/// </summary>
public sealed class LineFigureTests
{
    private static readonly DialectProfiles Profiles = DialectProfiles.Load(DialectProfiles.ShippedFolder());

    private static async Task<(Dictionary<string, LineFigure> Figures, ConversionReport Report)> OfAsync(
        string dialect,
        params (string Input, LookValue Value)[] values
    )
    {
        var look = new Look { Name = "lines", Lanes = values.ToImmutableSortedDictionary(v => v.Input, v => new Lane(v.Value)) };
        var (files, maps) = (new NoFiles(), new MapTextures(new NoFiles(), new NoFiles()));
        var compiled = await new DialectCompiler(Profiles.Find(dialect), new Bakery(maps, files)).CompileAsync(look);
        var figures = await new LineFigures(Profiles.Find("openpbr"), maps, WorkingSpace.AcesCg, piece =>
        {
            piece();
            return Task.CompletedTask;
        }).MeasureAsync(look, compiled, Profiles.Find(dialect));
        return (figures.ToDictionary(f => f.Input), compiled.Report);
    }

    [Fact]
    public async Task ALostCoatsColourCostsWhatItShows()
    {
        var (figures, report) = await OfAsync(
            "gltf",
            ("coat_weight", LookValue.Of(1f)),
            ("coat_color", new TintValue(0.9f, 0.2f, 0.1f, "lin_rec709")),
            ("base_diffuse_roughness", LookValue.Of(0.5f))
        );
        Assert.Contains(report.Lost, l => l.Input == "coat_color");
        Assert.True(figures["coat_color"].Mean > 3, $"{figures["coat_color"]}");
        Assert.True(figures["coat_color"].Percentile95 > figures["coat_color"].Mean);
        // Flattening of a rough matt surface is there, and small.
        Assert.InRange(figures["base_diffuse_roughness"].Mean, 0.05f, 3);
        Assert.Equal(report.Approximated.Concat(report.Lost).Select(l => l.Input).Distinct().Order(), figures.Keys.Order());
    }

    [Fact]
    public async Task WhatCannotBeSeenCostsNothing()
    {
        // Without a coat its index changes nothing, and the random numbers are the same.
        var (figures, report) = await OfAsync("gltf", ("fuzz_roughness", LookValue.Of(0.9f)));
        Assert.Contains(report.Lost, l => l.Input == "fuzz_roughness");
        Assert.Equal(0, figures["fuzz_roughness"].Mean);
    }
}
