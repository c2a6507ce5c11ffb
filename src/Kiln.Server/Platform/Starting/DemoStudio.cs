using Kiln.Demo;
using Kiln.Dialects.Profiles;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Server.Collecting;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Intake;
using Kiln.Store.Looks;
using Kiln.Store.People;

namespace Kiln.Server.Platform.Starting;

/// <summary>
/// Fills an empty studio with the demo: people of every role, the deliveries taken in, their looks wired, kept in collections, one
/// published, one waiting.
/// </summary>
public sealed class DemoStudio(
    PersonRepository people,
    DeliveryRepository deliveries,
    Uploads uploads,
    IntakeJob intake,
    LookRepository looks,
    LookListRepository list,
    VersionRepository versions,
    CollectionRepository collections,
    LookContextRepository spaces,
    DialectProfiles profiles,
    ConfigRegistry colour
)
{
    public static readonly IReadOnlyList<(string Name, string Shown, string Role)> People =
    [
        ("ada", "Ada Brandt", "admin"),
        ("noor", "Noor Teale", "lead"),
        ("mika", "Mika Orrell", "artist"),
        ("vera", "Vera Lind", "viewer"),
    ];

    public async Task FillAsync(string folder, CancellationToken cancel)
    {
        // Made once, in a studio without anybody; whom somebody changed or disabled stays so.
        if (!await people.AnyAsync())
            foreach (var (name, shown, role) in People)
                await people.AddAsync(name, shown, role, Passwords.HashAsItIs(name, name + "-kiln"), new("demo"));
        if ((await deliveries.ListAsync()).Count > 0)
            return;
        DemoDeliveries.Make(folder);
        if (await people.FindAsync("noor") is not { Id: var lead })
            return;
        foreach (var (file, collection) in DemoDeliveries.All)
            await TakenInAsync(folder, file, await collections.EnsureAsync(collection), lead, cancel);
        await LayeredAsync(lead);
        await LacqueredAsync((await people.FindAsync("mika"))!.Id);
        await ColouredAsync(lead);
    }

    private async Task TakenInAsync(string folder, string file, Guid collection, Guid person, CancellationToken cancel)
    {
        var id = await deliveries.CreateAsync(Path.GetFileNameWithoutExtension(file), person);
        var source = Path.Combine(folder, file);
        foreach (var part in Directory.Exists(source) ? Directory.GetFiles(source, "*", SearchOption.AllDirectories) : [source])
            File.Copy(part, uploads.PathFor(id, Path.GetRelativePath(Directory.Exists(source) ? source : folder, part)));
        await deliveries.AdvanceAsync(id, "receiving", "analysing");
        await intake.RunAsync(id, cancel);
        foreach (var set in (await deliveries.FindAsync(id))!.Intake()!.Sets.Where(s => s.Ready))
        {
            var look = SetWiring.Wire(set) with { Colour = colour.Remembered };
            var made = await looks.CreateAsync(look with { Tags = [.. set.Name.Split('_').Where(w => w.Length > 3)] }, person, id);
            await collections.AddAsync(collection, made);
            if (set.Name.Contains("copper", StringComparison.Ordinal))
                await versions.AddAsync(
                    made,
                    1,
                    "first version for the pipe rows",
                    person,
                    published: true,
                    await VersionRoutes.ContextAsync(made, spaces, profiles, colour)
                );
        }
    }

    /// <summary>One look uses a cover: limewash worn off over copper, where the copper's own patina is.</summary>
    private async Task LayeredAsync(Guid person)
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
    private async Task LacqueredAsync(Guid artist)
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
            await VersionRoutes.ContextAsync(knob.Id, spaces, profiles, colour)
        );
    }

    /// <summary>
    /// The radio comes in four colourways: a dye over what the body's own colour has of light and dark, one of them with a matt finish.
    /// </summary>
    private async Task ColouredAsync(Guid person)
    {
        const string dye = "base_color/dye/other";
        if (await NamedAsync("anodised body") is not { } body || body.Look().Lanes.GetValueOrDefault("base_color")?.Chain is not { } chain)
            return;
        Variant Of(string name, string hex, float? roughness = null)
        {
            var values = System.Collections.Immutable.ImmutableSortedDictionary<string, LookValue>.Empty.Add(
                dye,
                LookValue.Of(Colour.ColourValue.FromHex(hex))
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
                        new MixStep(MixMode.Multiply, new(LookValue.Of(Colour.ColourValue.FromHex("#7a988c"))), new(1)) { Id = "dye" }
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
