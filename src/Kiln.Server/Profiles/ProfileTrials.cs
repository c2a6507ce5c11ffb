using System.Text;
using Kiln.Colour.Views;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.MaterialX;
using Kiln.Looks.Ids;
using Kiln.Pixels.Writing;
using Kiln.Proof.Rendering;
using Kiln.Server.Looks;
using Kiln.Server.Looks.Bench;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Looks;

namespace Kiln.Server.Profiles;

/// <summary>Tries a profile on a look before it is kept.</summary>
public sealed class ProfileTrials(
    LookRepository looks,
    LookContextRepository spaces,
    LookCompilation compilation,
    RenderScheduler scheduler
)
{
    private const int Side = 240,
        Textures = 512,
        Samples = 24;

    /// <summary>What the profile makes of a look: its network, its report, and a proof as a data address.</summary>
    /// <exception cref="Dialects.Profiles.ProfileException">The text is no profile that can be used.</exception>
    public async Task<TriedProfile> OfAsync(LookId look, string text, CancellationToken cancel)
    {
        var profile = ProfileRegistry.Usable(text);
        var working = (await spaces.OfLookAsync(look)).Space;
        var (compiled, material) = await compilation.TryAsync((await looks.GetAsync(look)).Look(), profile, working, Textures, cancel);
        var tracer = new ProofRequest("vessel", "softbox", Side, Side).Start(material);
        for (var done = 0; done < Samples; done += 8)
            await scheduler.RenderAsync(
                hold =>
                {
                    tracer.Accumulate(8, cancel, hold: hold);
                    return true;
                },
                cancel
            );
        var picture = PictureWriter.Jpeg(View.Named("aces1-sdr", working.Space).Apply(tracer.Picture()), 90);
        var document =
            profile.Document == DocumentKind.MaterialX
                ? Encoding.UTF8.GetString(MaterialXWriter.Write(compiled.Network, profile, null))
                : null;
        return new(
            ShownNetwork.Of(compiled.Network, document),
            compiled.Report,
            "data:image/jpeg;base64," + Convert.ToBase64String(picture)
        );
    }
}
