namespace Kiln.Pixels.Decoding.Headers;

/// <summary>Reads the facts of a picture from its header in managed code; limits are checked before anything is believed.</summary>
public static class HeaderReader
{
    private const int HeadBytes = 256 * 1024;

    /// <exception cref="PictureException">The file is no picture that is read here, is damaged, or claims more than the limits
    /// allow.</exception>
    public static PictureFacts Read(Stream stream, DecodeLimits limits)
    {
        var head = new byte[HeadBytes];
        var length = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        if (length == 0)
            throw new PictureException("The file is empty.");
        var bytes = head.AsSpan(0, length);
        try
        {
            var format = PictureFormats.Told(bytes)
                ?? throw new PictureException($"The content is no picture format that is read here ({PictureFormats.Labels}).");
            var facts = format.Header(bytes, stream);
            limits.Check(facts.Width, facts.Height, facts.Channels.Count);
            return facts;
        }
        catch (Exception e)
            when (e
                    is IndexOutOfRangeException
                        or ArgumentOutOfRangeException
                        or OverflowException
                        or ArgumentException
                        or EndOfStreamException
            )
        {
            throw new PictureException("The header ends too early or contradicts itself; the file is damaged.", e);
        }
    }
}
