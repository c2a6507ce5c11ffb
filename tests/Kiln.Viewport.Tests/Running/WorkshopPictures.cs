using System.Numerics;
using Kiln.Exchange.Tests;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Pixels;

namespace Kiln.Viewport.Tests.Running;

/// <summary>Pictures of smooth noise in three channels, 64 × 48, and four of them as UDIM tiles.</summary>
internal sealed class WorkshopPictures
{
    public MapFile File(Workshop shop, string name) => shop.Store(name + ".png", Picture(name[0]));

    public MapFile Tiled(Workshop shop)
    {
        MapTile[] tiles =
        [
            .. new[] { 1001, 1002, 1011 }.Select(n =>
            {
                var file = shop.Store($"tile.{n}.png", Picture(n));
                return new MapTile(n, file.Content, file.Name);
            }),
        ];
        return File(shop, "t") with { Tiles = tiles };
    }

    private static ImageBuffer Picture(int seed)
    {
        var result = new ImageBuffer(64, 48, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < result.Height; y++)
        for (var x = 0; x < result.Width; x++)
        for (var c = 0; c < 3; c++)
            result.Data[(y * result.Width + x) * 3 + c] = (byte)(
                (c == 2 ? 128 : 0)
                + (c == 2 ? 127 : 255)
                    * TileableNoise.At(new NoiseField(NoiseKind.Fractal, 4, 3, 0.5f, seed + c), new Vector2(x / 64f, y / 48f), 0)
            );
        return result;
    }
}
