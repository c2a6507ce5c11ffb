using System.IO.Compression;
using System.Text;
using Kiln.Intake.Listing;

namespace Kiln.Intake.Tests;

/// <summary>Names in zips: flagged as UTF-8, UTF-8 without the flag, and of code page 437.</summary>
public sealed class ZipNames
{
    private static readonly byte[] CodePage437 = [(byte)'M', 0x94, (byte)'b', (byte)'e', (byte)'l'];

    public static TheoryData<string, byte[], bool, string> Names =>
        new()
        {
            { "with the flag", Encoding.UTF8.GetBytes("Möbel"), true, "Möbel" },
            { "UTF-8 without it", Encoding.UTF8.GetBytes("Möbel"), false, "Möbel" },
            { "two letters for one", Encoding.UTF8.GetBytes("Mo\u0308bel"), false, "Mo\u0308bel" },
            { "other letters", Encoding.UTF8.GetBytes("木目"), false, "木目" },
            { "code page 437", CodePage437, false, "Möbel" },
            { "plain", "Moebel"u8.ToArray(), false, "Moebel" },
        };

    [Theory]
    [MemberData(nameof(Names))]
    public void AreReadAsTheyWereMeant(string kind, byte[] written, bool flagged, string meant)
    {
        using var folder = new TemporaryFolder();
        using var zip = new MemoryStream();
        // One byte a letter, so that the bytes come out as they are and the flag stays off.
        var encoding = flagged ? Encoding.UTF8 : Encoding.Latin1;
        using (var made = new ZipArchive(zip, ZipArchiveMode.Create, leaveOpen: true, encoding))
        using (var entry = made.CreateEntry(encoding.GetString(written) + "_gloss.png").Open())
            entry.Write(TestMaps.Grey(4, 4, 200));
        var bytes = zip.ToArray();
        Assert.Equal(flagged, (bytes[7] & 8) != 0);
        Assert.Equal(written, bytes[30..(30 + written.Length)]);
        var listing = DeliveryListing.Read([folder.Write("delivery.zip", bytes)], Path.Combine(folder.Path, "unpacked"));
        Assert.True(meant + "_gloss.png" == Assert.Single(listing.Files).Path, kind);
    }
}
