using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Pixels.Tests;

/// <summary>
/// A library whose structures may lie otherwise is refused by its version before anything is read from an offset; versions are those of the
/// project's releases.
/// </summary>
public class OpenExrVersions
{
    [Theory]
    [InlineData(3, 1, 0, true)]
    [InlineData(3, 1, 13, true)]
    [InlineData(3, 0, 5, false)]
    [InlineData(3, 2, 4, false)]
    [InlineData(3, 3, 2, false)]
    [InlineData(2, 5, 7, false)]
    public void OnlyTheKnownInterfaceIsRead(int major, int minor, int patch, bool isRead)
    {
        var fault = OpenExrVersion.Fault(major, minor, patch);
        Assert.Equal(isRead, fault is null);
        if (!isRead)
            Assert.Contains($"{major}.{minor}.{patch}", fault, StringComparison.Ordinal);
    }
}
