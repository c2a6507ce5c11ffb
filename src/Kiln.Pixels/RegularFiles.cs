using System.Runtime.InteropServices;
using System.Text;

namespace Kiln.Pixels;

/// <summary>
/// What kind of thing lies behind a path. Only regular files are ever opened: a pipe would wait for ever, a device never ends.
/// </summary>
public static partial class RegularFiles
{
    // statx(2): the layout of its answer is the same on every architecture; the type is in the mode at byte 28.
    private const int CurrentFolder = -100,
        TypeOnly = 1,
        ModeAt = 28,
        AnswerBytes = 256;
    private const int TypeMask = 0xF000,
        Pipe = 0x1000,
        CharacterDevice = 0x2000,
        Folder = 0x4000,
        BlockDevice = 0x6000,
        Regular = 0x8000,
        Socket = 0xC000;

    [LibraryImport("libc", EntryPoint = "statx", SetLastError = true)]
    private static partial int Status(int from, byte[] path, int flags, uint mask, byte[] answer);

    /// <summary>What the path leads to, links followed, in words: null for a regular file, a folder, or nothing at all.</summary>
    public static string? Fault(string path) =>
        Type(path) switch
        {
            Pipe => "a pipe",
            CharacterDevice or BlockDevice => "a device",
            Socket => "a socket",
            _ => null,
        };

    /// <summary>Whether it leads to a regular file, links followed.</summary>
    public static bool Is(string path) => Type(path) == Regular;

    /// <exception cref="PictureException">It is there and no regular file: a folder, a pipe, a device or a socket.</exception>
    public static void Check(string path)
    {
        if (Type(path) is var type && type != 0 && type != Regular)
            throw new PictureException($"'{path}' is {(type == Folder ? "a folder" : Fault(path))}, not a file.");
    }

    private static int Type(string path)
    {
        var answer = new byte[AnswerBytes];
        return Status(CurrentFolder, Encoding.UTF8.GetBytes(path + '\0'), 0, TypeOnly, answer) == 0
            ? BitConverter.ToUInt16(answer, ModeAt) & TypeMask
            : 0;
    }
}
