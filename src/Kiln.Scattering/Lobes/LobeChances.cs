namespace Kiln.Scattering.Lobes;

/// <summary>How often each lobe proposes a direction; together 1.</summary>
internal readonly record struct LobeChances(Wide Specular, Wide Diffuse, Wide Coat, Wide Fuzz, Wide Sheet, Wide Transmission)
{
    /// <summary>What a lobe returns that is not there.</summary>
    private static Wide Absent => Of(-1f);

    /// <summary>What a lobe returns, and below 0 where it is not there.</summary>
    public static Wide Part(Wide there, Wide returned) => Select(there, returned, Absent);

    /// <summary>
    /// Chances in proportion to what the lobes return; every lobe that is there keeps one, so that no direction is left out.
    /// </summary>
    /// <param name="parts">What each lobe returns, and below 0 for one that is not there.</param>
    public static LobeChances InProportion(in LobeChances parts)
    {
        var (specular, diffuse, coat, fuzz, sheet, through) = parts;
        static Wide Amount(Wide part) => Max(part, Wide.Zero);
        var most = Amount(specular) + Amount(diffuse) + Amount(through) + Amount(sheet) + Amount(coat) + Amount(fuzz);
        var least = 0.04f * most + Of(1e-6f);
        Wide Chance(Wide part) => Max(part, least) & AtLeast(part, Wide.Zero);
        (specular, diffuse, through) = (Chance(specular), Chance(diffuse), Chance(through));
        (sheet, coat, fuzz) = (Chance(sheet), Chance(coat), Chance(fuzz));
        var total = specular + diffuse + through + sheet + coat + fuzz;
        var any = Positive(total);
        var per = Wide.One / total & any;
        return new(specular * per, Select(any, diffuse * per, Wide.One), coat * per, fuzz * per, sheet * per, through * per);
    }

    public LobeChances Where(Wide condition, in LobeChances other) =>
        new(
            Select(condition, Specular, other.Specular),
            Select(condition, Diffuse, other.Diffuse),
            Select(condition, Coat, other.Coat),
            Select(condition, Fuzz, other.Fuzz),
            Select(condition, Sheet, other.Sheet),
            Select(condition, Transmission, other.Transmission)
        );
}
