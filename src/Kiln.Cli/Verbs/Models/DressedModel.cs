using Kiln.Analysis.Models;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Documents;
using Kiln.Intake.Naming;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Models;
using Kiln.Models.Binding;
using Kiln.Models.Materials;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Materials;

namespace Kiln.Cli.Verbs.Models;

/// <summary>A model with its looks, ready for a proof: sets of maps bound to its parts, or its own materials.</summary>
/// <param name="Looks">By the paths of parts.</param>
/// <param name="Grey">What parts without a look are made of.</param>
internal sealed record DressedModel(StandingModel Standing, IReadOnlyDictionary<string, ProofMaterial> Looks, ProofMaterial Grey)
{
    /// <param name="maps">Where the maps lie; null for the file's own materials.</param>
    /// <param name="binds"><c>SET=PART</c>, before what names say.</param>
    /// <exception cref="ArgumentException">A set or a part that does not exist.</exception>
    public static async Task<DressedModel> OfAsync(
        CliSession session,
        string file,
        string? maps,
        IReadOnlyList<string> binds,
        DialectProfile profile,
        ConfigNames? names,
        CancellationToken cancel
    )
    {
        if (maps is not null && NetworkDocuments.IsNetwork(maps))
            throw new ArgumentException($"'{Path.GetFileName(maps)}' is a network; a model takes maps, or its own materials.");
        var model = ModelFiles.Read(file, CliSession.Program);
        foreach (var remark in model.Remarks)
            Console.Error.WriteLine("kiln: " + remark);
        var looks = maps is null
            ? await OwnAsync(session, model, file, binds, cancel)
            : await BoundAsync(session, model, maps, binds, names, cancel);
        SpaceId Ours(string name) => names?.OursFor(name) ?? name;
        var made = new Dictionary<Look, ProofMaterial>(ReferenceEqualityComparer.Instance);
        async Task<ProofMaterial> MadeAsync(Look look)
        {
            if (made.TryGetValue(look, out var known))
                return known;
            var compiled = await session.Compiler(profile, names: names).CompileAsync(look, cancel);
            var material = await ProofMaterial.OfNetworkAsync(compiled.Network, profile, session.Textures, spaceOf: Ours, cancel: cancel);
            if (material.Displacement is not null)
                Console.Error.WriteLine($"kiln: '{look.Name}' moves the surface; on a model it is shaded only.");
            return made[look] = material.InItsTiles();
        }
        var materials = new Dictionary<string, ProofMaterial>();
        foreach (var (part, look) in looks)
            materials[part] = await MadeAsync(look);
        return new(
            ModelOnStage.Of(ModelOnStage.WithUvs(model, looks, projected: SayProjected)),
            materials,
            await MadeAsync(ModelOnStage.PlainGrey)
        );
    }

    private static void SayProjected(ModelPart part, Look look)
    {
        var size = FormattableString.Invariant($"{look.SizeU:0.###} x {look.SizeV:0.###} m");
        Console.Error.WriteLine($"kiln: {part.Path} has no UVs; '{look.Name}' lies on it from six sides, {size} to a picture.");
    }

    private static async Task<Dictionary<string, Look>> OwnAsync(
        CliSession session,
        Model model,
        string file,
        IReadOnlyList<string> binds,
        CancellationToken cancel
    )
    {
        if (binds.Count > 0)
            throw new ArgumentException("--bind names sets of maps; without maps the file's own materials serve.");
        var (looks, files) = await MaterialLooks.OfAsync(model, file, session.Staging, session.Decoder, NamingTables.With([]), cancel);
        foreach (var picture in files)
            session.Add(picture.Content, picture.LocalPath);
        var dressed = new Dictionary<string, MaterialLook>();
        foreach (var part in model.Parts)
            if (part.MaterialAt is { } at && at >= 0 && at < looks.Count)
                dressed[part.Path] = looks[at];
            else if (part.Material is not null && looks.FirstOrDefault(l => l.Material == part.Material) is { } named)
                dressed[part.Path] = named;
        foreach (var remark in dressed.Values.Distinct().SelectMany(l => l.Remarks))
            Console.Error.WriteLine("kiln: " + remark);
        return dressed.ToDictionary(d => d.Key, d => d.Value.Look);
    }

    private static async Task<Dictionary<string, Look>> BoundAsync(
        CliSession session,
        Model model,
        string maps,
        IReadOnlyList<string> binds,
        ConfigNames? names,
        CancellationToken cancel
    )
    {
        var (intake, _) = await session.IntakeAsync([maps], cancel, config: names);
        if (intake.Sets.IsEmpty)
            throw new ArgumentException($"No surface was found in '{maps}'.");
        var bindings = ByHand(model, [.. intake.Sets.Select(s => s.Name)], binds);
        var bound = new NameBinding(intake.Sets.Select(s => s.Name)).Of(model.Parts);
        foreach (var binding in bound.Bindings)
            bindings.TryAdd(binding.Part, binding.Set);
        foreach (var question in bound.Questions.Where(q => !bindings.ContainsKey(q.Part)))
            Console.Error.WriteLine(
                $"kiln: {question.Part} could be {string.Join(" or ", question.Candidates)} and stays grey; --bind says which."
            );
        var grey = bound.Unbound.Where(p => !bindings.ContainsKey(p)).ToList();
        if (grey.Count > 0)
            Console.Error.WriteLine($"kiln: no maps are for {string.Join(", ", grey)}; grey.");
        var looks = intake.Sets.GroupBy(s => s.Name).ToDictionary(g => g.Key, g => SetWiring.Wire(g.First()));
        return bindings.ToDictionary(b => b.Key, b => looks[b.Value]);
    }

    /// <summary>Sets by the paths of the parts that somebody said.</summary>
    private static Dictionary<string, string> ByHand(Model model, IReadOnlyList<string> sets, IReadOnlyList<string> binds)
    {
        var said = new Dictionary<string, string>();
        foreach (var bind in binds)
        {
            var at = bind.IndexOf('=', StringComparison.Ordinal);
            if (at <= 0 || at == bind.Length - 1)
                throw new ArgumentException($"A binding is written SET=PART, not '{bind}'.");
            var (set, part) = (bind[..at], bind[(at + 1)..]);
            if (!sets.Contains(set))
                throw new ArgumentException($"There is no set '{set}'. Known: {string.Join(", ", sets)}.");
            said[PartNamed(model, part)] = set;
        }
        return said;
    }

    private static string PartNamed(Model model, string name)
    {
        if (model.Parts.Any(p => p.Path == name))
            return name;
        var called = model.Parts.Where(p => p.Name == name).ToList();
        return called switch
        {
            [var only] => only.Path,
            [] => throw new ArgumentException($"There is no part '{name}'. Known: {string.Join(", ", model.Parts.Select(p => p.Path))}."),
            _ => throw new ArgumentException(
                $"{called.Count} parts are called '{name}': {string.Join(", ", called.Select(p => p.Path))}. Say one by its path."
            ),
        };
    }
}
