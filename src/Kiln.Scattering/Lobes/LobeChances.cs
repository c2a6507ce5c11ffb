namespace Kiln.Scattering.Lobes;

/// <summary>How often each lobe proposes a direction; together 1.</summary>
internal readonly record struct LobeChances(float Specular, float Diffuse, float Coat, float Fuzz, float Sheet, float Transmission)
{
    /// <summary>
    /// Chances in proportion to what the lobes return; every lobe that is there keeps one, so that no direction is left out.
    /// </summary>
    /// <param name="parts">What each lobe returns, and below 0 for one that is not there.</param>
    public static LobeChances InProportion(LobeChances parts)
    {
        var (specular, diffuse, coat, fuzz, sheet, through) = parts;
        static float Amount(float part) => MathF.Max(0f, part);
        var most = Amount(specular) + Amount(diffuse) + Amount(through) + Amount(sheet) + Amount(coat) + Amount(fuzz);
        float Chance(float part) => part >= 0f ? MathF.Max(part, 0.04f * most + 1e-6f) : 0f;
        (specular, diffuse, through) = (Chance(specular), Chance(diffuse), Chance(through));
        (sheet, coat, fuzz) = (Chance(sheet), Chance(coat), Chance(fuzz));
        var total = specular + diffuse + through + sheet + coat + fuzz;
        return total > 0f
            ? new(specular / total, diffuse / total, coat / total, fuzz / total, sheet / total, through / total)
            : new(0f, 1f, 0f, 0f, 0f, 0f);
    }
}
