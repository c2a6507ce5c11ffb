using System.Numerics;
using System.Text;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// The demo's looks, all with maps, through every dialect and back, and from each to each: compared where they lie, point by point.
/// </summary>
public sealed class TexturedMatrix(DemoLooks demo) : IClassFixture<DemoLooks>
{
    private const float Tolerance = 1e-4f;

    private Workshop Shop => demo.Shop;

    public static TheoryData<string> All() => [.. Workshop.Dialects];

    /// <summary>Every input at points strewn over the surface; directions as unit vectors.</summary>
    private async Task<Dictionary<string, Vector3[]>> ValuesAsync(Look look)
    {
        var graph = new ShadeGraph();
        var lanes = new LaneGraphs(look, graph, displaces: false);
        var nodes = NeutralInputs
            .All.Select(i => (i.Name, Node: lanes.Input(i.Name)))
            .Where(n => n.Node is not null)
            .ToDictionary(n => n.Name, n => n.Node!.Value);
        var program = await ShadeProgram.LoadAsync(graph, nodes.Values, Shop.Textures, null);
        var registers = program.NewRegisters();
        var result = nodes.Keys.ToDictionary(n => n, _ => new Vector3[24]);
        for (var i = 0; i < 24; i++)
        {
            program.Run(new((0.37f + 0.7548777f * i) % 1, (0.61f + 0.5698403f * i) % 1), 1f / 64, registers);
            foreach (var (name, node) in nodes)
                result[name][i] = registers[program.Register(node)];
        }
        return result;
    }

    /// <summary>
    /// What the report calls taken as it is comes back within 1e-4 at every point; what comes back otherwise is named; nothing is not a
    /// number.
    /// </summary>
    [Theory]
    [MemberData(nameof(All))]
    public async Task MapsComeBackOrAreNamed(string dialect)
    {
        var profile = Shop.Profiles.Find(dialect);
        var (exact, named) = (0, 0);
        foreach (var look in demo.All)
        {
            var compiled = await Shop.CompileAsync(look, dialect);
            var back = await NetworkReading.ReadAsync(profile, compiled.Network);
            var (before, after) = (await ValuesAsync(look), await ValuesAsync(back));
            var names = compiled
                .Report.Approximated.Concat(compiled.Report.Baked)
                .Concat(compiled.Report.Lost)
                .Select(l => l.Input)
                .ToHashSet();
            foreach (
                var input in NeutralInputs.All.Where(i => look.Lanes.ContainsKey(i.Name) && i.Name is not ("displacement" or "occlusion"))
            )
            {
                Assert.True(
                    after.ContainsKey(input.Name) || names.Contains(input.Name),
                    $"{dialect}, {look.Name}: {input.Name} is gone and the report does not say so"
                );
                if (!after.TryGetValue(input.Name, out var now))
                    continue;
                Assert.All(now, v => Assert.True(float.IsFinite(v.X + v.Y + v.Z), $"{dialect}, {look.Name}, {input.Name}: {v}"));
                var most = before[input.Name].Zip(now).Max(p => (p.First - p.Second).Length());
                if (most <= Tolerance)
                    exact++;
                else
                {
                    named++;
                    Assert.True(
                        names.Contains(input.Name) || ConversionMatrix.Restated(look, input.Name),
                        $"{dialect}, {look.Name}: {input.Name} came back {most} away, and the report names only {string.Join(", ", names)}"
                    );
                }
            }
        }
        // An empty demo would agree with everything.
        Assert.True(demo.All.Count >= 12, $"only {demo.All.Count} looks in the demo");
        Assert.True(exact >= demo.All.Count, $"{dialect}: {exact} exact, {named} named");
    }

    /// <summary>
    /// The table of docs/conversion.md: sixty looks of plain values and the demo's, from each dialect to each. It is counted anew and must
    /// be what the document says.
    /// </summary>
    [Fact]
    public async Task TheDocumentedTableIsTheOneCounted()
    {
        var table = new StringBuilder(
            "| from \\ to | "
                + string.Join(" | ", Workshop.Dialects.Select(d => Shop.Profiles.Find(d).Title))
                + " |\n|---|"
                + string.Concat(Workshop.Dialects.Select(_ => "---|"))
                + "\n"
        );
        var looks = ConversionMatrix.Looks().Concat(demo.All).ToList();
        Assert.True(looks.Count >= 72, $"{looks.Count} looks");
        foreach (var from in Workshop.Dialects)
        {
            var source = Shop.Profiles.Find(from);
            var read = new List<Look>();
            foreach (var look in looks)
                read.Add(await NetworkReading.ReadAsync(source, (await Shop.CompileAsync(look, from)).Network));
            table.Append($"| {source.Title} |");
            foreach (var to in Workshop.Dialects)
            {
                int exact = 0,
                    near = 0,
                    baked = 0,
                    lost = 0;
                foreach (var look in read)
                {
                    var report = (await Shop.CompileAsync(look, to)).Report;
                    (exact, near, baked, lost) = (
                        exact + Lines(report.Exact),
                        near + Lines(report.Approximated),
                        baked + Lines(report.Baked),
                        lost + Lines(report.Lost)
                    );
                }
                table.Append($" {exact} · {near} · {baked} · {lost} |");
            }
            table.Append('\n');
        }
        var document = Path.Combine(Shop.Profiles.Folder!, "..", "docs", "conversion.md");
        if (Environment.GetEnvironmentVariable("KILN_SHOW_TABLE") is { } file)
            File.WriteAllText(file, table.ToString());
        Assert.Contains(table.ToString(), File.ReadAllText(document));
    }

    private static int Lines(IEnumerable<ReportLine> lines) => lines.Select(l => l.Input).Distinct().Count();
}
