using System.Security.Claims;
using Hangfire;
using Kiln.Intake.Listing;
using Kiln.Looks.Ids;
using Kiln.Server.Platform.Security;
using Kiln.Store.Intake;

namespace Kiln.Server.Intake;

public sealed record NewServerFolder(string Path, string? Name);

/// <param name="Path">Relative to the registered folder, / between parts.</param>
public sealed record FolderEntry(string Path, string Name, bool IsArchive, int Files);

public sealed record FromFolder(FolderId Folder, string Path);

/// <summary>Folders of the server: an admin says which, artists take deliveries from them; nothing outside can be reached.</summary>
public static class ServerFolderRoutes
{
    private const int MostEntries = 2000;

    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/server-folders");
        group.MapGet("", (ServerFolderRepository folders) => folders.ListAsync()).WithName("listServerFolders");
        group.MapPost("", AddAsync).RequireAuthorization(Access.Administers).WithName("addServerFolder");
        group
            .MapDelete("/{id:guid}", async (FolderId id, ServerFolderRepository folders) =>
                await folders.DeleteAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Administers)
            .WithName("removeServerFolder");
        group
            .MapGet("/{id:guid}/entries", async (FolderId id, ServerFolderRepository folders, string path = "") =>
                await folders.FindAsync(id) is { } folder ? Results.Ok(Entries(folder, path)) : Results.NotFound()
            )
            .Produces<FolderEntry[]>()
            .WithName("browseServerFolder");
        api.MapPost("/deliveries/from-folder", TakeAsync)
            .RequireAuthorization(Access.Works)
            .Produces<DeliveryInfo>()
            .WithName("takeFromFolder");
    }

    private static async Task<ServerFolder> AddAsync(NewServerFolder request, ServerFolderRepository folders, ClaimsPrincipal user)
    {
        if (!Path.IsPathFullyQualified(request.Path) || !Directory.Exists(request.Path))
            throw new DeliveryException($"There is no folder '{request.Path}' on the server; give its full path.");
        var path = Real(request.Path);
        if (path == "/")
            throw new DeliveryException("The whole server cannot be a folder for deliveries; choose a folder that holds nothing else.");
        var folder = new ServerFolder(
            Ids.New<FolderId>(),
            string.IsNullOrWhiteSpace(request.Name) ? Path.GetFileName(path) : request.Name.Trim(),
            path
        );
        await folders.AddAsync(folder, user.PersonId());
        return (await folders.ListAsync()).First(f => f.Path == path);
    }

    private static FolderEntry[] Entries(ServerFolder folder, string path)
    {
        var place = Inside(folder, path);
        return
        [
            .. new DirectoryInfo(place)
                .EnumerateFileSystemInfos()
                .Where(e =>
                    e.LinkTarget is null
                    && !e.Name.StartsWith('.')
                    && (e is DirectoryInfo || e.Extension.Equals(".zip", StringComparison.OrdinalIgnoreCase))
                )
                .OrderBy(e => e.Name, StringComparer.OrdinalIgnoreCase)
                .Take(MostEntries)
                .Select(e => new FolderEntry(
                    Path.GetRelativePath(folder.Path, e.FullName).Replace('\\', '/'),
                    e.Name,
                    e is FileInfo,
                    e is DirectoryInfo d ? Count(d) : 1
                )),
        ];
    }

    private static async Task<IResult> TakeAsync(
        FromFolder request,
        ServerFolderRepository folders,
        DeliveryTaking deliveries,
        ClaimsPrincipal user
    )
    {
        if (await folders.FindAsync(request.Folder) is not { } folder)
            return Results.NotFound();
        var place = Inside(folder, request.Path);
        var name = request.Path.Length == 0 ? folder.Name : Path.GetFileNameWithoutExtension(place);
        return Results.Ok(DeliveryRoutes.Info(await deliveries.FromServerAsync(name, place, user.PersonId())));
    }

    /// <summary>A place inside a registered folder, links resolved.</summary>
    /// <exception cref="DeliveryException">The path is not there or leads out of the folder.</exception>
    private static string Inside(ServerFolder folder, string path)
    {
        var full = Path.GetFullPath(Path.Combine(folder.Path, path.Replace('\\', '/').TrimStart('/')));
        if (!File.Exists(full) && !Directory.Exists(full) || Path.IsPathFullyQualified(path) || path.Split('/', '\\').Contains(".."))
            throw new DeliveryException($"There is no '{path}' in {folder.Name}.");
        var real = Real(full);
        if (real != folder.Path && !real.StartsWith(folder.Path + "/", StringComparison.Ordinal))
            throw new DeliveryException($"'{path}' leads out of {folder.Name}.");
        return real;
    }

    /// <summary>The path with every symbolic link on the way followed.</summary>
    private static string Real(string path)
    {
        var real = "/";
        foreach (var part in Path.GetFullPath(path).Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            var next = Path.Combine(real, part);
            FileSystemInfo info = Directory.Exists(next) ? new DirectoryInfo(next) : new FileInfo(next);
            real = info.ResolveLinkTarget(returnFinalTarget: true)?.FullName ?? next;
        }
        return real;
    }

    private static int Count(DirectoryInfo folder)
    {
        try
        {
            return folder.EnumerateFiles().Take(10_000).Count();
        }
        catch (Exception e) when (e is UnauthorizedAccessException or IOException)
        {
            return 0;
        }
    }
}

/// <summary>Deliveries that lie on the server: analysed where they are, copied by nobody.</summary>
public sealed class DeliveryTaking(DeliveryRepository deliveries, IBackgroundJobClient jobs)
{
    public async Task<DeliveryRow> FromServerAsync(string name, string place, PersonId person)
    {
        var id = await deliveries.CreateAsync(name, person, place);
        await deliveries.AdvanceAsync(id, "receiving", "analysing");
        jobs.Enqueue<IntakeJob>(j => j.RunAsync(id.Value, CancellationToken.None));
        return (await deliveries.FindAsync(id))!;
    }
}
