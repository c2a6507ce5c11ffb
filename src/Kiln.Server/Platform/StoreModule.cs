using Kiln.Store.Archives;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Intake;
using Kiln.Store.Looks;
using Kiln.Store.Models;
using Kiln.Store.People;
using Kiln.Store.Proofs;
using Kiln.Store.Studio;

namespace Kiln.Server.Platform;

/// <summary>What reads and writes the database and the contents.</summary>
internal static class StoreModule
{
    public static IServiceCollection AddStore(this IServiceCollection services) =>
        services
            .AddSingleton<PersonRepository>()
            .AddSingleton<SessionRepository>()
            .AddSingleton<LinkRepository>()
            .AddSingleton<AuditRepository>()
            .AddSingleton<DeliveryRepository>()
            .AddSingleton<ContentRepository>()
            .AddSingleton<NamingRuleRepository>()
            .AddSingleton<ServerFolderRepository>()
            .AddSingleton<ColourConfigRepository>()
            .AddSingleton<LookContextRepository>()
            .AddSingleton<LookRepository>()
            .AddSingleton<LookListRepository>()
            .AddSingleton<VersionRepository>()
            .AddSingleton<MeasureRepository>()
            .AddSingleton<RuleRepository>()
            .AddSingleton<CollectionRepository>()
            .AddSingleton<BatchRepository>()
            .AddSingleton<SheetRepository>()
            .AddSingleton<FilterRepository>()
            .AddSingleton<ArchiveWriter>()
            .AddSingleton<ArchiveImport>()
            .AddSingleton<MapUseRepository>()
            .AddSingleton<StudioProfileRepository>()
            .AddSingleton<AcceptedFindingRepository>()
            .AddSingleton<ChainRepository>()
            .AddSingleton<LightRepository>()
            .AddSingleton<ProofOrderRepository>()
            .AddSingleton<ComparisonRepository>()
            .AddSingleton<ModelRepository>()
            .AddSingleton<MaterialRepository>()
            .AddSingleton<PartSettingsRepository>();
}
