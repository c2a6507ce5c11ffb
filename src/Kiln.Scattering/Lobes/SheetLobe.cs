namespace Kiln.Scattering.Lobes;

/// <summary>Light that a thin sheet scatters to its other side.</summary>
internal readonly struct SheetLobe(in Wide3 colour, Wide share, in Wide3 underInterface)
{
    private readonly Wide3 colour = colour,
        underInterface = underInterface;

    /// <summary>Whether any of the eight is one.</summary>
    public bool IsThere { get; } = Any(Positive(share));

    /// <summary>Where there is one.</summary>
    public Wide There => Positive(share);

    /// <summary>What it returns of light from everywhere, where the layers above leave <paramref name="below"/>.</summary>
    public Wide Albedo(Wide below) => below * share * Wide3.Mean(colour * underInterface);

    public Wide3 Evaluate(in Wide3 wi) => colour * underInterface * (share * Negative(wi.Z) * (1f / MathF.PI));

    public static Wide Density(in Wide3 wi, Wide chance) => chance * Negative(wi.Z) * (1f / MathF.PI);

    public static Wide3 Sample(Wide u, Wide turns) => -Interfaces.Directions.Cosine(u, turns);
}
