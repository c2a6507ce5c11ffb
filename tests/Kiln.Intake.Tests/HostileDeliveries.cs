using System.IO.Compression;
using System.Text;
using Kiln.Intake.Listing;

namespace Kiln.Intake.Tests;

/// <summary>Hostile and broken archives: a sentence for each entry, the rest comes in, nothing leaves the staging folder.</summary>
public sealed class HostileDeliveries : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-hostile-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private DeliveryListing Read(Action<ZipArchive> fill, DeliveryLimits? limits = null)
    {
        var path = Path.Combine(folder, "delivery.zip");
        using (var zip = new ZipArchive(File.Create(path), ZipArchiveMode.Create))
            fill(zip);
        return DeliveryListing.Read([path], Path.Combine(folder, "staging"), limits);
    }

    private static void Entry(ZipArchive zip, string name, byte[] content)
    {
        using var stream = zip.CreateEntry(name).Open();
        stream.Write(content);
    }

    [Theory]
    [InlineData("../../outside.png")]
    [InlineData("/etc/outside.png")]
    [InlineData("a/../../outside.png")]
    [InlineData("line\nbreak.png")]
    [InlineData("right\u202eleft.png")]
    public void NamesThatLeadElsewhereAreRefused(string name)
    {
        var listing = Read(zip =>
        {
            Entry(zip, name, [1, 2, 3]);
            Entry(zip, "good.png", [1, 2, 3]);
        });
        Assert.Single(listing.Rejected);
        Assert.Equal("good.png", Assert.Single(listing.Files).Path);
        Assert.False(File.Exists(Path.Combine(Path.GetDirectoryName(folder)!, "outside.png")));
    }

    [Fact]
    public void ABombIsRefused()
    {
        var listing = Read(zip => Entry(zip, "bomb.png", new byte[64 << 20]));
        Assert.Contains("times its size", Assert.Single(listing.Rejected).Reason);
    }

    [Fact]
    public void DuplicatedNamesAreSaid()
    {
        var listing = Read(zip =>
        {
            Entry(zip, "a.png", [1]);
            Entry(zip, "a.png", [2]);
        });
        Assert.Single(listing.Files);
        Assert.Contains("same name", Assert.Single(listing.Rejected).Reason);
    }

    [Fact]
    public void TooManyEntriesAreSaid()
    {
        var listing = Read(
            zip =>
            {
                for (var i = 0; i < 30; i++)
                    Entry(zip, $"{i}.png", [1]);
            },
            DeliveryLimits.Default with
            {
                Entries = 10,
            }
        );
        Assert.Equal(10, listing.Files.Count);
        Assert.Equal(20, listing.Rejected.Count);
    }

    [Fact]
    public void ADamagedArchiveIsASentence()
    {
        var path = Path.Combine(folder, "broken.zip");
        File.WriteAllBytes(path, Encoding.ASCII.GetBytes("PK\u0003\u0004 and then nothing of use"));
        Assert.Contains("damaged", Assert.Throws<DeliveryException>(() => DeliveryListing.Read([path], Path.Combine(folder, "s"))).Message);
    }

    [Fact]
    public void NestedArchivesAreOpenedOnce()
    {
        using var inner = new MemoryStream();
        using (var zip = new ZipArchive(inner, ZipArchiveMode.Create, true))
            Entry(zip, "inside.png", [1, 2]);
        var listing = Read(zip => Entry(zip, "outer/inner.zip", inner.ToArray()));
        Assert.Equal("outer/inner.zip/inside.png", Assert.Single(listing.Files).Path);
    }
}
