using System.Text;
using Kiln.Pixels;
using Kiln.Store.Contents;

namespace Kiln.Store.Tests;

public sealed class ContentStoreTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-store-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public void IdenticalContentIsStoredOnceUnderItsHash()
    {
        var store = new ContentStore(folder);
        var hash = store.Put(Encoding.ASCII.GetBytes("abc"));
        // FIPS 180-4, example of SHA-256("abc").
        Assert.Equal("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad", hash.ToString());
        Assert.Equal(hash, store.Put(Encoding.ASCII.GetBytes("abc")));
        Assert.Single(Directory.GetFiles(folder, "*", SearchOption.AllDirectories));
        Assert.Equal("abc", File.ReadAllText(store.PathOf(hash)));
    }

    [Fact]
    public void WhatWasHalfWrittenIsGoneAfterAStart()
    {
        File.WriteAllText(Path.Combine(folder, "left.part"), "half");
        // Who only reads leaves a running server's files alone; the server itself clears as it starts.
        var store = new ContentStore(folder);
        Assert.Single(Directory.GetFiles(folder));
        store.ClearLeftovers();
        Assert.Empty(Directory.GetFiles(folder));
    }

    [Fact]
    public void ReadingMakesNothing()
    {
        var nowhere = Path.Combine(folder, "not", "there");
        Assert.False(new ContentStore(nowhere).Has(Hashes.Named("a")));
        Assert.False(Directory.Exists(nowhere));
    }

    [Fact]
    public void AFileThatIsNotWhatItsHashSaysIsNotKept()
    {
        var file = Path.Combine(folder, "given");
        File.WriteAllText(file, "something else");
        var store = new ContentStore(Path.Combine(folder, "store"));
        var hash = ContentHash.Parse("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
        Assert.Throws<InvalidDataException>(() => store.Take(file, hash));
        Assert.False(store.Has(hash));
        Assert.Empty(Directory.GetFiles(Path.Combine(folder, "store")));
    }

    [Fact]
    public void AStoredFileOfAnotherLengthIsPutRightByATrueCopy()
    {
        var store = new ContentStore(folder);
        var hash = store.Put(Encoding.ASCII.GetBytes("abc"));
        File.WriteAllText(store.PathOf(hash), "a");
        var copy = Path.Combine(folder, "copy");
        File.WriteAllText(copy, "abc");
        store.Take(copy, hash);
        Assert.Equal("abc", File.ReadAllText(store.PathOf(hash)));
        File.WriteAllText(store.PathOf(hash), "xyz");
        store.Mend(copy, hash);
        Assert.Equal("abc", File.ReadAllText(store.PathOf(hash)));
    }

    [Theory]
    [InlineData("../../etc/passwd")]
    [InlineData("ABC")]
    [InlineData("")]
    public void HashesThatAreNoneLeadNowhere(string hash)
    {
        Assert.False(ContentHash.TryParse(hash, out var none));
        Assert.Throws<ContentMissingException>(() => new ContentStore(folder).PathOf(none));
    }
}
