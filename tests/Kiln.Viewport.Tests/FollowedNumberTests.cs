using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Exchange.Tests;
using Kiln.Looks.Document;
using Kiln.Looks.Moving;
using Kiln.Proof.Materials;
using Kiln.Viewport.Graphs;
using Xunit.Abstractions;

namespace Kiln.Viewport.Tests;

/// <summary>
/// What a control moves through placements and renderers' networks: between the values that were tried, the numbers of the shader are those
/// that the look has when it is made with that value.
/// </summary>
public sealed class FollowedNumberTests(DemoLooks demo, ITestOutputHelper output) : IClassFixture<DemoLooks>
{
    private const string Itself = "itself";
    private const float Off = 3e-3f;

    private static readonly string[] Addresses =
    [
        LookNumbers.Placement,
        LookNumbers.Size,
        "coat_weight",
        "base_weight",
        "specular_roughness",
        "base_color",
        "geometry_normal",
        "emission_luminance",
    ];

    private readonly BakedBefore before = new();

    /// <param name="bakes">Whether what is baked may be; a look that is only tried out does with what was baked before.</param>
    private async Task<LookShader?> ShaderAsync(Look look, string dialect, bool bakes = false)
    {
        try
        {
            var profile = demo.Shop.Profiles.Find(dialect == Itself ? "openpbr" : dialect);
            var surface =
                dialect == Itself
                    ? SurfaceGraph.OfLook(look, profile)
                    : SurfaceGraph.OfNetwork(
                        (
                            await new DialectCompiler(
                                profile,
                                new Bakery(demo.Shop.Textures, bakes ? demo.Shop : null, before: before)
                            ).CompileAsync(look)
                        ).Network,
                        profile
                    );
            return LookShader.Of(surface.Graph, surface.Nodes, surface.Model, new MapPlan(1024));
        }
        catch (LookException)
        {
            return null;
        }
    }

    /// <summary>Values of lanes, and all steps of those that have some.</summary>
    private static IEnumerable<LookNumber> Moved(Look look) =>
        Addresses
            .Concat(Addresses.SelectMany(a => look.Lanes.GetValueOrDefault(a)?.Chain?.Steps.Select(s => $"{a}/{s.Id}") ?? []))
            .SelectMany(a => LookNumbers.At(look, a));

    [Theory]
    [InlineData(Itself)]
    [MemberData(nameof(AllDialects))]
    public async Task AreWhereTheLookHasThem(string dialect)
    {
        var random = new Random(20);
        int asked = 0,
            followed = 0,
            baked = 0;
        foreach (var look in demo.All.Where((_, i) => i % 3 == 0))
        {
            await ShaderAsync(look, dialect, bakes: true);
            var following = new Following(l => ShaderAsync(l, dialect));
            foreach (var number in Moved(look))
            {
                asked++;
                if (await ShaderAsync(Following.Prepared(look, [number]), dialect) is null)
                {
                    baked++;
                    continue;
                }
                if (await following.OfAsync(look, [number]) is not [var one])
                    continue;
                followed++;
                for (var i = 0; i < 3; i++)
                    await AgreesAsync(look, number, one, number.Low + (number.High - number.Low) * random.NextSingle(), dialect);
            }
        }
        output.WriteLine($"{dialect}: {followed} of {asked} numbers are followed, {baked} change a baked file");
        Assert.True(asked >= 50, $"only {asked} numbers");
        Assert.Equal(asked, followed + baked);
    }

    public static TheoryData<string> AllDialects => [.. Workshop.Dialects];

    private async Task AgreesAsync(Look look, LookNumber number, FollowedNumber one, float value, string dialect)
    {
        var made = (await ShaderAsync(number.With(Following.Prepared(look, [number]), value), dialect))!;
        var numbers = made.Numbers.SelectMany(n => new[] { n.X, n.Y, n.Z, n.W }).ToArray();
        var count = one.At.Count;
        var upper = Math.Clamp(
            one.Values.ToList().FindIndex(v => v > value) is var found and >= 0 ? found : one.Values.Count - 1,
            1,
            one.Values.Count - 1
        );
        var share = (value - one.Values[upper - 1]) / (one.Values[upper] - one.Values[upper - 1]);
        for (var k = 0; k < count; k++)
        {
            var column = Enumerable.Range(0, one.Values.Count).Select(row => one.Numbers[row * count + k]).ToArray();
            var guessed = column[upper - 1] + share * (column[upper] - column[upper - 1]);
            var (own, range) = (numbers[one.At[k]], column.Max() - column.Min());
            Assert.True(
                MathF.Abs(own - guessed) <= Off * range + 1e-5f,
                $"{look.Name} as {dialect}, {number.Name} {value}: {guessed} instead of {own}, of {range}"
            );
        }
        // Places that were left out stay where they are.
        var before = (await ShaderAsync(Following.Prepared(look, [number]), dialect))!
            .Numbers.SelectMany(n => new[] { n.X, n.Y, n.Z, n.W })
            .ToArray();
        Assert.All(Enumerable.Range(0, numbers.Length).Except(one.At), at => Assert.Equal(before[at], numbers[at], 1e-5f));
    }

    /// <summary>
    /// What is drawn before anything moves is the look itself: a shader made ready for a number has the numbers of the look where its own
    /// shader has the same text.
    /// </summary>
    [Theory]
    [InlineData(Itself)]
    [InlineData("openpbr")]
    public async Task AreTheLooksOwnBeforeAnythingMoves(string dialect)
    {
        var random = new Random(21);
        var compared = 0;
        foreach (var look in demo.All.Where((_, i) => i % 3 == 0))
        {
            await ShaderAsync(look, dialect, bakes: true);
            var following = new Following(l => ShaderAsync(l, dialect));
            foreach (var number in Moved(look))
            foreach (var share in new[] { random.NextSingle(), 0.01f, 0.999f })
            {
                var value = number.Low + (number.High - number.Low) * share;
                var moved = number with { Value = value };
                var placed = number.With(look, value);
                var whole = await following.WholeAsync(placed, [moved]);
                if (whole is null || await ShaderAsync(placed, dialect) is not { } own || own.Structure != whole.Structure)
                    continue;
                compared++;
                foreach (var (a, b) in own.Numbers.Zip(whole.Numbers))
                    Assert.True(
                        System.Numerics.Vector4.Distance(a, b) <= 2e-5f * (1 + a.Length()),
                        $"{look.Name} as {dialect}, {number.Name} {value}: {b} instead of {a}"
                    );
            }
        }
        output.WriteLine($"{dialect}: {compared} looks compared");
        Assert.True(compared >= 100, $"only {compared} compared");
    }

    [Fact]
    public void WholeNumbersAndWhatIsNotThereAreLeftOut()
    {
        var look = demo.All[0];
        Assert.Empty(LookNumbers.At(look, "no_such_lane"));
        Assert.Empty(LookNumbers.At(look, "base_color/no_such_step"));
        Assert.Empty(LookNumbers.At(look, ""));
        Assert.Equal(5, LookNumbers.At(look, LookNumbers.Placement).Count);
        Assert.All(Moved(look), n => Assert.InRange(n.Value, n.Low, n.High));
    }
}
