namespace Kiln.Scattering.Interfaces;

/// <summary>Directions that several lobes need.</summary>
internal static class Directions
{
    /// <summary>The direction, or zero where it goes into the surface.</summary>
    public static Wide3 Above(in Wide3 w) => Wide3.Where(Positive(w.Z), w);

    /// <summary>A direction above the surface with the density cos θ / π.</summary>
    public static Wide3 Cosine(Wide u, Wide turns)
    {
        var r = Sqrt(u);
        var (sin, cos) = SinCosTurns(turns);
        return new(r * cos, r * sin, Sqrt(Max(Wide.One - u, Wide.Zero)));
    }
}
