using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Orders;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Server.Proofs.Walls;

namespace Kiln.Server.Proofs;

/// <summary>Proofs, pictures of looks, lights and readouts.</summary>
internal static class ProofsModule
{
    public static IServiceCollection AddProofs(this IServiceCollection services) =>
        services
            .AddSingleton<LookPictures>()
            .AddSingleton<StandIns>()
            .AddHostedService<PictureRounds>()
            .AddSingleton<RenderScheduler>()
            .AddSingleton<WallRenderer>()
            .AddSingleton<LightRegistry>()
            .AddSingleton<LightIntake>()
            .AddSingleton<MapReadouts>()
            .AddSingleton<LookViews>()
            .AddSingleton<TrimFits>()
            .AddSingleton<ProofOrdering>()
            .AddSingleton<MapPictures>()
            .AddSingleton<LookAsAsked>()
            .AddSingleton<ProofStream>()
            .AddSingleton<LookDifferences>()
            .AddSingleton<ReportFigures>()
            .AddSingleton<ProofOrderJob>()
            .AddSingleton<ThumbnailCache>()
            .AddSingleton<ReadoutPictures>();
}
