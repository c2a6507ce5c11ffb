using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// Looks of plain values through every dialect and back: what the report calls exact comes back within 1e-4, and whatever comes back
/// otherwise is named in the report.
/// </summary>
public sealed class ConversionMatrix : IDisposable
{
    private const float Tolerance = 1e-4f;

    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    /// <summary>Sixty looks: every input alone at a value of its own, then several at random.</summary>
    internal static IEnumerable<Look> Looks()
    {
        var random = new Random(11);
        LookValue Some(NeutralInput input)
        {
            float Number() => input.Low + (input.High - input.Low) * (0.1f + 0.8f * random.NextSingle());
            return input.IsColour
                ? new TintValue(
                    0.15f + 0.6f * random.NextSingle(),
                    0.15f + 0.6f * random.NextSingle(),
                    0.15f + 0.6f * random.NextSingle(),
                    "acescg"
                )
                : new ScalarValue(MathF.Round(Number(), 4));
        }
        var inputs = NeutralInputs.All.Where(i => !i.IsDirection && i.Name is not ("geometry_thin_walled" or "displacement")).ToList();
        Look With(string name, IEnumerable<NeutralInput> chosen) =>
            new() { Name = name, Lanes = chosen.ToImmutableSortedDictionary(i => i.Name, i => new Lane(Some(i))) };
        foreach (var input in inputs)
            yield return With("only " + input.Name, [input]);
        for (var i = inputs.Count; i < 60; i++)
            yield return With($"several {i}", inputs.OrderBy(_ => random.Next()).Take(2 + i % 7));
    }

    private static Vector3 ValueOf(Look look, NeutralInput input)
    {
        var value = look.Lanes.GetValueOrDefault(input.Name)?.Value;
        return value switch
        {
            TintValue t => ColourTransform.Between(ColourSpace.Find(t.Space), ColourSpace.AcesCg).Apply(new Vector3(t.R, t.G, t.B)),
            ScalarValue s => new(s.Number),
            _ => input.Default is { Length: 3 } d ? new(d[0], d[1], d[2]) : new(input.Default?[0] ?? 0),
        };
    }

    public static TheoryData<string> All() => [.. Workshop.Dialects];

    [Theory]
    [MemberData(nameof(All))]
    public async Task WhatIsExactComesBackAndTheRestIsNamed(string dialect)
    {
        var profile = shop.Profiles.Find(dialect);
        int exact = 0,
            named = 0;
        foreach (var look in Looks())
        {
            var compiled = await shop.CompileAsync(look, dialect);
            var back = await NetworkReading.ReadAsync(profile, compiled.Network);
            Assert.Empty(back.Remarks);
            var named1 = compiled
                .Report.Approximated.Concat(compiled.Report.Baked)
                .Concat(compiled.Report.Lost)
                .Select(l => l.Input)
                .ToHashSet();
            foreach (var input in NeutralInputs.All.Where(i => !i.IsDirection))
            {
                var (before, after) = (ValueOf(look, input), ValueOf(back, input));
                Assert.True(float.IsFinite(after.X + after.Y + after.Z), $"{dialect}, {look.Name}, {input.Name}: {after}");
                var same = Vector3.Distance(before, after) <= Tolerance * MathF.Max(1, before.Length());
                if (same)
                    exact++;
                else
                {
                    named++;
                    Assert.True(
                        named1.Contains(input.Name) || Restated(look, input.Name),
                        $"{dialect}, {look.Name}: {input.Name} {before} came back as {after}, and the report does not say so. It "
                            + $"names: {string.Join(", ", named1)}"
                    );
                }
                if (
                    compiled.Report.Exact.FirstOrDefault(l => l.Input == input.Name) is { } line
                    && line.Note.Contains("takes it as it is", StringComparison.Ordinal)
                )
                    Assert.True(same, $"{dialect}, {look.Name}: {input.Name} is reported exact, {before} came back as {after}");
            }
        }
        Assert.True(exact > 60 * 20 && exact + named == 60 * NeutralInputs.All.Count(i => !i.IsDirection), $"{exact} and {named}");
    }

    /// <summary>The same light in other words: a base colour times its weight, emission as colour times luminance.</summary>
    internal static bool Restated(Look look, string input) =>
        input switch
        {
            "base_weight" or "base_color" => look.Lanes.ContainsKey("base_weight") || look.Lanes.ContainsKey("base_metalness"),
            // Scale and Abbe number: only their quotient is written.
            "transmission_dispersion_scale" or "transmission_dispersion_abbe_number" => look.Lanes.ContainsKey(
                "transmission_dispersion_scale"
            ),
            // A weight of the reflection and an index say the same thing; below a coat the index is that of coat against base.
            "specular_weight" or "specular_ior" => look.Lanes.ContainsKey("specular_weight") || look.Lanes.ContainsKey("coat_weight"),
            "emission_color" or "emission_luminance" => look.Lanes.ContainsKey("emission_luminance")
                || look.Lanes.ContainsKey("emission_color"),
            _ => false,
        };

    /// <summary>From every dialect to every other: nothing that is not a number, and a second trip changes nothing more.</summary>
    [Theory]
    [MemberData(nameof(All))]
    public async Task EveryPairGivesNumbersAndASecondTripChangesNothing(string from)
    {
        var source = shop.Profiles.Find(from);
        foreach (var look in Looks().Where((_, i) => i % 4 == 0))
        {
            var read = await NetworkReading.ReadAsync(source, (await shop.CompileAsync(look, from)).Network);
            foreach (var to in Workshop.Dialects)
            {
                var target = shop.Profiles.Find(to);
                var first = await shop.CompileAsync(read, to);
                Assert.All(first.Network.Surface.Ports.Where(p => p.Value is not null && p.Type is "float" or "color3"), p =>
                    Assert.All(p.Value!.Split(','), v =>
                        Assert.True(float.IsFinite(float.Parse(v)), $"{from} to {to}, {look.Name}: {p.Name} = {p.Value}")
                    )
                );
                var second = await shop.CompileAsync(await NetworkReading.ReadAsync(target, first.Network), to);
                foreach (var port in first.Network.Surface.Ports.Where(p => p.Type is "float" or "color3"))
                {
                    var (a, b) = (Numbers(port, target), Numbers(second.Network.Surface.Port(port.Name), target, port.Name));
                    Assert.True(
                        a.Zip(b).All(p => MathF.Abs(p.First - p.Second) <= 2e-4f * MathF.Max(1, MathF.Abs(p.First))),
                        $"{from} to {to}, {look.Name}: {port.Name} {string.Join(" ", a)} then {string.Join(" ", b)}"
                    );
                }
            }
        }
    }

    private static float[] Numbers(NetworkPort? port, DialectProfile profile, string? name = null) =>
        port is not null
            ? [.. port.Value!.Split(',').Select(float.Parse)]
            : profile.Inputs.FirstOrDefault(i => i.Name == name)?.Default ?? [];
}
