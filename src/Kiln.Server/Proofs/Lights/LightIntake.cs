using Kiln.Looks.Ids;
using Kiln.Proof.Lights;
using Kiln.Store.Contents;
using Kiln.Store.Studio;

namespace Kiln.Server.Proofs.Lights;

/// <summary>Takes a light that somebody brings.</summary>
public sealed class LightIntake(LightRepository own, LightRegistry lights, ContentStore store)
{
    private const long MostBytes = 512L << 20;
    private const int LongestName = 60;

    /// <returns>The name that it is known by: that of its file.</returns>
    /// <exception cref="ArgumentException">It is too large, cannot be named, or one of its name is there.</exception>
    /// <exception cref="Pixels.PictureException">It cannot be read as a light.</exception>
    public async Task<string> TakeAsync(IFormFile file, PersonId person)
    {
        if (file.Length > MostBytes)
            throw new ArgumentException($"A light of {file.Length >> 20} MB is too large; at most {MostBytes >> 20} MB are read.");
        var name = Path.GetFileNameWithoutExtension(file.FileName).Trim();
        if (name.Length is 0 or > LongestName || name.Any(char.IsControl) || LightRoom.Ids.Contains(name))
            throw new ArgumentException(
                $"A light is known by the name of its file: 1 to {LongestName} characters, and none of {string.Join(", ", LightRoom.Ids)}."
            );
        var part = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}{Path.GetExtension(file.FileName)}");
        try
        {
            await using (var to = File.Create(part))
                await file.CopyToAsync(to);
            // Refused before it is kept.
            await lights.ReadAsync(part);
            var content = store.Put(await File.ReadAllBytesAsync(part));
            return await own.AddAsync(name, content, file.Length, person)
                ? name
                : throw new ArgumentException($"There is a light '{name}' already. Give the file another name, or remove that one first.");
        }
        finally
        {
            File.Delete(part);
        }
    }
}
