using System.Collections.Immutable;
using Kiln.Analysis.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Analysis.Tests;

/// <summary>Maps are measured once for each thing that they may be measured for, and what failed is tried again.</summary>
public sealed class MapMeasuringTests
{
    /// <summary>One bumpy normal map under every name; gone for as long as a test wants.</summary>
    private sealed class OneMap : IContentFiles, IPictureDecoder
    {
        public int Decoded { get; private set; }

        public bool IsGone { get; set; }

        public string PathOf(ContentHash content) => IsGone ? throw new ContentMissingException("gone") : "map";

        public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default)
        {
            Decoded++;
            var picture = new ImageBuffer(64, 64, ImageBuffer.Rgb, SampleType.F32);
            var samples = picture.Samples<float>();
            for (var i = 0; i < 64 * 64; i++)
            {
                float x = i % 64 / 64f * MathF.Tau,
                    y = i / 64 / 64f * MathF.Tau;
                // The slopes of sin x · sin y, pointing up in green.
                samples[3 * i] = 0.5f - 0.2f * MathF.Cos(x) * MathF.Sin(y);
                samples[3 * i + 1] = 0.5f + 0.2f * MathF.Sin(x) * MathF.Cos(y);
                samples[3 * i + 2] = 0.95f;
            }
            return Task.FromResult(picture);
        }
    }

    private static Look Of(params (string Slot, MapRole Role)[] slots)
    {
        var file = new MapFile(Hashes.Named("map"), "map.png", 64, 64, 8, false, "png", ["R", "G", "B"], null);
        return new() { Name = "measured", Slots = slots.ToImmutableSortedDictionary(s => s.Slot, s => new Slot(s.Role, file, [file])) };
    }

    private static async Task<MapMeasurement> OneAsync(MapMeasuring measuring, Look look) =>
        Assert.Single(await measuring.OfAsync(look)).Value;

    /// <summary>Before, whoever came first decided: a normal map that had been read as roughness once had no direction any more.</summary>
    [Fact]
    public async Task ADirectionIsMeasuredWhateverTheFileWasReadAsBefore()
    {
        var map = new OneMap();
        var measuring = new MapMeasuring(map, map);
        Assert.Null((await OneAsync(measuring, Of(("roughness", MapRole.Roughness)))).Slopes);
        Assert.NotNull((await OneAsync(measuring, Of(("normal", MapRole.Normal)))).Slopes);
        Assert.NotNull((await OneAsync(measuring, Of(("height", MapRole.Height)))).Slopes);
        Assert.Equal(3, map.Decoded);
    }

    [Fact]
    public async Task OfAFileInTwoSlotsWhatTellsMostIsMeasured()
    {
        var map = new OneMap();
        var both = Of(("a roughness", MapRole.Roughness), ("normal", MapRole.Normal));
        Assert.NotNull((await OneAsync(new(map, map), both)).Slopes);
        Assert.Equal(1, map.Decoded);
    }

    [Fact]
    public async Task WhatIsKnownIsNotMeasuredAgain()
    {
        var map = new OneMap();
        var measuring = new MapMeasuring(map, map);
        var first = await OneAsync(measuring, Of(("roughness", MapRole.Roughness)));
        Assert.Same(first, await OneAsync(measuring, Of(("metalness", MapRole.Metalness))));
        Assert.Equal(1, map.Decoded);
    }

    [Fact]
    public async Task AMapThatComesBackIsMeasured()
    {
        var map = new OneMap { IsGone = true };
        var measuring = new MapMeasuring(map, map);
        Assert.Same(MapMeasurement.Unknown, await OneAsync(measuring, Of(("normal", MapRole.Normal))));
        map.IsGone = false;
        Assert.NotNull((await OneAsync(measuring, Of(("normal", MapRole.Normal)))).Slopes);
    }
}
