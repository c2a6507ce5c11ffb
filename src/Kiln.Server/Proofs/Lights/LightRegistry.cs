using Kiln.Pixels.Decoding;
using Kiln.Proof.Lights;
using Kiln.Server.Platform;
using Kiln.Store.Contents;
using Kiln.Store.Studio;

namespace Kiln.Server.Proofs.Lights;

/// <summary>All lights by their names: the shipped ones and those that people brought.</summary>
public sealed class LightRegistry(LightRepository own, ContentStore store, IPictureDecoder decoder, StudioCache cache)
{
    private const int MegabytesOfLight = 64;

    /// <summary>A person's light; null where the name is a shipped one's.</summary>
    /// <exception cref="ArgumentException">There is no such light.</exception>
    public async Task<EnvironmentLight?> OwnAsync(string name)
    {
        if (LightRoom.Ids.Contains(name))
            return null;
        var row = await own.FindAsync(name)
            ?? throw new ArgumentException(
                $"There is no light '{name}' here. Known: "
                    + $"{string.Join(", ", LightRoom.Ids.Concat((await own.ListAsync()).Select(l => l.Name)))}."
            );
        return await cache.OnceAsync("light", row.Content.ToString(), () => ReadAsync(store.PathOf(row.Content)), _ => MegabytesOfLight);
    }

    /// <summary>
    /// What a person's light is stored as, so that another one under the same name is another light; empty for shipped ones.
    /// </summary>
    public async Task<string> ContentAsync(string name) =>
        LightRoom.Ids.Contains(name) ? "" : (await own.FindAsync(name))?.Content.ToString() ?? "";

    public async Task<EnvironmentLight> AnyAsync(string name) => await OwnAsync(name) ?? LightRoom.Named(name);

    /// <exception cref="Pixels.PictureException">It is no light.</exception>
    public async Task<EnvironmentLight> ReadAsync(string path) =>
        EnvironmentLight.OfPerson(await decoder.DecodeAsync(path, LightRoom.Finest)).Light;
}
