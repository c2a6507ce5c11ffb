using Kiln.Dialects.Profiles;
using Kiln.Exchange;

namespace Kiln.Cli.Tests;

/// <summary>Which files of the disk a document may name: those beside it and below the roots, and no others.</summary>
[Collection("standard error")]
public sealed class NetworkFilesTests : IAsyncLifetime
{
    private readonly TemporaryFolder folder = new();
    private readonly CliSession session = new();
    private readonly DialectProfile openPbr = CliSession.Profiles(null).Find("openpbr");

    public Task InitializeAsync() => Task.CompletedTask;

    public async Task DisposeAsync()
    {
        await session.DisposeAsync();
        folder.Dispose();
    }

    private string Document(params string[] textures) =>
        folder.Write(
            "show/looks/look.mtlx",
            System.Text.Encoding.UTF8.GetBytes(
                "<?xml version=\"1.0\"?><materialx version=\"1.39\">"
                    + string.Concat(
                        textures.Select(
                            (t, i) =>
                                $"""
                                    <image name="i{i}" type="color3"><input name="file" type="filename" value="{t}"/></image>
                                    <open_pbr_surface name="s{i}" type="surfaceshader">
                                      <input name="base_color" type="color3" nodename="i{i}"/></open_pbr_surface>
                                    <surfacematerial name="m{i}" type="material">
                                      <input name="surfaceshader" type="surfaceshader" nodename="s{i}"/></surfacematerial>
                                    """
                        )
                    )
                    + "</materialx>"
            )
        );

    private NetworkFiles Files(params string[] roots) => new(session, roots);

    [Fact]
    public void ATextureBesideTheDocumentIsFound()
    {
        folder.Write("show/looks/tex/copper.png", TestMaps.Grey(4, 4, 200));
        var files = Files();
        var network = Assert.Single(files.Read(Document("tex/copper.png"), openPbr));
        Assert.Equal("copper.png", Assert.Single(network.Textures).File.Name);
        Assert.True(session.Has(network.Textures[0].File.Content));
        Assert.Empty(files.Remarks);
    }

    /// <summary>Written on another system, with the other kind of slash.</summary>
    [Fact]
    public void BackslashesLeadThere()
    {
        folder.Write("show/looks/tex/copper.png", TestMaps.Grey(4, 4, 200));
        Assert.True(session.Has(Files().Read(Document("tex\\copper.png"), openPbr)[0].Textures[0].File.Content));
    }

    [Fact]
    public void ATextureAboveTheDocumentNeedsARoot()
    {
        folder.Write("show/textures/copper.png", TestMaps.Grey(4, 4, 200));
        var document = Document("../textures/copper.png");
        Assert.Contains("--texture-root", Assert.Throws<ExchangeException>(() => Files().Read(document, openPbr)).Message);
        var read = Files(Path.Combine(folder.Path, "show/textures")).Read(document, openPbr);
        Assert.True(session.Has(read[0].Textures[0].File.Content));
    }

    [Theory]
    [InlineData("/etc/hostname")]
    [InlineData("../../../../../../etc/hostname")]
    public void NothingElseOfTheDiskIsRead(string texture) =>
        Assert.Throws<ExchangeException>(() => Files(Path.Combine(folder.Path, "show")).Read(Document(texture), openPbr));

    [Fact]
    public void WhatIsMissingIsSaidOnce()
    {
        var files = Files();
        Assert.Equal(2, files.Read(Document("tex/gone.png", "tex/gone.png"), openPbr).Count);
        Assert.Equal(["The texture 'tex/gone.png' is not there."], files.Remarks);
    }

    [Fact]
    public void ADamagedTextureIsARemark()
    {
        folder.Write("show/looks/tex/copper.png", [1, 2, 3]);
        var files = Files();
        files.Read(Document("tex/copper.png"), openPbr);
        Assert.Contains(files.Remarks, r => r.StartsWith("The texture 'tex/copper.png' cannot be read: ", StringComparison.Ordinal));
    }

    [Fact]
    public void AMaterialIsChosenByName()
    {
        folder.Write("show/looks/tex/copper.png", TestMaps.Grey(4, 4, 200));
        var document = Document("tex/copper.png", "tex/copper.png");
        Assert.Equal("m1", Assert.Single(Files().Read(document, openPbr, "m1")).Material);
        Assert.Contains("it has 'm0', 'm1'", Assert.Throws<ArgumentException>(() => Files().Read(document, openPbr, "m7")).Message);
    }
}
