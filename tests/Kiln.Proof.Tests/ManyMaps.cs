using System.Collections.Immutable;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>A look of sixty maps: ten covers over a ground, each with a mask and five lanes of its own.</summary>
public sealed class ManyMaps : IDisposable
{
    private static readonly (string Input, MapRole Role, Reading Reading)[] Lanes =
    [
        ("base_color", MapRole.BaseColor, new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)),
        ("base_metalness", MapRole.Metalness, new(ReadingKind.Scalar, "raw", MapChannel.Luminance)),
        ("specular_roughness", MapRole.Roughness, new(ReadingKind.Scalar, "raw", MapChannel.Luminance)),
        ("coat_weight", MapRole.Coat, new(ReadingKind.Scalar, "raw", MapChannel.Luminance)),
        ("geometry_normal", MapRole.Normal, new(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up)),
    ];

    private readonly PictureFolder pictures = new();

    public void Dispose() => pictures.Dispose();

    [Fact]
    public async Task SixtyMapsGiveAPictureOfNumbers()
    {
        var random = new Random(5);
        var slots = ImmutableSortedDictionary<string, Slot>.Empty;
        Chain Map(string name, MapRole role, Reading reading)
        {
            var picture = new ImageBuffer(32, 32, reading.Kind == ReadingKind.Scalar ? ImageBuffer.Grey : ImageBuffer.Rgb, SampleType.U8);
            foreach (ref var b in picture.Samples<byte>())
                b = (byte)random.Next(256);
            var file = pictures.Store(name + ".png", picture);
            slots = slots.SetItem(name, new(role, file, [file]));
            return new(
                new SlotOrigin(name, reading),
                reading.Kind == ReadingKind.Direction ? [new DecodeNormalStep(new Feed(1)) { Id = "s1" }] : []
            );
        }
        var layers = Enumerable
            .Range(0, 10)
            .Select(i => new Layer(
                $"cover {i}",
                Lanes.ToImmutableSortedDictionary(l => l.Input, l => new Lane(Chain: Map($"{l.Input}{i}", l.Role, l.Reading))),
                new Lane(Chain: Map($"mask{i}", MapRole.IdMask, Lanes[1].Reading))
            ))
            .ToImmutableArray();
        var look = new Look
        {
            Name = "sixty",
            Layers = layers,
            Slots = slots,
        };
        Assert.Equal(60, slots.Count);
        var material = await ProofMaterial.OfLookAsync(
            look,
            DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find("openpbr"),
            pictures.Textures
        );
        var tracer = new ProofRequest("vessel", "lowsun", 48, 48).Start(material);
        tracer.Accumulate(8);
        var values = tracer.Picture().Samples<float>().ToArray();
        Assert.All(values, v => Assert.True(float.IsFinite(v) && v >= 0));
        // No spark: nothing is brighter than a thousand times the mean, with a sun in the sky.
        Assert.True(values.Max() < 1000 * values.Average(), $"{values.Max()} against a mean of {values.Average()}");
    }
}
