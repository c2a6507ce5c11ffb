using System.Numerics;

namespace Kiln.Proof.Rendering.Paths;

/// <summary>Rays towards the light that wait to be followed, and what each brings its path if nothing is in its way.</summary>
internal sealed class ShadowRays(bool withLayers)
{
    private struct Ray
    {
        public Vector3 Origin,
            Direction,
            Light;

        /// <summary>0..1: how much of a surface that is partly there is in the way of this ray.</summary>
        public float Through;
        public int Path;

        /// <summary>Whether it leaves the first surface of its path.</summary>
        public bool IsFirst;
    }

    private readonly Ray[] rays = new Ray[PathStore.Capacity];
    private readonly Scattering.ScatteredLight[] parts = withLayers ? new Scattering.ScatteredLight[PathStore.Capacity] : [];
    private int count;

    public int Count => count;

    /// <param name="bits">The lanes that send one.</param>
    /// <param name="light">What arrives, in all; and apart by the lobes that send it on.</param>
    /// <param name="first">The lanes whose surface is the path's first.</param>
    public void Add(
        in PathLanes lanes,
        uint bits,
        (Wide3 Origin, Wide3 Direction, Wide Through) ray,
        in Wide3 light,
        in Scattering.WideScatteredLight apart,
        uint first
    )
    {
        for (; bits != 0; bits &= bits - 1)
        {
            var lane = BitOperations.TrailingZeroCount(bits);
            if (withLayers)
                parts[count] = apart[lane];
            rays[count++] = new Ray
            {
                Origin = ray.Origin[lane],
                Direction = ray.Direction[lane],
                Through = ray.Through[lane],
                Light = light[lane],
                Path = lanes.Paths[lane],
                IsFirst = (first >> lane & 1) != 0,
            };
        }
    }

    /// <summary>Follows all of them and lets their paths have what arrives.</summary>
    public void Follow(PathStore paths, Func<Vector3, Vector3, float, bool> blocked)
    {
        for (var i = 0; i < count; i++)
        {
            ref var ray = ref rays[i];
            if (blocked(ray.Origin, ray.Direction, ray.Through))
                continue;
            if (!withLayers || !ray.IsFirst)
            {
                paths.Add(PathField.Radiance, ray.Path, ray.Light);
                continue;
            }
            paths.Add(PathField.Direct, ray.Path, ray.Light);
            paths.Add(PathField.LightDiffuse, ray.Path, parts[i].Diffuse);
            paths.Add(PathField.LightSpecular, ray.Path, parts[i].Specular);
            paths.Add(PathField.LightCoat, ray.Path, parts[i].Coat);
            paths.Add(PathField.LightTransmission, ray.Path, parts[i].Transmission);
        }
        count = 0;
    }
}
