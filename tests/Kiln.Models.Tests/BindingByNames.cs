using Kiln.Models.Binding;

namespace Kiln.Models.Tests;

/// <summary>
/// Sets bound to parts by their names: cases one by one, and 240 invented names in ten naming styles of parts and sets, in two halves.
/// Things of the second half were not looked at while the rules were written; the styles are the same in both.
/// </summary>
public class BindingByNames
{
    private static ModelPart Part(string path, string? material = null) =>
        new(path, path[(path.LastIndexOf('/') + 1)..], material, [], [], [], null);

    private static BoundParts Bound(string[] sets, params ModelPart[] parts) => new NameBinding(sets).Of(parts);

    [Theory]
    [InlineData("valveA_mtl", "valve_a")]
    [InlineData("ValveA", "valve_a")]
    [InlineData("valve_a_low", "valve_a")]
    [InlineData("SM_Valve_A_LOD0", "valve_a")]
    [InlineData("rig:valve-a.003", "valve_a")]
    [InlineData("valves", "valve")]
    public void ANearMissIsTheSet(string part, string set) =>
        Assert.Equal(set, Bound([set, "casing", "dial"], Part("/" + part)).Bindings.Single().Set);

    [Fact]
    public void AnObjectAndItsPartTogetherNameASet()
    {
        var bound = Bound(["valve_handle", "valve_body"], Part("/Valve/Handle"), Part("/Valve/Body"));
        Assert.Equal([("/Valve/Handle", "valve_handle"), ("/Valve/Body", "valve_body")], bound.Bindings.Select(b => (b.Part, b.Set)));
        Assert.Empty(bound.UnusedSets);
    }

    [Fact]
    public void PartAndMaterialThatPointAtDifferentSetsAreAskedAbout()
    {
        var bound = Bound(["knob", "brass", "felt"], Part("/knob", "brass_mat"), Part("/dial", "brass"), Part("/knob2", "lambert"));
        var question = bound.Questions.Single(q => q.Part == "/knob");
        Assert.Equal(["brass", "knob"], question.Candidates.Order());
        Assert.Equal("brass", bound.Bindings.Single(b => b.Part == "/dial").Set);
        Assert.Equal(["felt"], bound.UnusedSets);
    }

    [Theory]
    // A word in common, a letter, a number: near, but not sure.
    [InlineData("valve", "valve_a|valve_b")]
    [InlineData("grile", "grille|casing")]
    [InlineData("tile_3", "tile_1|tile_2")]
    [InlineData("strange", "grille|casing")]
    public void WhatIsNotSureIsNotBound(string part, string sets) => Assert.Empty(Bound(sets.Split('|'), Part("/" + part)).Bindings);

    [Fact]
    public void NumbersTellThingsApart()
    {
        var bound = Bound(["bolt_01", "bolt_02", "plate"], Part("/Bolt_01"), Part("/bolt2"), Part("/Bolt_11"), Part("/plate_004"));
        Assert.Equal(
            [("/Bolt_01", "bolt_01"), ("/bolt2", "bolt_02"), ("/plate_004", "plate")],
            bound.Bindings.Select(b => (b.Part, b.Set))
        );
    }

    [Fact]
    public void OneThingAndOneSetAreAskedAbout() =>
        Assert.Equal(["sail_canvas"], Bound(["sail_canvas"], Part("/default")).Questions.Single().Candidates);

    private static readonly string[] First =
    [
        "valve handle",
        "main body",
        "speaker grille",
        "tuning dial",
        "back plate",
        "battery door",
        "antenna rod",
        "volume knob",
        "left strap",
        "right strap",
        "glass window",
        "rubber foot",
    ];

    private static readonly string[] Second =
    [
        "organ pipe",
        "reed frame",
        "wind chest",
        "pedal board",
        "key ivory",
        "key ebony",
        "bellows leather",
        "brass hinge",
        "stone base",
        "carved panel",
        "music desk",
        "stop knob",
    ];

    private static string Pascal(string name) => string.Concat(name.Split(' ').Select(w => char.ToUpperInvariant(w[0]) + w[1..]));

    /// <summary>How parts are called, and how their maps' sets are, as intake has made them.</summary>
    private static readonly (Func<string, string> Part, Func<string, string?> Material, Func<string, string> Set)[] Styles =
    [
        (n => n.Replace(' ', '_'), _ => null, n => n.Replace(' ', '_')),
        (n => "SM_" + Pascal(n), n => "MI_" + Pascal(n), n => n.Replace(' ', '_')),
        (n => Pascal(n) + "_low", _ => "lambert", n => n.Replace(" ", "")),
        (n => n.Replace(' ', '-') + "_geo", n => n.Replace(' ', '-') + "_mtl", n => "fr2_" + n.Replace(' ', '_')),
        (n => Pascal(n) + ".001", _ => "Material.002", n => n.Replace(' ', '_')),
        (_ => "Object12", n => Pascal(n) + "_shader", n => n.Replace(' ', '_')),
        (n => n.ToUpperInvariant().Replace(' ', '_') + "_LOD0", n => n.ToUpperInvariant().Replace(' ', '_'), n => n.Replace(' ', '_')),
        (n => "radio_" + n.Replace(' ', '_') + "_mesh", _ => "default", n => "radio_" + n.Replace(' ', '_')),
        (n => "asset:" + char.ToLowerInvariant(n[0]) + Pascal(n)[1..] + "Shape", _ => null, n => n.Replace(' ', '_')),
        (n => string.Join('_', n.Split(' ').Reverse()), _ => "unnamed", n => n.Replace(' ', '_')),
    ];

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void NamesOfTenStylesAreBoundAndNoneWrong(bool second)
    {
        var names = second ? Second : First;
        var (right, wrong, all) = (0, new List<string>(), 0);
        foreach (var (part, material, set) in Styles)
        {
            // A part more that has no maps, and a set more that has no part.
            var parts = names.Select((n, i) => Part($"/{part(n)}{(part(n) == "Object12" ? $"_{i}" : "")}", material(n))).ToList();
            var bound = new NameBinding([.. names.Select(set), "unrelated_thing"]).Of([.. parts, Part("/cable")]);
            for (var i = 0; i < names.Length; i++, all++)
            {
                var made = bound.Bindings.FirstOrDefault(b => b.Part == parts[i].Path);
                right += made?.Set == set(names[i]) ? 1 : 0;
                if (made is not null && made.Set != set(names[i]))
                    wrong.Add($"{made.Part}: {made.Set}");
            }
            wrong.AddRange(bound.Bindings.Where(b => b.Part == "/cable").Select(b => $"{b.Part}: {b.Set}"));
        }
        Assert.Equal(120, all);
        Assert.Empty(wrong);
        Assert.True(right >= 0.97 * all, $"{right} of {all}");
    }
}
