namespace Kiln.Server.Intake;

/// <summary>Deliveries and what becomes of them.</summary>
internal static class IntakeModule
{
    public static IServiceCollection AddIntake(this IServiceCollection services) =>
        services
            .AddSingleton<Uploads>()
            .AddSingleton<IntakeJob>()
            .AddSingleton<DeliveryKeeping>()
            .AddSingleton<MapReader>()
            .AddSingleton<RunningIntakes>()
            .AddSingleton<DeliveryWiring>()
            .AddSingleton<SurfaceMaking>()
            .AddSingleton<DeliveryTaking>();
}
