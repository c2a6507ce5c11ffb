using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Store.Contents;

namespace Kiln.Server.Looks.Bench;

/// <summary>Proposes the metres of a look's height maps; the pictures are looked at small.</summary>
public sealed class HeightScales(IPictureDecoder decoder, ContentStore store)
{
    private const int CopySize = 512;

    /// <param name="slot">The slot of the height; its channel is the first.</param>
    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/looks/{id:guid}/height-scale", async ([AsParameters] LookRequest request, string slot, HeightScales scales) =>
                await scales.OfAsync(await request.LookAsync(), slot, request.Cancel)
            )
            .WithName("heightScale");

    private async Task<HeightScale> OfAsync(Look look, string slot, CancellationToken cancel)
    {
        if (!look.Slots.TryGetValue(slot, out var height))
            throw new LookException($"The look has no slot '{slot}'.");
        var copy = await decoder.DecodeAsync(store.PathOf(height.File.Content), CopySize, cancel);
        float repeatU = look.SizeU / look.Placement.RepeatsU,
            repeatV = look.SizeV / look.Placement.RepeatsV;
        if (look.Slots.FirstOrDefault(s => s.Value.Role == MapRole.Normal) is not { Key: { } name, Value: var normal })
            return HeightScale.Of(copy, null, NormalY.Up, repeatU, repeatV);
        var green = LookReadings.OfSlot(look, name).FirstOrDefault(r => r.Kind == ReadingKind.Direction)?.NormalY ?? NormalY.Up;
        var other = await decoder.DecodeAsync(store.PathOf(normal.File.Content), CopySize, cancel);
        // The smaller of the two gives the size at which they are compared.
        var longest = Math.Min(Math.Max(copy.Width, copy.Height), Math.Max(other.Width, other.Height));
        return HeightScale.Of(Resample.ToFit(copy, longest), Resample.ToFit(other, longest), green, repeatU, repeatV);
    }
}
