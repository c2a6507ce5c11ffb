using System.Globalization;
using System.Numerics;

namespace Kiln.Models.Files.Obj;

/// <summary>
/// Wavefront OBJ with its materials: polygons, in objects and groups; lines, points and curved surfaces are left out with a remark. The
/// format has one set of UVs and no unit; metres and Y upwards are taken.
/// </summary>
internal sealed class ObjReader
{
    /// <summary>Corners of a part as they come in; -1 for a corner without UVs.</summary>
    private sealed class Gathered(string? material)
    {
        public string? Material => material;
        public List<int> Positions { get; } = [];
        public List<int> Uvs { get; } = [];
        public List<int> Normals { get; } = [];
        public int WithoutUvs { get; set; }
        public bool HasNormals { get; set; } = true;
    }

    private readonly string path;
    private readonly TextureSearch textures;
    private readonly List<string> remarks = [];
    private readonly List<Vector3> positions = [];
    private readonly List<Vector2> uvs = [];
    private readonly List<Vector3> normals = [];
    private readonly Dictionary<(string Object, string Group), List<Gathered>> parts = [];
    private readonly List<(string Object, string Group)> order = [];
    private readonly List<ModelMaterial> materials = [];
    private (string Object, string Group) place = ("", "");
    private string? material;
    private Gathered? now;
    private int broken,
        leftOut;
    private long triangles;

    private ObjReader(string path)
    {
        this.path = path;
        textures = new(Path.GetDirectoryName(Path.GetFullPath(path))!);
    }

    /// <exception cref="ModelException">It has no triangles, or too many.</exception>
    public static Model Read(string path)
    {
        var reader = new ObjReader(path);
        foreach (var line in Whole(File.ReadLines(path)))
            reader.Line(line);
        return reader.Finished();
    }

    /// <summary>Lines that a backslash continues, as one.</summary>
    private static IEnumerable<string> Whole(IEnumerable<string> lines)
    {
        var before = "";
        foreach (var line in lines)
        {
            if (line.EndsWith('\\') && before.Length + line.Length < 1 << 20)
            {
                before += line[..^1] + " ";
                continue;
            }
            yield return before.Length == 0 ? line : before + line;
            before = "";
        }
        if (before.Length > 0)
            yield return before;
    }

    private void Line(string text)
    {
        var line = text.AsSpan().Trim();
        var space = line.IndexOfAny(' ', '\t');
        if (space < 0 || line[0] == '#')
            return;
        var rest = line[(space + 1)..].Trim();
        switch (line[..space])
        {
            case "v":
                positions.Add(new(Number(ref rest), Number(ref rest), Number(ref rest)));
                break;
            case "vt":
                uvs.Add(new(Number(ref rest), rest.IsEmpty ? 0 : Number(ref rest)));
                break;
            case "vn":
                normals.Add(new(Number(ref rest), Number(ref rest), Number(ref rest)));
                break;
            case "f":
                Face(rest);
                break;
            case "o":
                Move((rest.ToString(), ""));
                break;
            case "g":
                Move((place.Object, rest.ToString()));
                break;
            case "usemtl":
                material = rest.ToString();
                now = null;
                break;
            case "mtllib":
                Materials(rest.ToString());
                break;
            case "l" or "p" or "curv" or "curv2" or "surf":
                leftOut++;
                break;
        }
    }

    private void Move((string Object, string Group) to)
    {
        place = to;
        now = null;
    }

    /// <summary>The next number; not a number where there is none.</summary>
    private static float Number(ref ReadOnlySpan<char> rest)
    {
        var at = rest.IndexOfAny(' ', '\t');
        var word = at < 0 ? rest : rest[..at];
        rest = at < 0 ? [] : rest[(at + 1)..].TrimStart();
        return float.TryParse(word, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) ? v : float.NaN;
    }

    private readonly List<(int Position, int Uv, int Normal)> corners = [];
    private readonly List<Vector3> around = [];

    private void Face(ReadOnlySpan<char> rest)
    {
        corners.Clear();
        around.Clear();
        while (!rest.IsEmpty)
        {
            var at = rest.IndexOfAny(' ', '\t');
            var word = at < 0 ? rest : rest[..at];
            rest = at < 0 ? [] : rest[(at + 1)..].TrimStart();
            if (Corner(word) is not { } corner)
            {
                broken++;
                return;
            }
            corners.Add(corner);
            around.Add(positions[corner.Position]);
        }
        if (corners.Count < 3)
        {
            broken++;
            return;
        }
        triangles += corners.Count - 2;
        if (triangles > ModelFiles.MostTriangles)
            throw ModelFiles.TooMany(path);
        var part = now ??= Part();
        Polygons.Triangulate(around, (a, b, c) => Add(part, a, b, c));
    }

    private void Add(Gathered part, int a, int b, int c)
    {
        part.Positions.AddRange([corners[a].Position, corners[b].Position, corners[c].Position]);
        var hasUvs = corners[a].Uv >= 0 && corners[b].Uv >= 0 && corners[c].Uv >= 0;
        part.Uvs.AddRange(hasUvs ? [corners[a].Uv, corners[b].Uv, corners[c].Uv] : [-1, -1, -1]);
        part.WithoutUvs += hasUvs ? 0 : 1;
        part.Normals.AddRange([corners[a].Normal, corners[b].Normal, corners[c].Normal]);
        part.HasNormals &= corners[a].Normal >= 0 && corners[b].Normal >= 0 && corners[c].Normal >= 0;
    }

    /// <summary>Position, UV or -1, and normal or -1; null where it points at nothing, or at what is no number.</summary>
    private (int Position, int Uv, int Normal)? Corner(ReadOnlySpan<char> word)
    {
        Span<Range> ranges = stackalloc Range[4];
        var count = word.Split(ranges, '/');
        if (count > 3 || Index(word[ranges[0]], positions.Count) is not { } position || !IsFinite(positions[position]))
            return null;
        int? uv = -1;
        if (count > 1 && !word[ranges[1]].IsEmpty)
            uv = Index(word[ranges[1]], uvs.Count);
        if (uv is not { } at || at >= 0 && !(float.IsFinite(uvs[at].X) && float.IsFinite(uvs[at].Y)))
            return null;
        return (position, at, count > 2 && Index(word[ranges[2]], normals.Count) is { } normal ? normal : -1);
    }

    private static bool IsFinite(Vector3 v) => float.IsFinite(v.X) && float.IsFinite(v.Y) && float.IsFinite(v.Z);

    /// <summary>Counted from 1, or from the last one backwards.</summary>
    private static int? Index(ReadOnlySpan<char> text, int count)
    {
        if (!int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var n) || n == 0)
            return null;
        var at = n > 0 ? n - 1 : (long)count + n;
        return at >= 0 && at < count ? (int)at : null;
    }

    private Gathered Part()
    {
        if (!parts.TryGetValue(place, out var here))
        {
            parts[place] = here = [];
            order.Add(place);
        }
        var own = here.Find(p => p.Material == material);
        if (own is null)
            here.Add(own = new(material));
        return own;
    }

    private void Materials(string names)
    {
        // A name may have blanks; several names are parted by them.
        var all = textures.Find(names) is not null ? [names] : names.Split([' ', '\t'], StringSplitOptions.RemoveEmptyEntries);
        foreach (var name in all)
            if (textures.Find(name) is { } found)
                foreach (
                    var read in new MtlReader(textures, remarks).Read(Path.Combine(Path.GetDirectoryName(Path.GetFullPath(path))!, found))
                )
                {
                    if (materials.All(m => m.Name != read.Name))
                        materials.Add(read);
                }
            else
                remarks.Add($"The materials in {name} were not found below the model's folder.");
    }

    private Model Finished()
    {
        if (triangles == 0)
            throw new ModelException(
                leftOut > 0
                    ? $"'{Path.GetFileName(path)}' has points, lines or curves only; a model needs faces."
                    : $"'{Path.GetFileName(path)}' has no faces."
            );
        if (leftOut > 0)
            remarks.Add($"Points, lines and curves are left out: {leftOut}.");
        if (broken > 0)
            remarks.Add($"Faces that point at nothing, at what is no number, or have fewer than three corners are left out: {broken}.");
        var paths = new PartPaths();
        var made = order.SelectMany(place => Made(place, paths)).ToList();
        foreach (var name in made.Select(p => p.Material).OfType<string>().Distinct().Where(n => materials.All(m => m.Name != n)).ToList())
            materials.Add(new(name, [], new Dictionary<string, float[]>()));
        return new("obj", 1, 'Y', made, materials, remarks);
    }

    /// <summary>The parts of one object and group: one, or one for each of its materials.</summary>
    private IEnumerable<ModelPart> Made((string Object, string Group) place, PartPaths paths)
    {
        var here = parts[place];
        // An object or a group without a name is what the file is.
        var names = new[] { place.Object, place.Group }.Where(n => n.Length > 0).ToList();
        if (names.Count == 0)
            names.Add(Path.GetFileNameWithoutExtension(path));
        foreach (var part in here)
        {
            var all = here.Count > 1 ? [.. names, part.Material ?? "without material"] : names;
            var parent = string.Concat(all.SkipLast(1).Select(n => "/" + n.Replace('/', '_')));
            yield return Made(part, paths.Of(parent, all[^1]), all[^1]);
        }
    }

    private ModelPart Made(Gathered part, string own, string name)
    {
        if (part.WithoutUvs > 0 && part.WithoutUvs < part.Positions.Count / 3)
            remarks.Add($"{own}: {part.WithoutUvs} of {part.Positions.Count / 3} triangles have no UVs.");
        var (at, corners) = Compact(part.Positions);
        var (uvAt, uvCorners) = Compact(part.Uvs);
        IReadOnlyList<UvSet> sets = uvAt.Count == 0 ? [] : [new("st", [.. uvAt.Select(i => uvs[i])], uvCorners)];
        var (normalAt, normalCorners) = part.HasNormals ? Compact(part.Normals) : ([], []);
        var shading = part.HasNormals ? new NormalSet([.. normalAt.Select(i => normals[i])], normalCorners) : null;
        return new(own, name, part.Material, [.. at.Select(i => positions[i])], corners, sets, shading);
    }

    /// <summary>What is pointed at, once each, and where each pointer finds it; those below 0 stay.</summary>
    private static (List<int> Used, int[] Pointers) Compact(List<int> pointers)
    {
        var known = new Dictionary<int, int>();
        var used = new List<int>();
        var to = new int[pointers.Count];
        for (var i = 0; i < to.Length; i++)
        {
            if (pointers[i] < 0)
                to[i] = -1;
            else if (known.TryGetValue(pointers[i], out var at))
                to[i] = at;
            else
            {
                known[pointers[i]] = to[i] = used.Count;
                used.Add(pointers[i]);
            }
        }
        return (used, to);
    }
}
