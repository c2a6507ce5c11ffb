using System.Security.Claims;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Readings;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;
using Kiln.Store.Studio;

namespace Kiln.Server.Configs;

/// <param name="SameAs">Our space that it was measured to be; null for none.</param>
/// <param name="Fault">Why it cannot be used, or only one way; null where it can.</param>
public sealed record ConfigSpaceInfo(
    string Name,
    IReadOnlyList<string> Aliases,
    string Family,
    string Encoding,
    bool IsData,
    bool IsDisplay,
    string? SameAs,
    string? Fault,
    string Description
);

public sealed record ConfigRole(string Role, string Space);

public sealed record ConfigFileRule(string Name, string? Space, string Condition);

public sealed record ConfigDisplayInfo(string Name, IReadOnlyList<string> Views);

/// <summary>A config that was brought in, and whether it is in force.</summary>
public sealed record KeptConfig(ConfigId Id, string Name, string Hash, string AddedBy, DateTime Created, bool InForce);

/// <param name="Title">"none" where none is in force.</param>
/// <param name="Reference">What the config's scene reference was found to be.</param>
public sealed record ColourInfo(
    string Title,
    string Reason,
    string? Fault,
    string? Hash,
    int? Version,
    string? Description,
    string? Reference,
    IReadOnlyList<ConfigSpaceInfo> Spaces,
    IReadOnlyList<ConfigRole> Roles,
    IReadOnlyList<ConfigFileRule> FileRules,
    IReadOnlyList<ConfigDisplayInfo> Displays,
    IReadOnlyList<string> Remarks,
    IReadOnlyList<KeptConfig> Kept
);

/// <param name="Config">Null for none, or, with <paramref name="Environment"/>, for what OCIO names.</param>
public sealed record ConfigChoice(ConfigId? Config, bool Environment = false);

/// <summary>What a file name would be read as by the config's rules.</summary>
public sealed record FileRuleTried(string? Rule, string? Space, string? SameAs);

public sealed record TriedFile(string Name);

/// <summary>One role in one dialect: what is written.</summary>
public sealed record WrittenLine(string Role, ReadingKind Kind, IReadOnlyDictionary<string, string> Dialects);

/// <summary>A space of ours that would be written under another name.</summary>
public sealed record RenamedSpace(string Space, string Before, string After);

/// <param name="Looks">How many looks have a map in one of the renamed spaces.</param>
public sealed record ConfigEffect(string Title, IReadOnlyList<RenamedSpace> Renamed, int Looks, int Unusable);

/// <summary>
/// A colour to be said in another space: as a person types it (<see cref="ColourText"/>), a hex value (sRGB), or numbers with their space.
/// </summary>
/// <param name="To">Null where it stays in its own.</param>
public sealed record RestateQuery(
    string? To = null,
    string? Hex = null,
    float R = 0,
    float G = 0,
    float B = 0,
    string? Space = null,
    string? Text = null
);

/// <param name="Hex">#rrggbb in sRGB; null where sRGB does not hold the colour.</param>
public sealed record ColourRestated(float R, float G, float B, string Space, string? Hex, bool InGamut);

/// <summary>The studio's colour config: which is in force and why, what is in it, and what it means for what is written.</summary>
public static class ColourRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var group = api.MapGroup("/colour");
        group.MapGet("", InfoAsync).WithName("getColour");
        group
            .MapPost("/configs", async (string name, HttpContext http, ConfigRegistry configs) =>
                Results.Ok(new ConfigChoice(await configs.TakeAsync(name, http.Request.Body, http.User.PersonId(), http.RequestAborted)))
            )
            .Produces<ConfigChoice>()
            .RequireAuthorization(Access.Administers)
            .WithName("addColourConfig")
            .TakesFiles();
        group
            .MapDelete("/configs/{id:guid}", async (ConfigId id, ConfigRegistry configs) =>
                await configs.RemoveAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .RequireAuthorization(Access.Administers)
            .WithName("removeColourConfig");
        group.MapPost("/choice", ChooseAsync).RequireAuthorization(Access.Administers).WithName("chooseColourConfig");
        group.MapPost("/effect", EffectAsync).Produces<ConfigEffect>().WithName("colourConfigEffect").TakesDocuments();
        group
            .MapPost("/try-file", (TriedFile file, ConfigRegistry configs) => Tried(file.Name, configs.Current.Names))
            .WithName("tryFileRule");
        group
            .MapGet("/written", (ConfigRegistry configs, DialectProfiles profiles) =>
                MapRoles
                    .All.Select(role => new WrittenLine(
                        role.Label(),
                        role.Kind(),
                        profiles.All.ToDictionary(p => p.Id, p => WrittenReadings.Of(p, role.Kind(), "srgb_texture", configs.NameOf))
                    ))
                    .ToArray()
            )
            .WithName("writtenReadings");
        group.MapPost("/restate", Restated).WithName("restateColour");
        group
            .MapGet("/export", async (LookListRepository looks) =>
                Results.Text(ConfigExport.Write(await SpacesInUseAsync(looks), ColourSpace.AcesCg), "text/yaml")
            )
            .WithName("exportColourConfig");
    }

    private static ColourRestated Restated(RestateQuery query)
    {
        var colour =
            query.Text is { } text ? ColourText.Read(text)
            : query.Hex is { } hex ? ColourValue.FromHex(hex)
            : new(query.R, query.G, query.B, ColourSpace.Find(query.Space ?? query.To ?? "").Id);
        SpaceId to = query.To ?? colour.Space.Text;
        var there = colour.In(ColourSpace.Find(to));
        var shown = ColourText.HexOf(colour);
        return new(there.X, there.Y, there.Z, to.Text, shown, shown is not null);
    }

    private static async Task<ColourInfo> InfoAsync(ConfigRegistry configs, ColourConfigRepository stored)
    {
        var now = configs.Current;
        var kept = (await stored.ListAsync())
            .Select(c => new KeptConfig(c.Id, c.Name, c.Hash, c.AddedBy, c.Created, c.Id == now.Id))
            .ToList();
        if (now.Names is not { } names)
            return new(now.Title, now.Reason, now.Fault, null, null, null, null, [], [], [], [], [], kept);
        var c = names.Config.Config;
        return new(
            now.Title,
            now.Reason,
            null,
            names.Config.Hash,
            c.Version,
            c.Description,
            names.Matching.Anchor?.Label,
            [
                .. names.Config.Spaces.Select(s => new ConfigSpaceInfo(
                    s.Space.Name,
                    s.Space.Aliases,
                    s.Space.Family,
                    s.Space.Encoding,
                    s.Space.IsData,
                    s.Space.IsDisplay,
                    names.OursFor(s.Space.Name)?.Text,
                    Fault(s),
                    s.Space.Description
                )),
            ],
            [.. c.Roles.Select(r => new ConfigRole(r.Key, r.Value))],
            [.. c.FileRules.Select(r => new ConfigFileRule(r.Name, r.Space, Condition(r)))],
            [.. c.Displays.Select(d => new ConfigDisplayInfo(d.Name, [.. d.Views.Select(v => v.Name)]))],
            c.Remarks,
            kept
        );
    }

    private static string? Fault(SpaceState s) =>
        (s.ReadFault, s.WriteFault) switch
        {
            (null, null) => null,
            ({ } read, { } write) => read == write ? read : $"{read}; {write}",
            (null, { } write) => "can be read from, not written to: " + write,
            ({ } read, null) => "can be written to, not read from: " + read,
        };

    private static string Condition(FileRule rule) =>
        rule switch
        {
            { Regex: { } regex } => regex,
            { Pattern: not null } or { Extension: not null } => $"{rule.Pattern ?? "*"}.{rule.Extension ?? "*"}",
            { Name: "ColorSpaceNamePathSearch" } => "a space's name in the path",
            _ => "everything else",
        };

    private static async Task<IResult> ChooseAsync(
        ConfigChoice choice,
        ConfigRegistry configs,
        ColourConfigRepository stored,
        ClaimsPrincipal user
    )
    {
        if (choice.Config is { } id && (await stored.ListAsync()).All(c => c.Id != id))
            return Results.NotFound();
        if (choice.Environment)
            await stored.ForgetAsync();
        else
            await stored.ChooseAsync(choice.Config, user.PersonId());
        await configs.RefreshAsync();
        return Results.NoContent();
    }

    private static async Task<IResult> EffectAsync(
        ConfigChoice choice,
        ConfigRegistry configs,
        ColourConfigRepository stored,
        LookListRepository looks
    )
    {
        ConfigNames? names = null;
        var title = "none";
        if (choice.Config is { } id)
        {
            if ((await stored.ListAsync()).FirstOrDefault(c => c.Id == id) is not { } row)
                return Results.NotFound();
            (names, title) = (new(OpenedConfig.Open(configs.Place(row))), row.Name);
        }
        var inUse = await SpacesInUseAsync(looks);
        var renamed = inUse
            .Select(s => new RenamedSpace(s.Text, configs.NameOf(s), names?.NameOf(s) ?? s.Text))
            .Where(r => r.Before != r.After)
            .ToList();
        var touched = renamed.Select(r => r.Space).ToHashSet();
        var count = (await looks.DocumentsAsync())
            .Select(l => l.Readable().Look)
            .OfType<Look>()
            .Count(l => LookReadings.Of(l).Any(r => touched.Contains(r.Space.Text)));
        return Results.Ok(new ConfigEffect(title, renamed, count, names?.Config.Spaces.Count(s => !s.CanRead && !s.CanWrite) ?? 0));
    }

    private static async Task<IReadOnlyList<SpaceId>> SpacesInUseAsync(LookListRepository looks) =>
        [
            .. (await looks.DocumentsAsync())
                .Select(l => l.Readable().Look)
                .OfType<Look>()
                .SelectMany(LookReadings.Of)
                .Select(r => r.Space)
                .Distinct()
                .OrderBy(s => s.Text, StringComparer.Ordinal),
        ];

    private static FileRuleTried Tried(string name, ConfigNames? names) =>
        names is not null && FileRules.Find(names.Config, name) is { } answer
            ? new(answer.Rule, answer.Space, names.OursFor(answer.Space)?.Text)
            : new(null, null, null);
}
