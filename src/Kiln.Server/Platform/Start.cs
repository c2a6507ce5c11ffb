using Kiln.Server.Looks;
using Kiln.Colour;
using Kiln.Demo;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Wiring;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Server.Packages;
using Kiln.Server.Profiles;
using Kiln.Proof.Rendering;
using Kiln.Scattering;
using Kiln.Store;
using Microsoft.AspNetCore.Identity;

namespace Kiln.Server.Platform;

/// <summary>What happens before the first request: schema, leftovers of a killed server, demo people and the demo collection.</summary>
public static class Start
{
    public static async Task PrepareAsync(IServiceProvider services, CancellationToken cancel)
    {
        services.GetRequiredService<Database>().Migrate();
        var deliveries = services.GetRequiredService<Deliveries>();
        await deliveries.MarkUnfinishedAsync();
        services.GetRequiredService<Uploads>().KeepOnly(await deliveries.WaitingAsync());
        await services.GetRequiredService<ContentStore>().SweepAsync(services.GetRequiredService<Database>(), TimeSpan.FromDays(1), cancel);
        await services.GetRequiredService<ConfigDesk>().RefreshAsync();
        await services.GetRequiredService<ProfileDesk>().RefreshAsync();
        await services.GetRequiredService<BatchJob>().GoOnAsync(services.GetRequiredService<Hangfire.IBackgroundJobClient>());
        _ = Task.Run(() => services.GetRequiredService<WarmingUp>().RunAsync(cancel), cancel);
        if (services.GetRequiredService<KilnSettings>().DemoDeliveries is { } folder)
            await DemoAsync(services, folder, cancel);
    }

    /// <summary>One look uses a cover: limewash worn off over copper, where the copper's own patina is.</summary>
    private static async Task CoveredAsync(LookStore looks, Collections collections, Guid artist)
    {
        var all = await looks.ListAsync(null);
        if (all.FirstOrDefault(l => l.Name == "verdigris copper pipe") is not { } pipe || all.FirstOrDefault(l => l.Name == "limewashed wall") is not { } wall)
            return;
        var copper = pipe.Look();
        var look = Covering.Over(copper, wall.Look(), null).Apply(copper).Look with { Name = "limewash over copper" };
        var mask = new Chain(look.Lanes["base_metalness"].Chain!.Origin, [new InvertStep { Id = "s1" }, new CurveStep([new(0, 0), new(0.35f, 0.05f), new(0.65f, 0.95f), new(1, 1)]) { Id = "s2" }]);
        look = new LaneEdit("cover:0:mask", new Lane(LookValue.Of(1f), mask)).Apply(look).Look;
        await collections.AddAsync(await collections.EnsureAsync("The Tide Organ"), await looks.CreateAsync(look, artist, null));
    }

    /// <summary>One look uses values beside its maps: the steel knob lies under a worn clear lacquer.</summary>
    private static async Task LacqueredAsync(LookStore looks, Guid artist)
    {
        if ((await looks.ListAsync(null)).FirstOrDefault(l => l.Name == "knurled steel knob") is not { } knob)
            return;
        var revision = knob.Revision;
        foreach (var (lane, value) in ((string, float)[])[("coat_weight", 0.7f), ("coat_roughness", 0.12f), ("coat_ior", 1.5f), ("specular_roughness_anisotropy", 0.3f)])
            revision = (await looks.EditAsync(knob.Id, revision, new LaneEdit(lane, new(LookValue.Of(value))), artist)).Revision;
    }

    private static async Task DemoAsync(IServiceProvider services, string folder, CancellationToken cancel)
    {
        var people = services.GetRequiredService<Store.People>();
        var hasher = new PasswordHasher<string>();
        foreach (var (name, shown, role) in ((string, string, string)[])[("ada", "Ada Brandt", "admin"), ("noor", "Noor Teale", "artist")])
            await people.AddAsync(new(Guid.CreateVersion7(), name, shown, role, hasher.HashPassword(name, name + "-kiln")));
        var deliveries = services.GetRequiredService<Deliveries>();
        if ((await deliveries.ListAsync()).Count > 0)
            return;
        DemoDeliveries.Make(folder);
        var artist = (await people.FindAsync("noor"))!;
        var collections = services.GetRequiredService<Collections>();
        var looks = services.GetRequiredService<LookStore>();
        foreach (var (file, collection) in DemoDeliveries.All)
        {
            var id = await deliveries.CreateAsync(Path.GetFileNameWithoutExtension(file), artist.Id);
            var uploads = services.GetRequiredService<Uploads>();
            var source = Path.Combine(folder, file);
            foreach (var part in Directory.Exists(source) ? Directory.GetFiles(source, "*", SearchOption.AllDirectories) : [source])
                File.Copy(part, uploads.PathFor(id, Path.GetRelativePath(Directory.Exists(source) ? source : folder, part)));
            await deliveries.AdvanceAsync(id, "receiving", "analysing");
            await services.GetRequiredService<IntakeJob>().RunAsync(id, cancel);
            var row = (await deliveries.FindAsync(id))!;
            var shelf = await collections.EnsureAsync(collection);
            foreach (var set in row.Intake()!.Sets.Where(s => s.Ready))
            {
                var look = SetWiring.Wire(set) with { Colour = services.GetRequiredService<ConfigDesk>().Remembered };
                var lookId = await looks.CreateAsync(look with { Tags = [.. set.Name.Split('_').Where(w => w.Length > 3)] }, artist.Id, id);
                await collections.AddAsync(shelf, lookId);
                if (set.Name.Contains("copper", StringComparison.Ordinal))
                    await looks.PublishAsync(lookId, 1, "first version for the pipe rows", artist.Id);
            }
        }
        await CoveredAsync(looks, collections, artist.Id);
        await LacqueredAsync(looks, artist.Id);
    }
}
