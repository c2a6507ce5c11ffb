using Kiln.Server.Looks.Bench;

namespace Kiln.Server.Looks;

/// <summary>Looks and the bench.</summary>
internal static class LooksModule
{
    public static IServiceCollection AddLooks(this IServiceCollection services) =>
        services
            .AddSingleton<StudioMaps>()
            .AddSingleton<LookCompilation>()
            .AddSingleton<BoardReading>()
            .AddSingleton<StepStudy>()
            .AddSingleton<LaneTrial>()
            .AddSingleton<ManyLooks>()
            .AddSingleton<LaneCosts>()
            .AddSingleton<HeightScales>()
            .AddSingleton<DroppedMaps>();
}
