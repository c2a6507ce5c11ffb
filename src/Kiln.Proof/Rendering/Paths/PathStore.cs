using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Kiln.Proof.Rendering.Paths;

/// <summary>What is kept of a path between its bounces; a vector takes three places.</summary>
internal enum PathField
{
    Origin = 0,
    Direction = 3,
    Throughput = 6,
    Radiance = 9,
    Absorbed = 12,

    /// <summary>The density by which the last direction was chosen; 0 while the ray comes straight from the camera.</summary>
    Pdf = 15,

    /// <summary>Metres from the camera, how much the footprint widens with them, and the least width of what is met.</summary>
    Distance,
    Cone,
    Soft,

    /// <summary>In nanometres, once the path has been in a body that bends colours differently; 0 before.</summary>
    Wavelength,

    /// <summary>Whole numbers: surfaces met, surfaces passed that were not there, the pixel's seed, the sample, the next numbers.</summary>
    Bounces,
    Passes,
    Seed,
    Index,
    Group,

    /// <summary>Where the last ray met something.</summary>
    HitDistance,
    HitTriangle,
    HitU,
    HitV,

    /// <summary>Whether the pixel is covered there.</summary>
    Coverage,

    /// <summary>The last one of every path; those from here on are kept where the picture's parts are asked for.</summary>
    PlainFields,

    /// <summary>How the light that arrives at the first surface is shared between its layers.</summary>
    FirstDiffuse = PlainFields,
    FirstSpecular = FirstDiffuse + 3,
    FirstCoat = FirstSpecular + 3,
    FirstTransmission = FirstCoat + 3,

    /// <summary>What the first surface sends to the camera of light that comes from no other surface, in all and apart.</summary>
    Direct = FirstTransmission + 3,
    LightDiffuse = Direct + 3,
    LightSpecular = LightDiffuse + 3,
    LightCoat = LightSpecular + 3,
    LightTransmission = LightCoat + 3,
    Emission = LightTransmission + 3,

    /// <summary>What the first surface is.</summary>
    Albedo = Emission + 3,
    Normal = Albedo + 3,
    Depth = Normal + 3,
    All = Depth + 1,
}

/// <summary>Eight paths by their numbers; those that are used are the first.</summary>
internal readonly struct PathLanes
{
    public readonly Vector256<int> Paths;
    public readonly uint Used;

    /// <summary>Up to eight of a list; the rest repeats the last one.</summary>
    public PathLanes(ReadOnlySpan<int> list)
    {
        var n = Math.Min(Lanes, list.Length);
        Span<int> eight = stackalloc int[Lanes];
        list[..n].CopyTo(eight);
        eight[n..].Fill(list[n - 1]);
        Paths = Vector256.Create<int>(eight);
        Used = (1u << n) - 1;
    }
}

/// <summary>Paths on their way, field by field, so that eight of them are read at once.</summary>
internal sealed class PathStore(bool withLayers)
{
    public const int Capacity = 512;

    // Pinned, as eight places are read at once.
    private readonly float[] numbers = GC.AllocateArray<float>(
        (int)(withLayers ? PathField.All : PathField.PlainFields) * Capacity,
        pinned: true
    );

    public void Clear() => Array.Clear(numbers);

    private ref float First(PathField field) => ref numbers[(int)field * Capacity];

    public ref float At(PathField field, int path) => ref numbers[(int)field * Capacity + path];

    public Vector3 Vector(PathField field, int path) => new(At(field, path), At(field + 1, path), At(field + 2, path));

    public Wide Load(PathField field, in PathLanes lanes) => Gather(ref First(field), lanes.Paths);

    public Vector256<int> LoadWhole(PathField field, in PathLanes lanes) => Load(field, lanes).AsInt32();

    public Wide3 Load3(PathField field, in PathLanes lanes) => new(Load(field, lanes), Load(field + 1, lanes), Load(field + 2, lanes));

    /// <summary>Keeps the lanes whose bits are set.</summary>
    public void Store(PathField field, in PathLanes lanes, uint bits, Wide value)
    {
        ref var first = ref First(field);
        var paths = lanes.Paths;
        ref var number = ref Unsafe.As<Wide, float>(ref value);
        ref var path = ref Unsafe.As<Vector256<int>, int>(ref paths);
        for (; bits != 0; bits &= bits - 1)
        {
            var lane = BitOperations.TrailingZeroCount(bits);
            Unsafe.Add(ref first, Unsafe.Add(ref path, lane)) = Unsafe.Add(ref number, lane);
        }
    }

    public void Store(PathField field, in PathLanes lanes, uint bits, Vector256<int> value) => Store(field, lanes, bits, value.AsSingle());

    public void Store(PathField field, in PathLanes lanes, uint bits, in Wide3 value)
    {
        Store(field, lanes, bits, value.X);
        Store(field + 1, lanes, bits, value.Y);
        Store(field + 2, lanes, bits, value.Z);
    }

    public void Add(PathField field, int path, Vector3 value)
    {
        At(field, path) += value.X;
        At(field + 1, path) += value.Y;
        At(field + 2, path) += value.Z;
    }

    public void Add(PathField field, in PathLanes lanes, uint bits, in Wide3 value) =>
        Store(field, lanes, bits, Load3(field, lanes) + value);
}
