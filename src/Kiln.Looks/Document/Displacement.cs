namespace Kiln.Looks.Document;

/// <summary>Moving the surface itself by its height. Off until asked, because it costs geometry.</summary>
/// <param name="HeightMetres">From stored 0 to stored 1.</param>
/// <param name="Midpoint">The stored value that stays where it is, 0..1.</param>
/// <param name="MidpointReason">Why it is that: bits, measured values, or a person.</param>
/// <param name="BoundMetres">The farthest that anything moves; renderers reserve that much room.</param>
/// <param name="EdgeMetres">Edges are split until they are no longer than this.</param>
/// <param name="Subdivision">Times that the mesh is halved at most, 0..10.</param>
/// <param name="Level">Of a renderer that asks for a resolution level: powers of two of texels on a side; null leaves it to the map's
/// size.</param>
public sealed record Displacement(
    bool On = false,
    float HeightMetres = 0.02f,
    float Midpoint = 0.5f,
    string MidpointReason = "",
    float BoundMetres = 0.02f,
    float EdgeMetres = 0.005f,
    int Subdivision = 3,
    int? Level = null
);
