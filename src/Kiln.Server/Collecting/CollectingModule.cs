namespace Kiln.Server.Collecting;

/// <summary>Collections, their rules and consistency.</summary>
internal static class CollectingModule
{
    public static IServiceCollection AddCollecting(this IServiceCollection services) =>
        services
            .AddSingleton<Consistency>()
            .AddSingleton<BrokenRules>()
            .AddSingleton<VersionContexts>()
            .AddSingleton<CollectionTrims>()
            .AddSingleton<AlikeProposals>()
            .AddSingleton<RuleTrials>();
}
