namespace Kiln.Pixels.Decoding.Headers;

/// <summary>
/// Which OpenEXR libraries can be read by: the offsets of structures in <see cref="OpenExrReader"/> are those of the 3.1 interface, and
/// others may lie otherwise.
/// </summary>
public static class OpenExrVersion
{
    /// <summary>Why a library cannot be used, as a sentence; null where it can.</summary>
    public static string? Fault(int major, int minor, int patch) =>
        (major, minor) == (3, 1)
            ? null
            : $"OpenEXR files cannot be read here: the library on this machine is {major}.{minor}.{patch}, and 3.1 is needed.";
}
