namespace Kiln.Pixels;

/// <summary>
/// How one stored sample is represented. Integer samples stand for 0..1 (code / maximum code); float samples for themselves.
/// </summary>
public enum SampleType
{
    U8,
    U16,
    F16,
    F32,
}

public static class SampleTypes
{
    /// <summary>Bytes of one sample: 1, 2 or 4.</summary>
    public static int Bytes(this SampleType type) =>
        type switch
        {
            SampleType.U8 => 1,
            SampleType.F32 => 4,
            _ => 2,
        };

    public static bool IsFloat(this SampleType type) => type is SampleType.F16 or SampleType.F32;
}
