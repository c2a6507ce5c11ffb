namespace Kiln.Scattering.Lobes;

/// <summary>Light off the fibres above everything.</summary>
internal readonly struct FuzzLobe
{
    private readonly Fuzz fuzz;
    private readonly Wide3 colour;
    private readonly Wide weight;

    public FuzzLobe(SurfaceModel model, in WideParameters p, in Wide3 wo)
    {
        Under = Wide.One;
        weight = Unit(p.FuzzWeight);
        IsThere = Any(Positive(weight));
        if (!IsThere)
            return;
        fuzz = new(model.Fuzz, p.FuzzRoughness, wo);
        colour = Wide3.Unit(p.FuzzColour);
        Under = Wide.One - weight * Wide3.Greatest(colour) * fuzz.Albedo;
    }

    /// <summary>What is left for what lies below.</summary>
    public Wide Under { get; }

    /// <summary>Whether any of the eight has fibres.</summary>
    public bool IsThere { get; }

    /// <summary>Where there are some.</summary>
    public Wide There => Positive(weight);

    public Wide Albedo => weight * Wide3.Mean(colour) * fuzz.Albedo;

    public Wide3 Evaluate(in Wide3 wi) => colour * (weight * fuzz.Evaluate(wi));

    public Wide Density(in Wide3 wi) => fuzz.Density(wi);

    public Wide3 Sample(Wide u, Wide turns) => fuzz.Sample(u, turns);
}
