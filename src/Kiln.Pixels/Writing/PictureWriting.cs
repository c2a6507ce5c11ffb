namespace Kiln.Pixels.Writing;

/// <summary>How a picture is written; what a format does not have is left aside.</summary>
/// <param name="Compression">Strength of lossless compression, 1 (quick) to 9; of PNG.</param>
/// <param name="Quality">1 to 100; of JPEG and WebP.</param>
/// <param name="Chromaticities">The primaries of its colours; of OpenEXR.</param>
/// <param name="IsTiled">In tiles with all smaller levels, as texture systems read them; of TIFF, always, and of OpenEXR.</param>
public sealed record PictureWriting(int Compression = 6, int Quality = 85, Chromaticities? Chromaticities = null, bool IsTiled = false);
