using Kiln.Server.Configs;
using Kiln.Server.Profiles;

namespace Kiln.Server.Studio;

/// <summary>Colour configs and renderer profiles of the studio.</summary>
internal static class StudioModule
{
    public static IServiceCollection AddStudio(this IServiceCollection services) =>
        services.AddSingleton<ConfigRegistry>().AddSingleton<ProfileRegistry>().AddSingleton<ChartRenderer>().AddSingleton<ProfileTrials>();
}
