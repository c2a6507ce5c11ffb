using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using System.Runtime.InteropServices;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>A checked plane seen at a grazing angle, against OpenImageIO 2.4's texture system asked at 64 places of every pixel.</summary>
public sealed class TextureLookups : IDisposable
{
    private const int Side = 64,
        Sub = 8,
        Repeats = 8;

    private readonly PictureFolder pictures = new();

    public void Dispose() => pictures.Dispose();

    private static Mesh Plane() =>
        new Mesh
        {
            Positions = [new(-0.5f, 0, 0.5f), new(0.5f, 0, 0.5f), new(0.5f, 0, -0.5f), new(-0.5f, 0, -0.5f)],
            Normals = [Vector3.UnitY, Vector3.UnitY, Vector3.UnitY, Vector3.UnitY],
            Uvs = [new(0, 0), new(1, 0), new(1, 1), new(0, 1)],
            Indices = [0, 1, 2, 0, 2, 3],
            Parts = [("plane", 0, 2)],
            IsSheet = true,
        }.WithTangents();

    /// <summary>Checks with a slow wave over them, so that both a wrong place and a wrong width show.</summary>
    private MapFile Picture()
    {
        var picture = new ImageBuffer(256, 256, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < 256; y++)
        for (var x = 0; x < 256; x++)
        {
            var check = ((x / 32) + (y / 32)) % 2 == 0 ? 0.85f : 0.15f;
            picture[x, y, 0] = check;
            picture[x, y, 1] = 0.5f + 0.4f * MathF.Sin(2 * MathF.PI * x / 256f);
            picture[x, y, 2] = y / 255f;
        }
        return pictures.Store("checks.png", picture);
    }

    [Theory]
    [InlineData(4f)]
    [InlineData(12f)]
    [InlineData(45f)]
    public async Task AGrazingPlaneIsWhatASupersampledLookupSees(float pitch)
    {
        var graph = new ShadeGraph();
        var image = graph.Image(new(Picture(), new Reading(ReadingKind.Colour, "raw", MapChannel.Rgb), new Placement(Repeats, Repeats)));
        var material = await ProofMaterial.LoadAsync(SurfaceGraph.OfNode(graph, image), pictures.Textures);
        var scene = new ProofScene(Plane(), material, EnvironmentLight.Even(Vector3.One), withFloor: false);
        var tracer = new PathTracer(scene, Side, Side, new OrbitCamera(20, pitch, 1.6f));
        tracer.Accumulate(256);
        var seen = tracer.Picture();

        // Where the pixels' rays meet y = 0, worked out here from the camera alone.
        var (places, pixels) = (new List<float>(), new List<(int X, int Y)>());
        for (var y = 0; y < Side; y++)
        for (var x = 0; x < Side; x++)
        {
            var own = new List<float>();
            for (var j = 0; j < Sub; j++)
            for (var i = 0; i < Sub; i++)
            {
                var d = tracer.Camera.Direction(x + (i + 0.5f) / Sub, y + (j + 0.5f) / Sub);
                var p = tracer.Camera.Eye - d * (tracer.Camera.Eye.Y / d.Y);
                if (d.Y < 0 && MathF.Abs(p.X) < 0.49f && MathF.Abs(p.Z) < 0.49f)
                    own.AddRange([(p.X + 0.5f) * Repeats, 1 - (0.5f - p.Z) * Repeats]);
            }
            if (own.Count == 2 * Sub * Sub)
            {
                places.AddRange(own);
                pixels.Add((x, y));
            }
        }
        Assert.True(pixels.Count > 100, $"{pixels.Count} pixels");
        var (truth, filtered) = Looked(places, pixels.Count);

        double own2 = 0,
            theirs2 = 0;
        var (meanSeen, meanTrue) = (Vector3.Zero, Vector3.Zero);
        for (var k = 0; k < pixels.Count; k++)
        {
            var (x, y) = pixels[k];
            var v = new Vector3(seen[x, y, 0], seen[x, y, 1], seen[x, y, 2]);
            own2 += (v - truth[k]).LengthSquared();
            theirs2 += (filtered[k] - truth[k]).LengthSquared();
            meanSeen += v / pixels.Count;
            meanTrue += truth[k] / pixels.Count;
        }
        double ours = Math.Sqrt(own2 / pixels.Count / 3),
            theirs = Math.Sqrt(theirs2 / pixels.Count / 3);
        // No light is won or lost by filtering, and the plane is no further from the truth than one trilinear lookup of OpenImageIO for
        // each pixel is.
        Assert.True(
            Vector3.Abs(meanSeen - meanTrue) is var d2 && MathF.Max(d2.X, MathF.Max(d2.Y, d2.Z)) < 0.01f,
            $"mean {meanSeen} against {meanTrue}"
        );
        Assert.True(ours <= theirs, $"pitch {pitch}: {ours:0.0000} against {theirs:0.0000} of a trilinear lookup, {pixels.Count} pixels");
    }

    /// <summary>
    /// For every pixel the mean of unfiltered bilinear lookups at all its places, and one isotropic trilinear lookup at its middle over the
    /// whole pixel.
    /// </summary>
    private (List<Vector3> Truth, List<Vector3> Filtered) Looked(List<float> places, int pixels)
    {
        File.WriteAllBytes(Path.Combine(pictures.Path, "places.bin"), MemoryMarshal.AsBytes(CollectionsMarshal.AsSpan(places)).ToArray());
        var script = $$"""
            import OpenImageIO as o, array, sys
            a = array.array('f'); a.frombytes(open('{{pictures.Path}}/places.bin','rb').read())
            ts = o.TextureSystem(); ts.attribute('automip', 1)
            fine = o.TextureOpt(); fine.mipmode = o.MipMode.NoMIP if hasattr(o, 'MipMode') else o.MipModeNoMIP
            fine.interpmode = o.InterpMode.Bilinear if hasattr(o, 'InterpMode') else o.InterpBilinear
            wide = o.TextureOpt(); wide.mipmode = o.MipMode.Trilinear if hasattr(o, 'MipMode') else o.MipModeTrilinear
            wide.anisotropic = 1
            for opt in (fine, wide):
                opt.swrap = o.Wrap.Periodic if hasattr(o, 'Wrap') else o.WrapPeriodic
                opt.twrap = opt.swrap
            name, n = '{{pictures.PathOf(Hashes.Named("checks.png"))}}', {{Sub}}
            per = n * n
            for k in range({{pixels}}):
                s = [0.0, 0.0, 0.0]
                at = lambda i, j: a[2 * (k * per + j * n + i): 2 * (k * per + j * n + i) + 2]
                for j in range(n):
                    for i in range(n):
                        u, v = at(i, j)
                        c = ts.texture(name, fine, u, v, 0, 0, 0, 0, 3)
                        s = [s[q] + c[q] / per for q in range(3)]
                m = n // 2
                (u, v), (ul, vl), (ur, vr), (ut, vt), (ub, vb) = at(m, m), at(0, m), at(n - 1, m), at(m, 0), at(m, n - 1)
                g = n / (n - 1)
                w = ts.texture(name, wide, u, v, (ur - ul) * g, (vr - vl) * g, (ub - ut) * g, (vb - vt) * g, 3)
                print(*s, *w)
            """;
        File.WriteAllText(Path.Combine(pictures.Path, "look.py"), script);
        using var process = Process.Start(
            new ProcessStartInfo("/usr/bin/python3", Path.Combine(pictures.Path, "look.py"))
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var errors = process.StandardError.ReadToEndAsync();
        var lines = process.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        process.WaitForExit();
        Assert.True(process.ExitCode == 0 && lines.Length == pixels, errors.Result);
        var numbers = lines.Select(l => l.Split(' ').Select(v => float.Parse(v, CultureInfo.InvariantCulture)).ToArray()).ToList();
        return ([.. numbers.Select(v => new Vector3(v[0], v[1], v[2]))], [.. numbers.Select(v => new Vector3(v[3], v[4], v[5]))]);
    }
}
