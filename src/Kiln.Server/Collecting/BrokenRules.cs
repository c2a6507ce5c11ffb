using Kiln.Analysis.Consistency;
using Kiln.Analysis.Findings;
using Kiln.Colour.Spaces;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <summary>
/// The rules of a look's collections that it breaks, as findings of the bench. What only a whole measurement knows (dialects that lose
/// something) is told once the table has measured the document.
/// </summary>
public sealed class BrokenRules(RuleRepository ruleRepository, Consistency consistency, MapTextures textures, ContentStore store)
{
    private const int Textures = 512;

    public async Task<IReadOnlyList<Finding>> OfAsync(LookRow row, Look look, WorkingSpace working)
    {
        var rules = await ruleRepository.OfLookAsync(row.Id);
        if (rules.Count == 0)
            return [];
        var known = await consistency.KnownAsync(row) is { } measured ? consistency.Knowledge(measured) : await NowAsync(look, working);
        return
        [
            .. rules.SelectMany(r =>
                RuleCheck
                    .Of(CollectionRules.Read(r.Text), look, known)
                    .Select(b => new Finding(
                        $"rule.{b.Rule}",
                        Severity.Warning,
                        "look",
                        b.Sentence,
                        $"asked for by the rules of the collection {r.Collection}"
                    ))
            ),
        ];
    }

    /// <summary>The rules that a variant breaks; rules about names are for looks.</summary>
    public async Task<IReadOnlyList<BrokenRule>> OfVariantAsync(LookId look, Look variant, WorkingSpace working)
    {
        var rules = await ruleRepository.OfLookAsync(look);
        if (rules.Count == 0)
            return [];
        var known = await NowAsync(variant, working);
        return
        [
            .. rules.SelectMany(r => RuleCheck.Of(CollectionRules.Read(r.Text).WithoutNames(), variant, known)).DistinctBy(b => b.Sentence),
        ];
    }

    private async Task<LookKnowledge> NowAsync(Look look, WorkingSpace working)
    {
        LookMeasures? measures = null;
        try
        {
            measures = await LookMeasures.OfAsync(look, textures, working, Textures);
        }
        catch (KilnException)
        {
            // A map that is gone is a finding of its own.
        }
        return new(
            measures,
            new Dictionary<string, string>(),
            look.FilesWithVariants().SelectMany(f => f.Contents).Distinct().Where(store.Has).Sum(c => new FileInfo(store.PathOf(c)).Length)
        );
    }
}
