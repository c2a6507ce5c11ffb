using System.Collections.Immutable;
using CsCheck;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Looks.Tests;

/// <summary>Undo: any sequence of edits, taken back, returns to the same bytes.</summary>
public class EditProperties
{
    private static readonly MapFile File = new(Hashes.Named("b"), "wall_rough.png", 64, 64, 8, false, "png", ["Y"], null);

    private static readonly Look Start = new()
    {
        Name = "wall",
        Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("roughness", new(MapRole.Roughness, File, [File])),
        Sources = ImmutableSortedDictionary<string, Lane>.Empty.Add("wear", new(LookValue.Of(0.5f))),
        Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add(
            "specular_roughness",
            new(
                Chain: new(
                    new SlotOrigin("roughness", new(ReadingKind.Scalar, "raw", MapChannel.Luminance)),
                    [new InvertStep { Id = "s1" }]
                )
            )
        ),
    };

    private static readonly Gen<Step> Steps = Gen.OneOf(
        Gen.Select(Gen.Float[0, 2], Gen.Float[-1, 1], (g, o) => (Step)new GainStep(g, o)),
        Gen.Select(Gen.Float[0, 1], Gen.Float[0, 1], (a, b) => (Step)new RemapStep(0, 1, a, b)),
        Gen.Float[0, 1].Select(a => (Step)new MixStep(MixMode.Screen, new(LookValue.Of(a)), new(0.5f))),
        Gen.Select(Gen.Float[-180, 180], Gen.Float[0, 2], (h, s) => (Step)new GradeStep(h, s)),
        Gen.Float[0.1f, 0.9f].Select(x => (Step)new CurveStep([new(0, 0), new(x, x * x), new(1, 1)])),
        Gen.Float[0.2f, 4].Select(p => (Step)new PowerStep(p)),
        Gen.Float[0, 0.2f].Select(r => (Step)new BlurStep(r)),
        Gen.Int[1, 9]
            .Select(seed =>
                (Step)
                    new MixStep(
                        MixMode.SoftLight,
                        new(Chain: new(new NoiseOrigin(new(NoiseKind.Cell, seed, Seed: seed)))),
                        new(1, new(new SourceOrigin("wear")))
                    )
            ),
        Gen.Const((Step)new InvertStep())
    );

    private static readonly Gen<Layer> SomeCovers = Gen.Select(
        Gen.String[Gen.Char['a', 'z'], 1, 8],
        Gen.Float[0, 1],
        Gen.Int[0, 2],
        (name, value, rule) =>
            new Layer(
                name,
                ImmutableSortedDictionary<string, Lane>.Empty.Add("base_metalness", new(LookValue.Of(value))),
                new(Chain: new(new SourceOrigin("wear"))),
                (ReliefRule)rule
            )
    );

    private static readonly Gen<LookEdit> Edits = Gen.OneOf(
        Gen.Float[0, 1].Select(v => (LookEdit)new ValueEdit("base_metalness", LookValue.Of(v))),
        Gen.Select(Gen.Float[0.1f, 4], Gen.Float[-180, 180], (r, a) => (LookEdit)new PlacementEdit(new(r, r / 2, a))),
        Gen.Select(Gen.Int[0, 3], Gen.Int[2, 99], Steps, (at, id, step) =>
            (LookEdit)new StepInsertEdit("specular_roughness", at, step with { Id = $"s{id}" })
        ),
        Gen.Int[1, 99].Select(id => (LookEdit)new StepRemoveEdit("specular_roughness", $"s{id}")),
        Gen.Select(Gen.Int[1, 99], Gen.Int[0, 5], (id, to) => (LookEdit)new StepMoveEdit("specular_roughness", $"s{id}", to)),
        Gen.Select(Gen.Int[1, 99], Steps, (id, step) => (LookEdit)new StepChangeEdit("specular_roughness", step with { Id = $"s{id}" })),
        Gen.String[Gen.Char['a', 'z'], 1, 12].Select(n => (LookEdit)new RenameEdit(n)),
        Gen.Select(Gen.Int[0, 3], SomeCovers, (at, layer) => (LookEdit)new LayerInsertEdit(at, layer)),
        Gen.Int[0, 3].Select(at => (LookEdit)new LayerRemoveEdit(at)),
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 3], (from, to) => (LookEdit)new LayerMoveEdit(from, to)),
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 2], (at, rule) => (LookEdit)new LayerChangeEdit(at, "lime", (ReliefRule)rule)),
        Gen.Select(
            Gen.OneOf(Gen.Const("wear"), Gen.Const("dirt")),
            Gen.OneOf(Gen.Const("dirt"), Gen.Const("wear"), Gen.Const("edge")),
            (from, to) => (LookEdit)new SourceRenameEdit(from, to)
        ),
        Gen.Select(Gen.OneOf(Gen.Const("wear"), Gen.Const("dirt"), Gen.Const("edge")), Gen.Float[0, 1], (name, v) =>
            (LookEdit)new ValueEdit("source:" + name, LookValue.Of(v))
        ),
        Gen.OneOf(Gen.Const("wear"), Gen.Const("dirt")).Select(name => (LookEdit)new LaneEdit("source:" + name, null)),
        Gen.Select(Gen.Int[0, 2], Gen.Float[0, 0.1f], (mode, height) => (LookEdit)new ReliefEdit((ReliefMode)mode, new(true, height))),
        Gen.Const((LookEdit)new LaneEdit("specular_roughness", null))
    );

    [Fact]
    public void TakingEverythingBackReturnsToTheSameBytes() =>
        Edits
            .Array[1, 30]
            .Sample(
                edits =>
                {
                    var look = Start;
                    var back = new Stack<LookEdit>();
                    foreach (var edit in edits)
                        try
                        {
                            (look, var inverse) = edit.Apply(look);
                            back.Push(inverse);
                        }
                        catch (LookException)
                        {
                            // An edit that does not fit leaves the look as it was.
                        }
                    while (back.TryPop(out var inverse))
                        look = inverse.Apply(look).Look;
                    return LookJson.Write(look).AsSpan().SequenceEqual(LookJson.Write(Start));
                },
                iter: 3000
            );

    [Fact]
    public void DocumentsComeBackFromJson() =>
        Edits
            .Array[1, 15]
            .Sample(
                edits =>
                {
                    var look = Start;
                    foreach (var edit in edits)
                        try
                        {
                            look = edit.Apply(look).Look;
                        }
                        catch (LookException) { }
                    return LookJson.Write(LookJson.Read(LookJson.Write(look))).AsSpan().SequenceEqual(LookJson.Write(look));
                },
                iter: 1000
            );

    [Theory]
    [InlineData("{}")]
    [InlineData("{\"name\":\"x\",\"schema\":99}")]
    [InlineData("{\"name\":\"x\",\"lanes\":{\"no_such_input\":{}}}")]
    [InlineData("{\"name\":\"x\",\"sources\":{\"a\":{\"chain\":{\"origin\":{\"kind\":\"source\",\"source\":\"a\"},\"steps\":[]}}}}")]
    [InlineData("[1,2,3]")]
    public void DamagedDocumentsGetASentence(string json) =>
        Assert.NotEmpty(Assert.Throws<LookException>(() => LookJson.Read(System.Text.Encoding.UTF8.GetBytes(json))).Message);
}
