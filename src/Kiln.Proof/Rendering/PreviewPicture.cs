using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Faults;
using Kiln.Looks.Evaluation;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;

namespace Kiln.Proof.Rendering;

/// <summary>
/// The small picture that goes with a package: the network as its dialect reads it, on the vessel under the softbox, as JPEG. The same
/// network gives the same picture.
/// </summary>
public static class PreviewPicture
{
    private const int Side = 192,
        Samples = 16,
        Textures = 512;

    /// <param name="turn">Does one piece of the work; a server lets people go first between them.</param>
    /// <returns>Null where a map is gone or cannot be read: a package without a picture is better than none.</returns>
    public static async Task<byte[]?> RenderAsync(
        Network network,
        DialectProfile profile,
        MapTextures maps,
        Func<string, SpaceId>? spaceOf = null,
        Func<Action, Task>? schedule = null,
        CancellationToken cancel = default
    )
    {
        try
        {
            var material = await ProofMaterial.OfNetworkAsync(network, profile, maps, Textures, spaceOf, cancel);
            var tracer = new ProofRequest("vessel", "softbox", Side, Side).Start(material);
            for (var done = 0; done < Samples; done += 8)
            {
                void Work() => tracer.Accumulate(8, cancel);
                if (schedule is null)
                    Work();
                else
                    await schedule(Work);
            }
            return PictureWriter.Jpeg(View.Named("aces1-sdr", material.Working.Space).Apply(tracer.Picture()), 90);
        }
        catch (KilnException)
        {
            return null;
        }
    }
}
