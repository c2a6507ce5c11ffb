using Kiln.Demo;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Ids;
using Kiln.Server.Intake;
using Kiln.Server.Models;
using Kiln.Store.Collections;
using Kiln.Store.Intake;
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
    DemoLooks own,
    ModelBinding models,
    CollectionRepository collections
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
        await models.ByNameAsync();
        await own.MakeAsync(lead, (await people.FindAsync("mika"))!.Id);
    }

    private async Task TakenInAsync(string folder, string file, CollectionId collection, PersonId person, CancellationToken cancel)
    {
        var id = await deliveries.CreateAsync(Path.GetFileNameWithoutExtension(file), person);
        var source = Path.Combine(folder, file);
        foreach (var part in Directory.Exists(source) ? Directory.GetFiles(source, "*", SearchOption.AllDirectories) : [source])
            File.Copy(part, uploads.PathFor(id, Path.GetRelativePath(Directory.Exists(source) ? source : folder, part)));
        await deliveries.AdvanceAsync(id, "receiving", "analysing");
        await intake.RunAsync(id.Value, cancel);
        foreach (var set in (await deliveries.FindAsync(id))!.Intake()!.Sets.Where(s => s.Ready))
            await own.WireAsync(set, id, collection, person);
    }
}
