using System.Text;

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
        Assert.Equal("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad", hash);
        Assert.Equal(hash, store.Put(Encoding.ASCII.GetBytes("abc")));
        Assert.Single(Directory.GetFiles(folder, "*", SearchOption.AllDirectories));
        Assert.Equal("abc", File.ReadAllText(store.PathOf(hash)));
    }

    [Fact]
    public void WhatWasHalfWrittenIsGoneAfterAStart()
    {
        File.WriteAllText(Path.Combine(folder, "left.part"), "half");
        _ = new ContentStore(folder);
        Assert.Empty(Directory.GetFiles(folder));
    }

    [Theory]
    [InlineData("../../etc/passwd")]
    [InlineData("ABC")]
    [InlineData("")]
    public void HashesThatAreNoneLeadNowhere(string hash) => Assert.Throws<FileNotFoundException>(() => new ContentStore(folder).PathOf(hash));
}
