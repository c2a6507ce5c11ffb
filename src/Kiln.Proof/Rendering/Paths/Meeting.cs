using Kiln.Proof.Geometry;
using Kiln.Scattering;

namespace Kiln.Proof.Rendering.Paths;

/// <summary>Places where eight paths meet surfaces, seen from where the paths come from.</summary>
internal struct Meeting
{
    public const float Clearance = 1e-4f;
    private const float LeastCosine = 0.02f,
        LeastLift = 0.01f;

    public Wide3 Position;

    /// <summary>Towards where the paths came from, and the geometric normals on that side.</summary>
    public Wide3 Wo,
        Facet;
    public Wide3 Normal,
        CoatNormal,
        Stretch,
        CoatStretch;

    /// <summary>Where the paths come from outside; where they come from within a body that light goes through.</summary>
    public Wide IsOutside,
        IsInside;

    public WidePlaces Place;

    public Meeting(in Wide3 origin, in Wide3 direction, Wide distance, in WidePlaces place)
    {
        Place = place;
        Position = origin + direction * distance;
        Wo = -direction;
        IsOutside = AtLeast(Wide3.Dot(place.Facet, Wo), Wide.Zero);
        Facet = OnThisSide(place.Facet);
        Normal = CoatNormal = OnThisSide(place.Normal);
        Stretch = CoatStretch = place.Tangent;
    }

    /// <summary>Metres that cones of light cover of the surface, longer where it is met at an angle.</summary>
    /// <param name="cone">Metres to a metre of the way.</param>
    public readonly Wide Footprint(Wide cone, Wide distance) => cone * distance / Sqrt(Max(Abs(Wide3.Dot(Place.Normal, Wo)), Of(0.05f)));

    public readonly Wide3 Beyond(Wide toOutside) => Position + Wide3.Select(toOutside, Facet, -Facet) * Clearance;

    public readonly Wide3 OnThisSide(in Wide3 v) => Wide3.Select(IsOutside, v, -v);

    /// <summary>
    /// A tangent-space normal on the form: unnormalised interpolated frame, bitangent from normal and tangent (MikkTSpace).
    /// </summary>
    public readonly Wide3 Bent(in Wide3 n)
    {
        var bitangent = Wide3.Cross(Place.Normal, Place.Tangent) * Place.BitangentSign;
        return OnThisSide(Wide3.Normalize(Place.Tangent * n.X + bitangent * n.Y + Place.Normal * n.Z));
    }

    /// <summary>A direction along the form.</summary>
    public readonly Wide3 Headed(in Wide3 heading) =>
        Place.Tangent * heading.X + Wide3.Cross(Place.Normal, Place.Tangent) * (Place.BitangentSign * heading.Y);

    /// <summary>
    /// A shading normal that leans away from the viewer, or whose mirrored ray would go into the surface, is brought back until light can
    /// get away
    /// (after Keller et al. 2017, appendix A.3, simplified).
    /// </summary>
    public readonly Wide3 Reflecting(Wide3 normal)
    {
        var cos = Wide3.Dot(normal, Wo);
        var leans = Less(cos, Of(LeastCosine));
        if (Any(leans))
        {
            normal = Wide3.Select(leans, Wide3.Normalize(normal + Wo * (Of(LeastCosine) - cos)), normal);
            cos = Wide3.Dot(normal, Wo);
        }
        var mirrored = normal * (2f * cos) - Wo;
        var above = Wide3.Dot(mirrored, Facet);
        var sinks = Less(above, Of(LeastLift));
        if (!Any(sinks))
            return normal;
        var lifted = Wide3.Normalize(Wo + Wide3.Normalize(mirrored + Facet * (Of(LeastLift) - above)));
        return Wide3.Select(sinks, lifted, normal);
    }

    /// <summary>Per unit of the scene, so that white light has the transmission colour after the depth (Beer and Lambert).</summary>
    public static Wide3 Absorption(in WideParameters p, float unitsPerMetre)
    {
        var c = Wide3.Min(Wide3.Max(p.TransmissionColour, new(Of(1e-4f))), Wide3.One);
        var deep = Positive(p.TransmissionDepth);
        return Wide3.Where(deep, new Wide3(Log(c.X), Log(c.Y), Log(c.Z)) * (Of(-1f) / (p.TransmissionDepth * unitsPerMetre)));
    }
}
