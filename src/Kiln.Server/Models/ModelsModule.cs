using Kiln.Server.Models.Checks;
using Kiln.Server.Models.Materials;

namespace Kiln.Server.Models;

/// <summary>Models, and looks on their parts.</summary>
internal static class ModelsModule
{
    public static IServiceCollection AddModels(this IServiceCollection services) =>
        services
            .AddSingleton<ModelArrivals>()
            .AddSingleton<HeldPictures>()
            .AddSingleton<ModelMaterials>()
            .AddSingleton<MaterialWiring>()
            .AddSingleton<ModelCheck>()
            .AddSingleton<ModelBinding>()
            .AddSingleton<ModelsOnStage>()
            .AddSingleton<ModelPictures>()
            .AddSingleton<ModelUvs>()
            .AddSingleton<ModelViewport>()
            .AddSingleton<ModelPackages>();
}
