using System.IO.Compression;

namespace Kiln.Usd;

/// <summary>The files of a .usdz (USDZ file format specification 1.3): a zip whose first file is the layer that counts.</summary>
public static class UsdzFiles
{
    private const int MostEntries = 10_000;
    private const long LargestEntry = 1L << 30;

    /// <summary>The layer that counts and the bytes of any other file by its path; null where there is none.</summary>
    /// <exception cref="UsdException">It is no such archive.</exception>
    public static (byte[] Layer, Func<string, byte[]?> Beside) Read(Stream stream)
    {
        try
        {
            var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
            if (zip.Entries.Count is 0 or > MostEntries)
                throw new UsdException("The .usdz file is empty, or has more files than are read.");
            var layer = Bytes(zip.Entries[0]);
            return (layer, path => zip.GetEntry(path) is { } entry ? Bytes(entry) : null);
        }
        catch (InvalidDataException)
        {
            throw new UsdException("The .usdz file is no zip, or is cut off.");
        }
    }

    private static byte[] Bytes(ZipArchiveEntry entry)
    {
        using var from = entry.Open();
        using var to = new MemoryStream();
        var buffer = new byte[1 << 16];
        for (int read; (read = from.Read(buffer)) > 0; )
        {
            // Counted as it comes: what an entry says of its size may be wrong.
            if (to.Length + read > LargestEntry)
                throw new UsdException($"'{entry.FullName}' in the .usdz file is larger than {LargestEntry >> 30} GB.");
            to.Write(buffer, 0, read);
        }
        return to.ToArray();
    }
}
