namespace Kiln.Server.Viewport;

/// <summary>The viewport's looks and scenes.</summary>
internal static class ViewportModule
{
    public static IServiceCollection AddViewport(this IServiceCollection services) =>
        services.AddSingleton<ViewportLooks>().AddSingleton<ViewportScenes>().AddSingleton<ViewportPreparation>();
}
