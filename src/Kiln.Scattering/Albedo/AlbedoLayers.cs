namespace Kiln.Scattering.Albedo;

/// <summary>
/// The albedo tables of one distribution as layers of a picture, for what reads them elsewhere: <see cref="Side"/> by <see cref="Side"/>
/// numbers each. Across: the square root of the cosine, 0 to 1; down: the square root of the width, 0 to 1 (of fibres the roughness).
/// </summary>
public static class AlbedoLayers
{
    public const int Side = AlbedoGrid.Angles;

    /// <summary>Layers: reflection, split, average (the same across), dielectric by index, glass entering, glass leaving, fibres.</summary>
    public const int Count = 3 + 3 * AlbedoGrid.Layers + 1;

    /// <returns><see cref="Count"/> layers one after the other.</returns>
    public static float[] Of(Distribution distribution)
    {
        var result = new float[Count * Side * Side];
        var at = 0;
        void Put(ReadOnlySpan<float> table)
        {
            table.CopyTo(result.AsSpan(at));
            at += Side * Side;
        }
        Put(AlbedoTables.Shipped(AlbedoKind.Reflection, distribution));
        Put(AlbedoTables.Shipped(AlbedoKind.Split, distribution));
        Put([.. AlbedoTables.Shipped(AlbedoKind.Average, distribution).ToArray().SelectMany(v => Enumerable.Repeat(v, Side))]);
        for (var layer = 0; layer < AlbedoGrid.Layers; layer++)
            Put(AlbedoTables.Shipped(AlbedoKind.Dielectric, distribution, layer));
        foreach (var kind in (AlbedoKind[])[AlbedoKind.Entering, AlbedoKind.Leaving])
            for (var layer = 0; layer < AlbedoGrid.Layers; layer++)
                Put(AlbedoTables.Shipped(kind, Distribution.Ggx, layer));
        Put(AlbedoTables.Shipped(AlbedoKind.Fibres));
        return result;
    }
}
