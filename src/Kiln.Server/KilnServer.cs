using Hangfire;
using Hangfire.PostgreSql;
using Kiln.Analysis.Findings;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Evaluation;
using Kiln.Models.Packing;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Scattering;
using Kiln.Server.Archives;
using Kiln.Server.Collecting;
using Kiln.Server.Configs;
using Kiln.Server.Intake;
using Kiln.Server.Looks;
using Kiln.Server.Looks.Bench;
using Kiln.Server.Models;
using Kiln.Server.Packages;
using Kiln.Server.People;
using Kiln.Server.Platform;
using Kiln.Server.Platform.Errors;
using Kiln.Server.Platform.Security;
using Kiln.Server.Platform.Starting;
using Kiln.Server.Profiles;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Lights;
using Kiln.Server.Proofs.Orders;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Server.Proofs.Walls;
using Kiln.Server.Sheets;
using Kiln.Server.Studio;
using Kiln.Server.Viewport;
using Kiln.Store;
using Kiln.Store.Contents;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using OpenTelemetry.Metrics;
using OpenTelemetry.Trace;
using Serilog;

namespace Kiln.Server;

/// <summary>Puts the server together: database, files, decoding, jobs, sign-in, the API and the front end.</summary>
public static class KilnServer
{
    public static async Task<int> RunAsync(string[] args)
    {
        if (args is ["decode-worker"])
            return DecodeWorker.Run(Console.OpenStandardInput(), Console.OpenStandardOutput());
        if (args is [ModelPacker.Verb, var model, var packed])
            return ModelPacker.Run(model, packed, Console.OpenStandardOutput());
        // Rendering keeps every processor's thread busy for long; answers must not wait until the pool has noticed.
        ThreadPool.SetMinThreads(4 * Environment.ProcessorCount + 16, 16);
        WebApplication app;
        try
        {
            app = Build(args);
        }
        catch (SettingException e)
        {
            await Console.Error.WriteLineAsync(e.Message);
            return 1;
        }
        if (!await Start.DatabaseAnswersAsync(app.Services.GetRequiredService<Database>(), Console.Error))
            return 1;
        await Start.PrepareAsync(app.Services, app.Lifetime.ApplicationStopping);
        await app.RunAsync();
        return 0;
    }

    public static WebApplication Build(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        var settings = KilnSettings.Of(builder.Configuration);
        builder.Host.UseSerilog(
            (_, log) => log.MinimumLevel.Warning().MinimumLevel.Override("Kiln", Serilog.Events.LogEventLevel.Information).WriteTo.Console()
        );
        builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = BodyLimits.Json);
        Services(builder.Services, settings);
        var app = builder.Build();
        app.Use(WorkAtHand.OfRequestAsync);
        app.Use(SecurityHeaders.AddAsync);
        app.UseExceptionHandler();
        app.UseStatusCodePages(c =>
            c.HttpContext.Request.Path.StartsWithSegments("/api") ? Problems.FillAsync(c.HttpContext) : Task.CompletedTask
        );
        app.UseFrontEndFiles();
        app.UseRouting();
        app.Use(BodyLimits.ApplyAsync);
        app.UseAuthentication();
        app.UseAuthorization();
        app.Use(ForgeryGuard.CheckAsync);
        app.MapOpenApi("/openapi/{documentName}.json");
        app.MapGet("/healthz", async (Database database, CancellationToken cancel) =>
                await Start.AnswersAsync(database, cancel)
                    ? Results.Text("ready")
                    : Problems.Of(503, "database.away", "The database does not answer.")
            )
            .ExcludeFromDescription();
        app.MapHub<ProgressHub>("/progress").RequireAuthorization();
        Routes(app.MapGroup("/api/v1").RequireAuthorization());
        // Under /api nothing answers with a page.
        UnknownPlaces.Map(app);
        app.MapPage();
        return app;
    }

    private static void Routes(RouteGroupBuilder api)
    {
        SessionRoutes.Map(api);
        PeopleRoutes.Map(api);
        DeliveryRoutes.Map(api);
        ModelRoutes.Map(api);
        DemoRoutes.Map(api);
        NamingRoutes.Map(api);
        ServerFolderRoutes.Map(api);
        RelinkRoutes.Map(api);
        LookRoutes.Map(api);
        BenchRoutes.Map(api);
        ManyLooks.Map(api);
        VariantRoutes.Map(api);
        FilterRoutes.Map(api);
        MapUseRoutes.Map(api);
        SamenessRoutes.Map(api);
        LaneCosts.Map(api);
        HeightScales.Map(api);
        DroppedMaps.Map(api);
        CollectionRoutes.Map(api);
        VersionRoutes.Map(api);
        RuleRoutes.Map(api);
        ProofRoutes.Map(api);
        ViewportRoutes.Map(api);
        StandInRoutes.Map(api);
        WallRoutes.Map(api);
        LightRoutes.Map(api);
        ProofOrderRoutes.Map(api);
        FitRoutes.Map(api);
        PreviewRoutes.Map(api);
        BatchRoutes.Map(api);
        SheetRoutes.Map(api);
        ArchiveRoutes.Map(api);
        PackageRoutes.Map(api);
        MapThumbnails.Map(api);
        ReadoutRoutes.Map(api);
        StudioRoutes.Map(api);
        ProfileRoutes.Map(api);
        ColourRoutes.Map(api);
        ChartRoutes.Map(api);
    }

    private static void Services(IServiceCollection services, KilnSettings settings)
    {
        services.AddSingleton(settings);
        services.AddSingleton<StudioCache>();
        services.AddSingleton(new Database(settings.Database, Database.ForRequests, () => WorkAtHand.Stops));
        services
            .AddStore()
            .AddPeople()
            .AddStudio()
            .AddIntake()
            .AddLooks()
            .AddProofs()
            .AddViewport()
            .AddPackages()
            .AddCollecting()
            .AddModels();
        services.AddSingleton(_ => new ContentStore(Path.Combine(settings.Data, "contents")));
        services.AddSingleton<IPictureDecoder>(_ => DecodeWorkerPool.OfThisProgram(assembly: typeof(KilnServer).Assembly.Location));
        services.AddSingleton(s => new MapTextures(s.GetRequiredService<IPictureDecoder>(), s.GetRequiredService<ContentStore>()));
        services.AddSingleton(_ => DialectProfiles.Load(DialectProfiles.ShippedFolder()));
        services.AddSingleton(s => new MapMeasuring(
            s.GetRequiredService<IPictureDecoder>(),
            s.GetRequiredService<ContentStore>(),
            (key, measure) => s.GetRequiredService<StudioCache>().SmallOnceAsync("map", key, measure, MapMeasuring.Kilobytes)
        ));
        services.AddSingleton<WarmingUp>();
        services.AddSingleton<DemoStudio>().AddSingleton<DemoLooks>();
        services.AddSingleton<Presence>();
        services.AddSingleton<Listeners>();
        services.AddHostedService<SessionEndBroadcast>();
        Jobs(services, settings);
        services.AddFrontEndFiles();
        services.AddSignalR();
        services.AddOpenApi("v1", SeamSchemas.Describe);
        services.AddProblemDetails();
        services.AddExceptionHandler<ProblemSentences>();
        services.AddAntiforgery(o => o.HeaderName = "X-Kiln-Token");
        services
            .AddDataProtection()
            .PersistKeysToFileSystem(Directory.CreateDirectory(Path.Combine(settings.Data, "keys")))
            .SetApplicationName("Nimble Kiln");
        services
            .AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme)
            .AddCookie(o =>
            {
                o.Cookie.Name = "kiln";
                o.Cookie.SameSite = SameSiteMode.Strict;
                o.ExpireTimeSpan = TimeSpan.FromDays(7);
                o.Events.OnRedirectToLogin = c => Problems.WriteAsync(c.HttpContext, 401, "sign-in", "Sign in first.");
                o.Events.OnRedirectToAccessDenied = c => Problems.WriteAsync(c.HttpContext, 403, "role", "Your role does not allow this.");
                o.Events.OnValidatePrincipal = c => c.HttpContext.RequestServices.GetRequiredService<SessionCookies>().ValidateAsync(c);
            });
        services.AddAccess();
        Bodies(services);
        Telemetry(services, settings);
    }

    /// <summary>Two queues of jobs: what people wait for, and what may take long.</summary>
    private static void Jobs(IServiceCollection services, KilnSettings settings)
    {
        services.AddHangfire(h =>
            h.UseSimpleAssemblyNameTypeSerializer()
                .UseRecommendedSerializerSettings()
                .UsePostgreSqlStorage(
                    p => p.UseNpgsqlConnection(Database.Pooled(settings.Database, Database.ForJobs)),
                    new PostgreSqlStorageOptions
                    {
                        UseSlidingInvisibilityTimeout = true,
                        InvisibilityTimeout = TimeSpan.FromSeconds(30),
                        DistributedLockTimeout = JobQueues.LockLasts,
                        QueuePollInterval = TimeSpan.FromMilliseconds(300),
                        PrepareSchemaIfNecessary = true,
                    }
                )
        );
        services.AddHangfireServer(o =>
            (o.ServerName, o.WorkerCount, o.Queues) = ($"{Environment.MachineName}:light", 1, [JobQueues.Light, JobQueues.Before])
        );
        services.AddHangfireServer(o =>
            (o.ServerName, o.WorkerCount, o.Queues) = (
                $"{Environment.MachineName}:heavy",
                1,
                [JobQueues.Heavy, JobQueues.Light, JobQueues.Before]
            )
        );
    }

    /// <summary>How bodies are read: strictly, and told as every other fault is.</summary>
    private static void Bodies(IServiceCollection services)
    {
        // A body that cannot be read, or a value of the address that cannot, is told as every other fault is.
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull;
            o.SerializerOptions.MaxDepth = 128;
            o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict;
            o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
            // A field that is not known is refused by its name, and so is one that is missing: nothing is dropped or becomes 0 in silence.
            o.SerializerOptions.UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow;
            o.SerializerOptions.RespectRequiredConstructorParameters = true;
            o.SerializerOptions.RespectNullableAnnotations = true;
            o.SerializerOptions.TypeInfoResolverChain.Insert(0, RequiredFields.Resolver);
        });
    }

    private static void Telemetry(IServiceCollection services, KilnSettings settings)
    {
        var telemetry = services
            .AddOpenTelemetry()
            .WithMetrics(m => m.AddAspNetCoreInstrumentation().AddMeter(StudioCache.Meters))
            .WithTracing(t => t.AddAspNetCoreInstrumentation());
        if (settings.Telemetry is not null)
            telemetry.WithMetrics(m => m.AddOtlpExporter()).WithTracing(t => t.AddOtlpExporter());
    }
}
