using System.Security.Claims;
using System.Text.Json.Serialization;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;
using Kiln.Server.Configs;
using Kiln.Server.Platform.Security;
using Kiln.Store.Looks;
using Kiln.Store.Studio;

namespace Kiln.Server.Studio;

public sealed record RoleInfo(MapRole Id, [property: JsonPropertyName("words")] string Label, ReadingKind Kind);

public sealed record DialectInfo(
    string Id,
    string Title,
    string Short,
    [property: JsonPropertyName("words")] string Summary,
    string Document
);

/// <param name="ConfigName">What the config in force calls it; null without a config or where it has none.</param>
public sealed record SpaceInfo(string Id, [property: JsonPropertyName("words")] string Label, string? ConfigName);

/// <summary>The config in force, for the top line.</summary>
public sealed record PipelineInfo(string Title, string Reason, string? Fault, string? Hash);

/// <param name="Id">acescg or lin_rec709.</param>
public sealed record WorkingInfo(string Id, [property: JsonPropertyName("words")] string Label, string Reason);

/// <summary>The words and choices that the front end builds its menus from.</summary>
public sealed record StudioInfo(
    IReadOnlyList<NeutralInput> Inputs,
    IReadOnlyList<RoleInfo> Roles,
    IReadOnlyList<DialectInfo> Dialects,
    IReadOnlyList<SpaceInfo> Spaces,
    IReadOnlyList<string> Forms,
    IReadOnlyList<string> Lights,
    IReadOnlyList<string> Views,
    WorkingInfo Working,
    PipelineInfo Config,
    IReadOnlyList<string> StopColours,
    IReadOnlyList<string> Layers
);

/// <param name="Id">acescg or lin_rec709; null to follow the studio, for a collection.</param>
public sealed record ChosenSpace(string? Id);

public static class StudioRoutes
{
    /// <summary>
    /// The config's displays and views, "DISPLAY / VIEW"; data that a view shows as it is comes along, as the config has it.
    /// </summary>
    private static IEnumerable<string> ConfigViews(ConfigRegistry colour, string working)
    {
        if (colour.Current.Names is not { } names)
            return [];
        // Viewing rules speak of the space that is looked at: the working space under the config's name.
        var space = names.Matching.NameFor(names.Config, working);
        return names.Config.ShownDisplays.SelectMany(d =>
            (space is null ? d.Views.Select(v => v.Name) : names.Config.ViewsFor(d.Name, space)).Select(v => $"{d.Name} / {v}")
        );
    }

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/house", async (DialectProfiles profiles, ConfigRegistry colour, LookContextRepository spaces, LightRepository own) =>
                Info(profiles, colour, await spaces.OfStudioAsync(), (await own.ListAsync()).Select(l => l.Name))
            )
            .WithName("getHouse");
        // What every step is called, how it is set and what it takes: the interface knows no step by itself.
        api.MapGet("/steps", () => StepTable.All.Select(e => e.Describe())).WithName("listStepKinds");
        api.MapPut("/house/working-space", async (ChosenSpace choice, LookContextRepository spaces, ClaimsPrincipal user) =>
            {
                await spaces.ChooseAsync(WorkingSpace.Find(choice.Id ?? ""), user.PersonId());
                return Results.NoContent();
            })
            .RequireAuthorization(Access.Administers)
            .WithName("chooseWorkingSpace");
    }

    private static StudioInfo Info(DialectProfiles profiles, ConfigRegistry colour, LookContext working, IEnumerable<string> ownLights) =>
        new(
            NeutralInputs.All,
            [.. MapRoles.All.Select(r => new RoleInfo(r, r.Label(), r.Kind()))],
            [
                .. profiles.All.Select(p => new DialectInfo(
                    p.Id,
                    p.Title,
                    p.Short ?? p.Title,
                    p.Summary,
                    WordConverter<DocumentKind>.Word(p.Document)
                )),
            ],
            [
                .. ColourSpace.All.Select(s => new SpaceInfo(
                    s.Id.Text,
                    s.Label,
                    colour.Current.Names is { } names ? names.Matching.NameFor(names.Config, s.Id) : null
                )),
            ],
            Forms.Ids,
            [.. LightRoom.Ids, .. ownLights],
            [.. View.Ids, .. ConfigViews(colour, working.Space.Id)],
            new(working.Space.Id, working.Space.Space.Label, working.Reason),
            new(colour.Current.Title, colour.Current.Reason, colour.Current.Fault, colour.Current.Names?.Config.Hash),
            StopColours.Hex,
            ProofLayers.Names
        );
}
