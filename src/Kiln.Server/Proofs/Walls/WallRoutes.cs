using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Analysis.Difference;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;
using Kiln.Server.Looks;
using Kiln.Server.Platform.Security;
using Kiln.Store;
using Kiln.Store.Looks;

namespace Kiln.Server.Proofs.Walls;

public sealed record WallRow(LookId Look, string? Dialect = null, int? At = null);

/// <param name="Turn">Degrees that the light is turned by, beside the wall's own.</param>
public sealed record WallColumn(string Form, string Light, float Turn = 0);

/// <summary>
/// A wall of proofs: rows of looks, dialects or times, columns of forms and lights; camera, exposure and view are the same for all.
/// </summary>
public sealed record Wall(
    WallRow[] Rows,
    WallColumn[] Columns,
    float? Yaw = null,
    float? Pitch = null,
    float Zoom = 1,
    float LightRotation = 0,
    float Exposure = 0,
    string View = "aces1-sdr",
    int Samples = 64
)
{
    private const int MostRows = 24,
        MostColumns = 12;

    /// <exception cref="ArgumentException">It holds nothing, or too much.</exception>
    public Wall Checked() =>
        Rows.Length is 0 or > MostRows || Columns.Length is 0 or > MostColumns
            ? throw new ArgumentException($"A wall has 1 to {MostRows} rows and 1 to {MostColumns} columns.")
            : this;
}

public sealed record SavedWall(string Name, Wall Wall);

public sealed record ComparisonInfo(ComparisonId Id, string Name, string MadeBy, int Revision, DateTime Changed, Wall Wall);

public sealed record DifferenceQuery(ProofCell First, ProofCell Second);

/// <summary>
/// ΔE (CIEDE2000) of two displayed proofs; luminance is the mean of the displayed lightness L*; the map is a PNG in base64.
/// </summary>
public sealed record CellDifference(
    float Mean,
    float Percentile95,
    float Greatest,
    float WorstU,
    float WorstV,
    float FirstLightness,
    float SecondLightness,
    string Map
);

/// <summary>A place of a proof, and of another beside it; u and v from the left and from the top, 0..1.</summary>
/// <param name="Patch">Side of the square that is averaged, in pixels.</param>
public sealed record CellReadoutQuery(ProofCell First, ProofCell? Second, float U, float V, int Patch = 5);

/// <param name="DeltaE">CIEDE2000 of what is displayed of the two; null for one alone.</param>
public sealed record CellReadout(LightReadout First, LightReadout? Second, double? DeltaE)
{
    public static CellReadout Of(LightReadout first, LightReadout? second)
    {
        return new(first, second, second is null ? null : Analysis.Difference.DeltaE.Between(Lab(first), Lab(second)));

        static (double, double, double) Lab(LightReadout of) =>
            Analysis.Difference.DeltaE.LabOfDisplay(new(of.Displayed[0], of.Displayed[1], of.Displayed[2]));
    }
}

public sealed record ScaleStep(double? UpTo, string Colour, [property: JsonPropertyName("words")] string Label);

/// <summary>Walls of proofs: their pictures, what lies between two of them, and saved ones.</summary>
public static class WallRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/proofs/cell", CellAsync).WithName("proofCell");
        api.MapPost("/proofs/difference", DifferenceAsync).WithName("differenceOfCells");
        api.MapPost("/proofs/cell-readout", ReadoutAsync).WithName("readCells");
        api.MapGet("/proofs/difference-scale", () =>
                DifferenceMap.Scale.Select(s => new ScaleStep(
                    double.IsPositiveInfinity(s.UpTo) ? null : s.UpTo,
                    $"#{s.Red:x2}{s.Green:x2}{s.Blue:x2}",
                    s.Words
                ))
            )
            .WithName("differenceScale");
        api.MapGet("/comparisons", async (ComparisonRepository comparisons) => (await comparisons.ListAsync()).Select(Info))
            .WithName("listComparisons");
        api.MapGet("/comparisons/{id:guid}", async (ComparisonId id, ComparisonRepository comparisons) =>
                Info(
                    await comparisons.FindAsync(id)
                        ?? throw new MissingException("comparison.missing", "This comparison is not there any more.")
                )
            )
            .WithName("comparison");
        api.MapPost("/comparisons", AddAsync).WithName("saveComparison").RequireAuthorization(Access.Works);
        api.MapPut("/comparisons/{id:guid}", ReplaceAsync)
            .Produces<ComparisonInfo>()
            .WithName("changeComparison")
            .RequireAuthorization(Access.Works);
        api.MapDelete("/comparisons/{id:guid}", async (ComparisonId id, ComparisonRepository comparisons) =>
                await comparisons.RemoveAsync(id) ? Results.NoContent() : Results.NotFound()
            )
            .WithName("removeComparison")
            .RequireAuthorization(Access.Works);
    }

    private static async Task<IResult> CellAsync(
        [AsParameters] ProofCell cell,
        WallRenderer walls,
        HttpResponse response,
        CancellationToken cancel
    )
    {
        response.Headers.CacheControl = "no-cache";
        return Results.Bytes(await walls.PngAsync(cell, cancel), PictureFormat.Png.MediaType());
    }

    private static async Task<CellDifference> DifferenceAsync(DifferenceQuery query, WallRenderer walls, CancellationToken cancel)
    {
        if (query.First.Size != query.Second.Size)
            throw new ArgumentException("Two proofs of different sizes cannot be compared.");
        var (first, second) = (await walls.PictureAsync(query.First, cancel), await walls.PictureAsync(query.Second, cancel));
        var difference = DeltaE.Between(first, second);
        var (u, v) = difference.Worst();
        return new(
            difference.Mean,
            difference.Percentile95,
            difference.Greatest,
            u,
            v,
            Lightness(first),
            Lightness(second),
            Convert.ToBase64String(PictureWriter.Png(DifferenceMap.Of(difference), 1))
        );
    }

    private static async Task<CellReadout> ReadoutAsync(CellReadoutQuery query, WallRenderer walls, CancellationToken cancel)
    {
        var first = await walls.ReadAsync(query.First, query.U, query.V, query.Patch, cancel);
        var second = query.Second is { } other ? await walls.ReadAsync(other, query.U, query.V, query.Patch, cancel) : null;
        return CellReadout.Of(first, second);
    }

    private static float Lightness(ImageBuffer picture)
    {
        double sum = 0;
        for (var y = 0; y < picture.Height; y++)
        for (var x = 0; x < picture.Width; x++)
            sum += DeltaE.LabOfDisplay(new(picture[x, y, 0], picture[x, y, 1], picture[x, y, 2])).L;
        return (float)(sum / picture.Width / picture.Height);
    }

    private static async Task<ComparisonInfo> AddAsync(SavedWall saved, ComparisonRepository comparisons, HttpContext http)
    {
        var id = await comparisons.AddAsync(
            Name(saved.Name),
            JsonSerializer.Serialize(saved.Wall.Checked(), JsonSerializerOptions.Web),
            http.User.PersonId()
        );
        return Info((await comparisons.FindAsync(id))!);
    }

    private static async Task<IResult> ReplaceAsync(ComparisonId id, SavedWall saved, ComparisonRepository comparisons, HttpContext http)
    {
        var revision = LookRequest.RevisionOf(http);
        if (
            await comparisons.ReplaceAsync(
                id,
                revision,
                Name(saved.Name),
                JsonSerializer.Serialize(saved.Wall.Checked(), JsonSerializerOptions.Web)
            )
        )
            return Results.Ok(Info((await comparisons.FindAsync(id))!));
        var now = await comparisons.FindAsync(id)
            ?? throw new MissingException(
                "comparison.missing",
                "This comparison is not there any more. Save yours under a name of its own."
            );
        return Results.Problem(
            title: $"{now.MadeBy}'s comparison was changed meanwhile (it is at revision {now.Revision}). Yours is still here: save it "
                + "under another name, or open theirs.",
            statusCode: 409,
            extensions: new Dictionary<string, object?> { ["code"] = "changed" }
        );
    }

    private static string Name(string name) =>
        name.Trim().Length is > 0 and <= 80 && !name.Any(char.IsControl)
            ? name.Trim()
            : throw new ArgumentException("A comparison is saved under a name of 1 to 80 characters.");

    private static ComparisonInfo Info(ComparisonRow row) =>
        new(
            row.Id,
            row.Name,
            row.MadeBy,
            row.Revision,
            row.Changed,
            JsonSerializer.Deserialize<Wall>(row.Wall, JsonSerializerOptions.Web)!
        );
}
