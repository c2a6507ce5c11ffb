namespace Kiln.Server.Tests;

/// <summary>
/// Classes that add to the demo, and neither stop the server nor settle anything for the studio, share one: each server compiles its code
/// anew and takes seconds of both processors for it.
/// There are two that anything may be added to, so that both processors have one.
/// </summary>
[CollectionDefinition(nameof(PicturesServer))]
public sealed class PicturesServer : ICollectionFixture<ServerFixture>;

/// <summary>The other shared server, for what is kept: looks, versions, collections, packages.</summary>
[CollectionDefinition(nameof(LooksServer))]
public sealed class LooksServer : ICollectionFixture<ServerFixture>;

/// <summary>For those who count the demo as it came.</summary>
[CollectionDefinition(nameof(DemoServer))]
public sealed class DemoServer : ICollectionFixture<ServerFixture>;
