using Kiln.Colour.Spaces;
using Kiln.Faults;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Looks.Evaluation;

/// <summary>Where the bytes of a stored file are.</summary>
public interface IContentFiles
{
    /// <summary>A path on this machine to the content with the given SHA-256.</summary>
    /// <exception cref="ContentMissingException">The content is gone.</exception>
    string PathOf(ContentHash content);
}

/// <summary>Decoded maps by content and reading, kept until their memory exceeds a budget; the longest unused go first.</summary>
public sealed class MapTextures(IPictureDecoder decoder, IContentFiles files, long budgetBytes = 3L << 30)
{
    private sealed record Key(string Contents, ReadingKind Kind, SpaceId Space, MapChannel Channel, WorkingSpace? Working, int? Longest);

    private readonly Lock gate = new();
    private readonly Dictionary<Key, (Task<MapTexture> Texture, long Used)> kept = [];
    private long clock;

    /// <summary>The texture of a lookup, shrunk so that its longer side is at most <paramref name="longest"/> when given.</summary>
    /// <exception cref="PictureException">The file cannot be read as the lookup asks; the message names it.</exception>
    public async Task<MapTexture> GetAsync(ImageLookup lookup, WorkingSpace working, int? longest, CancellationToken cancel = default)
    {
        var reading = lookup.Reading;
        var key = new Key(
            string.Concat(lookup.File.Contents),
            reading.Kind,
            reading.Space,
            reading.Channel,
            reading.Kind == ReadingKind.Colour ? working : null,
            Math.Max(lookup.File.Width, lookup.File.Height) <= longest ? null : longest
        );
        Task<MapTexture> task;
        lock (gate)
        {
            if (!kept.TryGetValue(key, out var entry) || entry.Texture.IsFaulted || entry.Texture.IsCanceled)
                entry = (Task.Run(() => LoadAsync(lookup, working, key.Longest), CancellationToken.None), 0);
            kept[key] = (entry.Texture, ++clock);
            task = entry.Texture;
            Shrink();
        }
        return await task.WaitAsync(cancel);
    }

    public long BytesInUse
    {
        get
        {
            lock (gate)
                return kept.Values.Where(e => e.Texture.IsCompletedSuccessfully).Sum(e => e.Texture.Result.Bytes);
        }
    }

    private void Shrink()
    {
        var used = kept.Values.Where(e => e.Texture.IsCompletedSuccessfully).Sum(e => e.Texture.Result.Bytes);
        foreach (var (key, entry) in kept.Where(e => e.Value.Texture.IsCompletedSuccessfully).OrderBy(e => e.Value.Used).ToList())
        {
            if (used <= budgetBytes || entry.Used == clock)
                return;
            kept.Remove(key);
            used -= entry.Texture.Result.Bytes;
        }
    }

    private async Task<MapTexture> LoadAsync(ImageLookup lookup, WorkingSpace working, int? longest)
    {
        if (!lookup.File.IsTiled)
            return await OneAsync(lookup.File.Content, lookup.File.Name);
        var tiles = await Task.WhenAll(lookup.File.Tiles!.Select(async t => (t.Number, Texture: await OneAsync(t.Content, t.Name))));
        return MapTexture.OfTiles(tiles.ToDictionary(t => t.Number, t => t.Texture), lookup.Reading);

        async Task<MapTexture> OneAsync(ContentHash content, string name)
        {
            try
            {
                return MapTexture.Of(await decoder.DecodeAsync(files.PathOf(content), longest), lookup.Reading, working);
            }
            catch (KilnException e)
            {
                throw new PictureException($"{name}: {e.Message}", e);
            }
        }
    }
}
