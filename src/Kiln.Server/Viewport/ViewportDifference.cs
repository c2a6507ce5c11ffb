using Kiln.Analysis.Difference;
using Kiln.Pixels;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Viewport;

/// <summary>How far what a viewport shows is from the proof that its viewer has seen last.</summary>
internal static class ViewportDifference
{
    /// <summary>The body is the viewport's picture as it is displayed: three bytes a pixel, its rows from the top, as large as the
    /// proof.</summary>
    public static async Task<IResult> OfAsync([FromQuery(Name = "viewer")] string viewer, RenderScheduler scheduler, HttpContext http)
    {
        if (scheduler.Shown(http.User.Identity!.Name + "/" + viewer) is not { } proof)
            throw new MissingException("proof.missing", "There is no proof yet to compare with.");
        var (width, height) = (proof.Light.Width, proof.Light.Height);
        var bytes = new byte[width * height * 3];
        var length = await http.Request.Body.ReadAtLeastAsync(bytes, bytes.Length, throwOnEndOfStream: false, http.RequestAborted);
        if (length < bytes.Length || await http.Request.Body.ReadAsync(new byte[1], http.RequestAborted) > 0)
            throw new ArgumentException($"The proof has {width} × {height} pixels; a picture of another size cannot be compared with it.");
        var seen = new ImageBuffer(width, height, ["R", "G", "B"], SampleType.U8, bytes);
        var difference = DeltaE.Between(proof.View.Apply(proof.Light, proof.Exposure), seen);
        return Results.Ok(new DifferenceFigures(difference.Mean, difference.Percentile95, difference.Greatest));
    }
}
