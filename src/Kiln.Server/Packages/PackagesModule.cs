using Kiln.Server.Archives;
using Kiln.Server.Sheets;

namespace Kiln.Server.Packages;

/// <summary>Packages, batches, sheets and archives.</summary>
internal static class PackagesModule
{
    public static IServiceCollection AddPackages(this IServiceCollection services) =>
        services
            .AddSingleton<PackageContents>()
            .AddSingleton<LookPackages>()
            .AddSingleton<NetworkImport>()
            .AddSingleton<PackageImport>()
            .AddSingleton<BatchJob>()
            .AddSingleton<ArchiveRoutes>()
            .AddSingleton<SheetJob>()
            .AddSingleton<SheetOrdering>()
            .AddSingleton<SheetPages>()
            .AddSingleton<CollectionLooks>()
            .AddSingleton<BatchOrdering>();
}
