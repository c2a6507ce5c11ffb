using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;

namespace Kiln.Looks.Tests;

/// <summary>Two looks compared place by place.</summary>
public sealed class LookChangesTests
{
    private static readonly Look Plain = new() { Name = "wall" };

    private static Look With(Look look, string lane, float value) =>
        look with
        {
            Lanes = look.Lanes.SetItem(lane, new(LookValue.Of(value))),
        };

    [Fact]
    public void WhatIsTheSameIsNotNamed() =>
        Assert.Empty(LookChanges.Between(With(Plain, "coat_weight", 0.5f), With(Plain, "coat_weight", 0.5f)));

    [Fact]
    public void EachLaneIsNamedByItsAddressWithBothSides()
    {
        var changes = LookChanges.Between(
            With(With(Plain, "coat_weight", 0.5f), "fuzz_weight", 1),
            With(With(Plain, "coat_weight", 0.75f), "base_metalness", 1)
        );
        Assert.Equal(["base_metalness", "coat_weight", "fuzz_weight"], changes.Select(c => c.Place));
        Assert.Null(changes[0].Before);
        Assert.Contains("0.5", changes[1].Before, StringComparison.Ordinal);
        Assert.Contains("0.75", changes[1].After, StringComparison.Ordinal);
        Assert.Null(changes[2].After);
    }

    [Fact]
    public void CoversAreComparedLaneByLane()
    {
        Look Covered(float rough, string name) =>
            Plain with
            {
                Layers =
                [
                    new(
                        name,
                        ImmutableSortedDictionary<string, Lane>.Empty.Add("specular_roughness", new(LookValue.Of(rough))),
                        new(LookValue.Of(1f))
                    ),
                ],
            };
        Assert.Equal(
            ["cover:0:specular_roughness"],
            LookChanges.Between(Covered(0.2f, "dust"), Covered(0.3f, "dust")).Select(c => c.Place)
        );
        Assert.Equal(["cover:0:name"], LookChanges.Between(Covered(0.2f, "dust"), Covered(0.2f, "rust")).Select(c => c.Place));
        Assert.Equal(["cover:0"], LookChanges.Between(Plain, Covered(0.2f, "dust")).Select(c => c.Place));
    }

    [Fact]
    public void NamePlacementAndSizeAreTold() =>
        Assert.Equal(
            ["name", "placement", "sizeU"],
            LookChanges
                .Between(Plain, Plain with { Name = "wall 2", Placement = new(2, 2), SizeU = 3 })
                .Select(c => c.Place)
                .Order(StringComparer.Ordinal)
        );
}
