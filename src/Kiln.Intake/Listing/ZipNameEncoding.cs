using System.Text;

namespace Kiln.Intake.Listing;

/// <summary>
/// Names of zip entries that do not say how they are written (bit 11 of the general purpose flag, APPNOTE 6.3.10, appendix D): code page
/// 437 by the format's rule; but what is well-formed UTF-8 beyond ASCII is that, since systems that speak UTF-8 write their names as they
/// are. Letters of code page 437 hardly ever come out as UTF-8 by chance.
/// </summary>
internal sealed class ZipNameEncoding : Encoding
{
    public static readonly ZipNameEncoding Instance = new();

    private static readonly UTF8Encoding Strict = new(false, throwOnInvalidBytes: true);
    private static readonly Encoding CodePage437 = CodePagesEncodingProvider.Instance.GetEncoding(437)!;

    private ZipNameEncoding() { }

    public override int GetCharCount(byte[] bytes, int index, int count) => Of(bytes, index, count).GetCharCount(bytes, index, count);

    public override int GetChars(byte[] bytes, int byteIndex, int byteCount, char[] chars, int charIndex) =>
        Of(bytes, byteIndex, byteCount).GetChars(bytes, byteIndex, byteCount, chars, charIndex);

    public override int GetMaxCharCount(int byteCount) => byteCount;

    public override int GetByteCount(char[] chars, int index, int count) => throw ReadOnly();

    public override int GetBytes(char[] chars, int charIndex, int charCount, byte[] bytes, int byteIndex) => throw ReadOnly();

    public override int GetMaxByteCount(int charCount) => throw ReadOnly();

    private static NotSupportedException ReadOnly() => new("Names are read so, not written.");

    private static Encoding Of(byte[] bytes, int index, int count)
    {
        try
        {
            Strict.GetCharCount(bytes, index, count);
            return Strict;
        }
        catch (DecoderFallbackException)
        {
            return CodePage437;
        }
    }
}
