namespace Kiln.Browser.Tests;

/// <summary>Script that tells a picture on a page in a few numbers.</summary>
internal static class Patches
{
    /// <summary>
    /// A function <c>numbers(picture, side)</c>: the picture at so many pixels a side, as means of six by six of them. A proof has few
    /// samples here, and its noise is not what is asked about.
    /// </summary>
    public const string Numbers = """
        const numbers = (picture, side) => {
          const copy = document.createElement('canvas');
          copy.width = copy.height = side;
          const to = copy.getContext('2d');
          to.imageSmoothingQuality = 'high';
          to.drawImage(picture, 0, 0, side, side);
          const means = new Float64Array(3 * (side / 6) ** 2);
          to.getImageData(0, 0, side, side).data.forEach((v, i) => {
            const x = (i >> 2) % side, y = (i >> 2) / side | 0;
            if (i % 4 < 3) means[3 * ((y / 6 | 0) * (side / 6) + (x / 6 | 0)) + i % 4] += v / 36;
          });
          return means;
        };
        """;
}
