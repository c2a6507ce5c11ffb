using System.Runtime.InteropServices;
using System.Text;

namespace Kiln.Intake.Listing;

/// <summary>
/// Names of a folder that are no UTF-8, which .NET can neither show nor open. Each gets a link with a name of ours, by which it is read,
/// and a name for people in which
/// the bytes that are no text are escapes (\xE9).
/// </summary>
internal static partial class RawNames
{
    /// <summary>Offset of the name in a directory entry of the C library on 64-bit Linux.</summary>
    private const int NameAt = 19;

    [LibraryImport("libc", EntryPoint = "opendir")]
    private static partial nint OpenFolder(byte[] path);

    [LibraryImport("libc", EntryPoint = "readdir")]
    private static partial nint Next(nint folder);

    [LibraryImport("libc", EntryPoint = "closedir")]
    private static partial int Close(nint folder);

    [LibraryImport("libc", EntryPoint = "symlink")]
    private static partial int Link(byte[] target, byte[] link);

    /// <summary>Whether a name as .NET shows it stands for bytes that are no UTF-8.</summary>
    public static bool Hides(string name) => name.Contains('\uFFFD', StringComparison.Ordinal);

    /// <param name="staging">Where the links are made.</param>
    /// <returns>The name for people, and the path of the link.</returns>
    public static List<(string Shown, string Path)> Of(string folder, string staging)
    {
        var found = new List<(string, string)>();
        var open = OpenFolder(Encoding.UTF8.GetBytes(folder + '\0'));
        if (open == 0)
            return found;
        try
        {
            var strict = new UTF8Encoding(false, throwOnInvalidBytes: true);
            for (nint entry; (entry = Next(open)) != 0; )
            {
                var name = Bytes(entry + NameAt);
                if (IsText(name, strict))
                    continue;
                var link = Path.Combine(staging, "raw-" + Guid.CreateVersion7().ToString("N"));
                if (Link([.. Encoding.UTF8.GetBytes(folder + "/"), .. name, 0], Encoding.UTF8.GetBytes(link + '\0')) == 0)
                    found.Add((Escaped(name), link));
            }
        }
        finally
        {
            _ = Close(open);
        }
        return [.. found.OrderBy(f => f.Item1, StringComparer.Ordinal)];
    }

    private static byte[] Bytes(nint text)
    {
        var length = 0;
        while (Marshal.ReadByte(text, length) != 0)
            length++;
        var bytes = new byte[length];
        Marshal.Copy(text, bytes, 0, length);
        return bytes;
    }

    private static bool IsText(byte[] name, UTF8Encoding strict)
    {
        try
        {
            return strict.GetCharCount(name) >= 0;
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }

    /// <summary>Text as it is, every byte that is no part of any as an escape.</summary>
    public static string Escaped(ReadOnlySpan<byte> name)
    {
        var shown = new StringBuilder();
        while (!name.IsEmpty)
        {
            if (Rune.DecodeFromUtf8(name, out var rune, out var used) == System.Buffers.OperationStatus.Done)
                shown.Append(rune.ToString());
            else
                for (var i = 0; i < used; i++)
                    shown.Append($"\\x{name[i]:X2}");
            name = name[used..];
        }
        return shown.ToString();
    }
}
