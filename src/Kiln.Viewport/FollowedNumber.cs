using Kiln.Looks.Document;
using Kiln.Looks.Moving;

namespace Kiln.Viewport;

/// <summary>
/// How the numbers of a shader follow one number of the look, whatever lies between the two: a placement, a renderer's network, a variant.
/// Between its values they lie on straight lines; several that move at once add what each does.
/// </summary>
/// <param name="Name">As <see cref="LookNumber"/> has it.</param>
/// <param name="Value">Of the look's number as it stands.</param>
/// <param name="At">Places among all numbers, four to an entry.</param>
/// <param name="Values">Of the look's number, rising.</param>
/// <param name="Numbers">What stands in each place, a row of <see cref="At"/> for each value.</param>
public sealed record FollowedNumber(
    string Name,
    int Component,
    float Value,
    IReadOnlyList<int> At,
    IReadOnlyList<float> Values,
    IReadOnlyList<float> Numbers
);

/// <summary>Finds how a shader follows the numbers of a look, by making it for some of their values.</summary>
/// <param name="shader">The shader of a look; null where it cannot be made in passing.</param>
public sealed class Following(Func<Look, Task<LookShader?>> shader)
{
    /// <summary>Share of a number's range by which a value stands beside one that leaves a part of the graph out (0, 1).</summary>
    private const float Aside = 1e-5f;

    /// <summary>How far from a straight line is straight, as a share of what a place takes at most.</summary>
    private const float Straight = 1e-3f;

    private const int First = 4,
        MostValues = 65;

    /// <summary>
    /// The look with its numbers a little beside where they are: with a shader that serves all their values, those too at which a part of
    /// it would do nothing.
    /// </summary>
    public static Look Prepared(Look look, IReadOnlyList<LookNumber> numbers) => Beside(look, numbers, 1);

    private static Look Beside(Look look, IReadOnlyList<LookNumber> numbers, int steps) => numbers.Aggregate(look, (l, n) =>
        {
            var aside = steps * Aside * (n.High - n.Low);
            return n.With(l, n.Value + (n.High - n.Value > 2 * Aside * (n.High - n.Low) ? aside : -aside));
        });

    /// <summary>
    /// A shader that serves all values of the numbers, with the numbers of the look as it stands: where the straight line through two looks
    /// beside it has them, as its own shader may be without their places.
    /// </summary>
    /// <returns>Null where none can be made in passing.</returns>
    public async Task<LookShader?> WholeAsync(Look look, IReadOnlyList<LookNumber> numbers) =>
        await shader(Prepared(look, numbers)) is { } near
        && await shader(Beside(look, numbers, 2)) is { } far
        && far.Structure == near.Structure
            ? near.With([.. near.Numbers.Zip(far.Numbers, (a, b) => 2 * a - b)])
            : null;

    private static float Inside(LookNumber number, float value)
    {
        var aside = Aside * (number.High - number.Low);
        return Math.Clamp(value, number.Low + aside, number.High - aside);
    }

    /// <returns>One for each number that the shader follows without another text; places that stay the same are left out.</returns>
    public async Task<IReadOnlyList<FollowedNumber>> OfAsync(Look look, IReadOnlyList<LookNumber> numbers)
    {
        var found = new List<FollowedNumber>();
        var prepared = Prepared(look, numbers);
        if (await WholeAsync(look, numbers) is not { } whole)
            return found;
        foreach (var number in numbers)
            if (await RowsAsync(prepared, number, whole.Structure) is { } rows)
                found.Add(Followed(number, rows));
        return found;
    }

    private async Task<SortedList<float, float[]>?> RowsAsync(Look look, LookNumber number, string structure)
    {
        var rows = new SortedList<float, float[]>();
        for (var i = 0; i <= First; i++)
            if (await AddedAsync(Inside(number, number.Low + (number.High - number.Low) * i / First)) is null)
                return null;
        for (var open = Gaps(); open.Count > 0 && rows.Count + open.Count <= MostValues; )
        {
            var bent = new List<(float From, float To)>();
            foreach (var (from, to) in open)
            {
                if (await AddedAsync((from + to) / 2) is not { } middle)
                    return null;
                var share = (middle - from) / (to - from);
                if (IsBent([.. rows[from].Zip(rows[to], (a, b) => a + share * (b - a))], rows[middle], rows))
                    bent.AddRange([(from, middle), (middle, to)]);
            }
            open = bent;
        }
        return rows;

        List<(float From, float To)> Gaps() => [.. rows.Keys.Zip(rows.Keys.Skip(1))];

        // A little beside a value that leaves something out: 0, 1.
        async Task<float?> AddedAsync(float value)
        {
            foreach (var tried in (float[])[value, Inside(number, value + Aside * (number.High - number.Low))])
            {
                var made = await shader(number.With(look, tried));
                if (made?.Structure != structure)
                    continue;
                rows[tried] = [.. made.Numbers.SelectMany(n => new[] { n.X, n.Y, n.Z, n.W })];
                return tried;
            }
            return null;
        }
    }

    /// <summary>Whether a row is not where a straight line has it.</summary>
    private static bool IsBent(float[] guessed, float[] row, SortedList<float, float[]> all)
    {
        for (var at = 0; at < row.Length; at++)
        {
            var off = MathF.Abs(guessed[at] - row[at]);
            if (off > 1e-6f && off > Straight * (all.Values.Max(r => r[at]) - all.Values.Min(r => r[at])))
                return true;
        }
        return false;
    }

    private static FollowedNumber Followed(LookNumber number, SortedList<float, float[]> rows)
    {
        var places = Enumerable.Range(0, rows.Values[0].Length).Where(at => rows.Values.Any(r => r[at] != rows.Values[0][at])).ToList();
        return new(
            number.Name,
            number.Component,
            number.Value,
            places,
            [.. rows.Keys],
            [.. rows.Values.SelectMany(r => places.Select(at => r[at]))]
        );
    }
}
