using System.Runtime.InteropServices;
using Kiln.Scattering.Albedo;

namespace Kiln.Scattering.Tests;

/// <summary>
/// The shipped tables are the integrals: one of each kind, and of the layers two, worked out anew in every run; all of them where they are
/// renewed (KILN_RENEW_GOLDEN=1, a minute of two processors).
/// </summary>
public sealed class AlbedoTablesTests
{
    private static string File => Repository.Path("src", "Kiln.Scattering", "Albedo", "albedo.bin");

    public static TheoryData<int, int, int> Samples
    {
        get
        {
            var data = new TheoryData<int, int, int>();
            foreach (var (kind, distribution, layer) in AlbedoGrid.All())
                if (
                    kind switch
                    {
                        AlbedoKind.Dielectric => layer == 7,
                        AlbedoKind.Entering => layer == 6,
                        AlbedoKind.Leaving => layer == 11,
                        _ => true,
                    }
                )
                    data.Add((int)kind, (int)distribution, layer);
            return data;
        }
    }

    [Theory, MemberData(nameof(Samples))]
    public void AShippedTableIsWhatIsIntegrated(int kind, int distribution, int layer)
    {
        var fresh = AlbedoIntegrals.Table((AlbedoKind)kind, (Distribution)distribution, layer);
        var shipped = AlbedoTables.Shipped((AlbedoKind)kind, (Distribution)distribution, layer);
        Assert.Equal(AlbedoGrid.Length((AlbedoKind)kind), fresh.Length);
        // Roots and sines of another processor's library may differ in their last bits.
        for (var i = 0; i < fresh.Length; i++)
            Assert.Equal(fresh[i], shipped[i], 1e-5f);
    }

    [Fact]
    public void TheFileHoldsAllOfThemAndNothingElse()
    {
        if (GoldenFile.Renews)
            Renew();
        var numbers = AlbedoGrid.All().Sum(t => AlbedoGrid.Length(t.Kind));
        Assert.Equal(numbers * sizeof(float), new FileInfo(File).Length);
        // Fibres are scaled down where their sum is above 1; the others lose light or keep it.
        foreach (var (kind, distribution, layer) in AlbedoGrid.All())
        foreach (var albedo in AlbedoTables.Shipped(kind, distribution, layer))
            Assert.InRange(albedo, 0, kind == AlbedoKind.Fibres ? float.MaxValue : 1.001f);
    }

    private static void Renew()
    {
        using var file = System.IO.File.Create(File);
        foreach (var (kind, distribution, layer) in AlbedoGrid.All())
            file.Write(MemoryMarshal.AsBytes(AlbedoIntegrals.Table(kind, distribution, layer).AsSpan()));
    }
}
