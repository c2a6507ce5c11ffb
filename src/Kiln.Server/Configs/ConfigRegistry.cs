using System.Globalization;
using System.IO.Compression;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Server.Platform;
using Kiln.Store.Studio;

namespace Kiln.Server.Configs;

/// <param name="Reason">Why it is this one, in words.</param>
/// <param name="Fault">Why the one that should be in force cannot be; then none is.</param>
public sealed record ConfigInForce(ConfigNames? Names, ConfigId? Id, string Title, string Reason, string? Fault);

/// <summary>Which config is in force: what was chosen in Studio, else what the environment variable OCIO names, else none.</summary>
public sealed class ConfigRegistry(ColourConfigRepository configs, KilnSettings settings)
{
    private const long LargestArchive = 512L << 20,
        LargestUnpacked = 1L << 30;
    private const int MostEntries = 5000;

    private readonly string root = Path.Combine(settings.Data, "configs");
    private volatile ConfigInForce? current;

    public ConfigInForce Current =>
        current ?? throw new InvalidOperationException("The config in force was asked for before the server had started.");

    /// <summary>What a look that is wired now remembers.</summary>
    public LookColour Remembered => new(Current.Title, Current.Names?.Config.Hash);

    /// <summary>Our config's name for one of our spaces, ours where there is none.</summary>
    public string NameOf(SpaceId space) => Current.Names?.NameOf(space) ?? space.Text;

    /// <summary>Looks again which config is in force. A config that cannot be used is said to be so and leaves none in force.</summary>
    public async Task RefreshAsync()
    {
        var chosen = await configs.ChosenAsync();
        if (chosen is { Config: { } id })
        {
            var why = string.Create(CultureInfo.InvariantCulture, $"chosen in Studio by {chosen.By} on {chosen.At:yyyy-MM-dd}");
            current = (await configs.ListAsync()).FirstOrDefault(c => c.Id == id) is { } row
                ? Opened(Place(row), row.Id, row.Name, why)
                : new(null, null, "none", why, "The config that was chosen is not there any more.");
        }
        else if (chosen is not null)
            current = new(null, null, "none", $"none, chosen in Studio by {chosen.By}", null);
        else if (Environment.GetEnvironmentVariable("OCIO") is { Length: > 0 } path)
            current = Opened(
                path,
                null,
                Path.GetFileName(Path.GetDirectoryName(Path.GetFullPath(path))) + "/" + Path.GetFileName(path),
                "named by the environment variable OCIO"
            );
        else
            current = new(null, null, "none", "none was chosen in Studio and OCIO names none", null);
    }

    public string Place(ColourConfigRow row) => Path.Combine(root, row.Id.ToString("N"), row.File);

    private static ConfigInForce Opened(string path, ConfigId? id, string title, string why)
    {
        try
        {
            var names = new ConfigNames(OpenedConfig.Open(path));
            // Measured now rather than by the first person who looks.
            _ = names.Matching;
            return new(names, id, title, why, null);
        }
        catch (ConfigException e)
        {
            return new(null, id, title, why, e.Message);
        }
    }

    /// <summary>Takes a config, alone or as an archive with its tables; it is opened before it is kept.</summary>
    /// <exception cref="ConfigException">The file is no config, or the archive holds none or several.</exception>
    public async Task<ConfigId> TakeAsync(string name, Stream body, PersonId person, CancellationToken cancel)
    {
        var id = Ids.New<ConfigId>();
        var folder = Directory.CreateDirectory(Path.Combine(root, id.ToString("N"))).FullName;
        try
        {
            var file = name.EndsWith(".zip", StringComparison.OrdinalIgnoreCase)
                ? await UnpackAsync(folder, body, cancel)
                : await SaveAsync(folder, body, cancel);
            var opened = OpenedConfig.Open(Path.Combine(folder, file));
            var title = opened.Config.Name.Length > 0 ? opened.Config.Name : Path.GetFileNameWithoutExtension(name);
            await configs.AddAsync(id, title.Length > 80 ? title[..80] : title, file, opened.Hash, person);
            return id;
        }
        catch
        {
            Directory.Delete(folder, recursive: true);
            throw;
        }
    }

    public async Task<bool> RemoveAsync(ConfigId id)
    {
        if (Current.Id == id)
            throw new ConfigException("This config is in force; choose another one first.");
        if (!await configs.RemoveAsync(id))
            return false;
        var folder = Path.Combine(root, id.ToString("N"));
        if (Directory.Exists(folder))
            Directory.Delete(folder, recursive: true);
        return true;
    }

    private static async Task<string> SaveAsync(string folder, Stream body, CancellationToken cancel)
    {
        await using var file = File.Create(Path.Combine(folder, "config.ocio"));
        await CopyAsync(body, file, 64 << 20, cancel);
        return "config.ocio";
    }

    private static async Task<string> UnpackAsync(string folder, Stream body, CancellationToken cancel)
    {
        var archive = Path.Combine(folder, "archive.zip");
        await using (var file = File.Create(archive))
            await CopyAsync(body, file, LargestArchive, cancel);
        var found = new List<string>();
        try
        {
            using var zip = ZipFile.OpenRead(archive);
            if (zip.Entries.Count > MostEntries)
                throw new ConfigException($"The archive has {zip.Entries.Count} entries; at most {MostEntries} are read.");
            long left = LargestUnpacked;
            foreach (var entry in zip.Entries.Where(e => e.Name.Length > 0))
            {
                var full = Path.GetFullPath(Path.Combine(folder, "in", entry.FullName.Replace('\\', '/')));
                // Links are files with a path in them here, and lead nowhere.
                if (!full.StartsWith(Path.Combine(folder, "in") + "/", StringComparison.Ordinal))
                    throw new ConfigException("The archive has an entry that leads out of it.");
                Directory.CreateDirectory(Path.GetDirectoryName(full)!);
                await using (var to = File.Create(full))
                await using (var from = entry.Open())
                    left -= await CopyAsync(from, to, left, cancel);
                if (full.EndsWith(".ocio", StringComparison.OrdinalIgnoreCase))
                    found.Add(Path.GetRelativePath(folder, full));
            }
        }
        catch (InvalidDataException e)
        {
            throw new ConfigException("The archive is damaged.", e);
        }
        File.Delete(archive);
        return found.Count switch
        {
            1 => found[0],
            0 => throw new ConfigException("The archive holds no .ocio file."),
            _ => throw new ConfigException($"The archive holds {found.Count} .ocio files; send one config at a time."),
        };
    }

    private static async Task<long> CopyAsync(Stream from, Stream to, long most, CancellationToken cancel)
    {
        var buffer = new byte[1 << 16];
        long total = 0;
        while (await from.ReadAsync(buffer, cancel) is > 0 and var n)
        {
            if ((total += n) > most)
                throw new ConfigException($"More than {most >> 20} MB are not taken.");
            await to.WriteAsync(buffer.AsMemory(0, n), cancel);
        }
        return total;
    }
}
