using System.CommandLine;
using System.Numerics;
using Kiln.Looks.Readings;
using Kiln.Models;
using Kiln.Models.Measures;

namespace Kiln.Cli.Verbs.Models;

/// <summary>What a model's file holds: parts with their measures, materials with the pictures they name.</summary>
internal static class ModelVerb
{
    public static Command Command()
    {
        var file = new Argument<string>("FILE") { Description = $"a model ({string.Join(", ", ModelFiles.Endings)})" };
        var json = new Option<bool>("--json");
        var command = new Command("model", "Says what a model holds: parts, UVs, materials.") { file, json };
        command.SetAction(
            (parsed, _) =>
                CliSession.RunAsync(_ =>
                {
                    var model = ModelFiles.Read(parsed.GetValue(file)!, CliSession.Program);
                    foreach (var remark in model.Remarks)
                        Console.Error.WriteLine("kiln: " + remark);
                    if (parsed.GetValue(json))
                        CliSession.Say(Described(model));
                    else
                        foreach (var part in model.Parts)
                            Console.WriteLine(Line(part));
                    return Task.FromResult(0);
                })
        );
        return command;
    }

    private static string Line(ModelPart part) =>
        $"{part.Path}  {part.Triangles} triangles, {part.Material ?? "no material"}, {(part.UvSets.Count > 0 ? "UVs" : "no UVs")}";

    private static object Described(Model model) =>
        new
        {
            format = model.Format,
            metersPerUnit = model.MetersPerUnit,
            upAxis = model.UpAxis.ToString(),
            bounds = Box(model.Parts),
            parts = model.Parts.Select(Described),
            materials = model.Materials.Select(m => new
            {
                name = m.Name,
                textures = m.Textures.Select(t => new
                {
                    role = t.Role.Id(),
                    written = t.Written,
                    found = t.Found,
                }),
                values = m.Values,
            }),
            remarks = model.Remarks,
        };

    private static object Described(ModelPart part)
    {
        var uv = part.UvSets is [var set, ..] ? UvMeasures.Of(part, set) : null;
        return new
        {
            path = part.Path,
            name = part.Name,
            material = part.Material,
            triangles = part.Triangles,
            vertices = PartMeasures.Vertices(part),
            uvSets = part.UvSets.Select(s => s.Name),
            udims = uv?.Udims ?? [],
            hasNormals = part.HasNormals,
            bounds = Box([part]),
            area = PartMeasures.Area(part),
            uv = uv is null
                ? null
                : new
                {
                    overlap = uv.Overlap,
                    outside = uv.Outside,
                    flipped = uv.Flipped,
                    stretchP95 = uv.StretchP95,
                },
        };
    }

    private static object Box(IEnumerable<ModelPart> parts)
    {
        var (min, max) = PartMeasures.Bounds(parts);
        return new { min = Three(min), max = Three(max) };

        static float[] Three(Vector3 v) => [v.X, v.Y, v.Z];
    }
}
