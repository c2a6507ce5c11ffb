using Kiln.Intake;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Server.Collecting;
using Kiln.Server.Configs;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Server.Platform.Starting;

/// <summary>The looks of the demo that somebody worked on: layered, lacquered, in colourways.</summary>
public sealed class DemoLooks(
    LookRepository looks,
    LookListRepository list,
    VersionRepository versions,
    VersionContexts contexts,
    CollectionRepository collections,
    ConfigRegistry colour
)
{
    /// <summary>A look of a delivered set, in its collection; the copper has a published version.</summary>
    public async Task WireAsync(MapSet set, DeliveryId delivery, CollectionId collection, PersonId person)
    {
        var look = SetWiring.Wire(set) with { Colour = colour.Remembered, Tags = [.. set.Name.Split('_').Where(w => w.Length > 3)] };
        var made = await looks.CreateAsync(look, person, delivery);
        await collections.AddAsync(collection, made);
        if (set.Name.Contains("copper", StringComparison.Ordinal))
            await versions.AddAsync(made, 1, "first version for the pipe rows", person, published: true, await contexts.OfAsync(made));
    }

    public async Task MakeAsync(PersonId lead, PersonId artist)
    {
        await LayeredAsync(lead);
        await LacqueredAsync(artist);
        await ColouredAsync(lead);
    }

    /// <summary>One look uses a cover: limewash worn off over copper, where the copper's own patina is.</summary>
    private async Task LayeredAsync(PersonId person)
    {
        if (await NamedAsync("verdigris copper pipe") is not { } pipe || await NamedAsync("limewashed wall") is not { } wall)
            return;
        var copper = pipe.Look();
        var look = Layering.Over(copper, wall.Look(), null).Apply(copper).Look with { Name = "limewash over copper" };
        var mask = new Chain(
            look.Lanes["base_metalness"].Chain!.Origin,
            [new InvertStep { Id = "s1" }, new CurveStep([new(0, 0), new(0.35f, 0.05f), new(0.65f, 0.95f), new(1, 1)]) { Id = "s2" }]
        );
        look = new LaneEdit("cover:0:mask", new Lane(LookValue.Of(1f), mask)).Apply(look).Look;
        await collections.AddAsync(await collections.EnsureAsync("The Tide Organ"), await looks.CreateAsync(look, person, null));
    }

    /// <summary>One look uses values beside its maps and waits for a lead: the steel knob lies under a worn clear lacquer.</summary>
    private async Task LacqueredAsync(PersonId artist)
    {
        if (await NamedAsync("knurled steel knob") is not { } knob)
            return;
        var revision = knob.Revision;
        foreach (
            var (lane, value) in ((string, float)[])
                [("coat_weight", 0.7f), ("coat_roughness", 0.12f), ("coat_ior", 1.5f), ("specular_roughness_anisotropy", 0.3f)]
        )
            revision = (await looks.EditAsync(knob.Id, revision, new ValueEdit(lane, LookValue.Of(value)), artist)).Revision;
        await versions.AddAsync(
            knob.Id,
            revision,
            "lacquered, as on the sample",
            artist,
            published: false,
            await contexts.OfAsync(knob.Id)
        );
    }

    /// <summary>
    /// The radio comes in four colourways: a dye over what the body's own colour has of light and dark, one of them with a matt finish.
    /// </summary>
    private async Task ColouredAsync(PersonId person)
    {
        const string dye = "base_color/dye/other";
        if (await NamedAsync("anodised body") is not { } body || body.Look().Lanes.GetValueOrDefault("base_color")?.Chain is not { } chain)
            return;
        Variant Of(string name, string hex, float? roughness = null)
        {
            var values = System.Collections.Immutable.ImmutableSortedDictionary<string, LookValue>.Empty.Add(
                dye,
                LookValue.Of(Kiln.Colour.ColourValue.FromHex(hex))
            );
            return new(name) { Values = roughness is { } r ? values.Add("specular_roughness", LookValue.Of(r)) : values };
        }
        await looks.EditAsync(
            body.Id,
            body.Revision,
            new BatchEdit(
                "four colourways",
                [
                    new StepInsertEdit("base_color", chain.Steps.Length, new GradeStep(Saturation: 0, Value: 3) { Id = "grey" }),
                    new StepInsertEdit(
                        "base_color",
                        chain.Steps.Length + 1,
                        new MixStep(MixMode.Multiply, new(LookValue.Of(Kiln.Colour.ColourValue.FromHex("#7a988c"))), new(1)) { Id = "dye" }
                    ),
                    new VariantsEdit([
                        Of("Dune", "#d8c09a"),
                        Of("Harbour blue", "#4a6f9c"),
                        Of("Buoy orange", "#e07a34"),
                        Of("Slate, matt", "#6a7278", 0.62f),
                    ]),
                ]
            ),
            person
        );
    }

    private async Task<LookRow?> NamedAsync(string name) =>
        (await list.FindAsync(new(Words: name))).FirstOrDefault(l => l.Name == name) is { } found ? await looks.FindAsync(found.Id) : null;
}
