#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property TieredCompilationQuickJit=false
// Rays against a form's triangles by our hierarchy, one thread; run by bench/traversal.sh. Arguments: form, file for the mesh and rays,
// seconds.
using System.Diagnostics;
using System.Numerics;
using System.Runtime.InteropServices;
using Kiln.Proof.Geometry;

var mesh = Forms.Named(args[0]);
var triangles = Enumerable
    .Range(0, mesh.Triangles)
    .Select(t => (mesh.Positions[mesh.Indices[3 * t]], mesh.Positions[mesh.Indices[3 * t + 1]], mesh.Positions[mesh.Indices[3 * t + 2]]))
    .ToList();
var bvh = new Bvh(triangles);

// A third as the camera sends them, row by row; two thirds as they leave the surface, anywhere: what a path tracer asks.
var (min, max) = (mesh.Positions.Aggregate(Vector3.Min), mesh.Positions.Aggregate(Vector3.Max));
var (centre, radius) = ((min + max) / 2, (max - min).Length() / 2);
var rays = new List<(Vector3 Origin, Vector3 Direction)>();
const int side = 420;
var random = new Random(1);
for (var y = 0; y < side; y++)
for (var x = 0; x < side; x++)
{
    var eye = centre + new Vector3(0.5f, 0.5f, 1) * 3 * radius;
    var forward = Vector3.Normalize(centre - eye);
    var right = Vector3.Normalize(Vector3.Cross(forward, Vector3.UnitY));
    var direction = Vector3.Normalize(
        forward + right * ((x + 0.5f) / side - 0.5f) * 0.75f + Vector3.Cross(right, forward) * (0.5f - (y + 0.5f) / side) * 0.75f
    );
    rays.Add((eye, direction));
    if (!bvh.Intersect(eye, direction, 0, float.PositiveInfinity, out var hit))
        continue;
    var at = eye + direction * hit.Distance;
    for (var i = 0; i < 4; i++)
    {
        var away = Vector3.Normalize(new Vector3(random.NextSingle() - 0.5f, random.NextSingle() - 0.5f, random.NextSingle() - 0.5f));
        rays.Add((at - direction * 1e-4f, Vector3.Dot(away, direction) > 0 ? -away : away));
    }
}
using (var file = new BinaryWriter(File.Create(args[1])))
{
    file.Write(mesh.Positions.Length);
    file.Write(triangles.Count);
    file.Write(rays.Count);
    file.Write(MemoryMarshal.AsBytes(mesh.Positions.AsSpan()));
    file.Write(MemoryMarshal.AsBytes(mesh.Indices.AsSpan()));
    file.Write(MemoryMarshal.AsBytes(CollectionsMarshal.AsSpan(rays)));
}
var best = 0.0;
var met = 0;
double sum = 0;
for (var clock = Stopwatch.StartNew(); clock.Elapsed.TotalSeconds < double.Parse(args[2]); )
{
    (met, sum) = (0, 0);
    var from = Stopwatch.GetTimestamp();
    foreach (var (origin, direction) in rays)
        if (bvh.Intersect(origin, direction, 0, float.PositiveInfinity, out var hit))
            (met, sum) = (met + 1, sum + hit.Distance);
    best = Math.Max(best, rays.Count / Stopwatch.GetElapsedTime(from).TotalSeconds);
}
Console.WriteLine(FormattableString.Invariant($"{best / 1e6:0.000} {met} {sum / met:0.00000} {triangles.Count}"));
