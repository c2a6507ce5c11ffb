using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Texts;

namespace Kiln.Dialects.Profiles;

/// <summary>Reads a profile and finds everything that is wrong with it, each with its line.</summary>
public sealed class ProfileCheck
{
    private readonly DialectProfile profile;
    private readonly JsonLines lines;
    private readonly List<TextProblem> problems = [];

    private ProfileCheck(DialectProfile profile, JsonLines lines) => (this.profile, this.lines) = (profile, lines);

    /// <returns>The profile, where it has the shape of one, and what is wrong with it in the order of lines; with nothing wrong it can be
    /// used.</returns>
    public static (DialectProfile? Profile, IReadOnlyList<TextProblem> Problems) Read(string json)
    {
        var lines = new Lazy<JsonLines>(() => JsonLines.Of(json));
        List<TextProblem> words = [];
        for (var text = json; ; )
            try
            {
                var check = new ProfileCheck(DialectProfile.OfShape(text), lines.Value);
                check.problems.AddRange(words);
                check.All();
                return (check.profile, [.. check.problems.OrderBy(p => p.Line)]);
            }
            catch (WordException e) when (Mended(text, e) is { } mended)
            {
                // One wrong word must not hide what else is wrong.
                words.Add(new(lines.Value.At(Place(e)), e.Message, Place(e)));
                text = mended;
            }
            catch (JsonException e)
            {
                return (null, [.. words, new((int)(e.LineNumber ?? 0) + 1, Sentence(e), e.Path is { Length: > 2 } ? Place(e) : "")]);
            }
    }

    /// <summary>"placement/order" of "$.placement.order", "inputs/1/type" of "$.inputs[1].type".</summary>
    private static string Place(JsonException e) => (e.Path ?? "$.")[2..].Replace('.', '/').Replace('[', '/').Replace("]", "");

    /// <summary>The text with a word that there is in the place of the wrong one; null where the place is not found.</summary>
    private static string? Mended(string json, WordException e)
    {
        var whole = JsonNode.Parse(json, null, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        var place = Place(e).Split('/');
        JsonNode? at = whole;
        foreach (var part in place[..^1])
            at = at is JsonArray list && int.TryParse(part, out var i) ? list[i] : (at as JsonObject)?[part];
        if (at is not JsonObject holder || !holder.ContainsKey(place[^1]))
            return null;
        holder[place[^1]] = e.Instead;
        return whole!.ToJsonString();
    }

    private void All()
    {
        Identity();
        var inputs = profile.Inputs.Select(i => i.Name).ToHashSet();
        var terms = Terms("terms", profile.Terms, inputs.Contains, "an input of the renderer");
        var neutralTerms = Terms("neutralTerms", profile.NeutralTerms, IsNeutral, "a neutral input");
        foreach (var (name, part) in Terms("neutralParts", profile.NeutralParts, IsNeutral, "a neutral input", neutralTerms))
            neutralTerms[name] = part;
        profile.Take(
            Formulas(
                "mapping",
                profile.Mapping,
                n => IsNeutral(n) || neutralTerms.ContainsKey(n),
                "no neutral input",
                i => inputs.Contains(i) ? null : $"The renderer has no input '{i}'.",
                neutralTerms
            ),
            Formulas(
                "back",
                profile.Back,
                IsOwn,
                "no input of the renderer",
                i => IsNeutral(i) ? null : $"'{i}' is no neutral input.",
                terms
            ),
            Formulas("scattering/parameters", profile.Scattering.Parameters, IsOwn, "no input of the renderer", _ => null, terms),
            Formulas("displacement", Displacement(), inputs.Contains, "no input of the renderer", _ => null)
        );
        bool IsOwn(string name) => inputs.Contains(name) || terms.ContainsKey(name);
        foreach (
            var (rules, name) in (IEnumerable<(LossRule[], string)>)[(profile.Losses, "losses"), (profile.Approximations, "approximations")]
        )
            for (var i = 0; i < rules.Length; i++)
            {
                if (!NeutralInputs.Exists(rules[i].Input))
                    Say($"{name}/{i}/input", $"A rule about '{rules[i].Input}' is about no neutral input.");
                if (rules[i].When is { } when)
                    rules[i].Condition = Formula(
                        $"{name}/{i}/when",
                        when,
                        n => IsNeutral(n) || neutralTerms.ContainsKey(n),
                        "no neutral input",
                        neutralTerms
                    );
            }
        for (var i = 0; i < profile.Unread.Length; i++)
        {
            if (!inputs.Contains(profile.Unread[i].Input))
                Say($"unread/{i}/input", $"The renderer has no input '{profile.Unread[i].Input}'.");
            if (profile.Unread[i].When is { } when)
                profile.Unread[i].Condition = Formula($"unread/{i}/when", when, IsOwn, "no input of the renderer", terms);
        }
        Structure();
    }

    /// <summary>A term knows only those before it, so that none can be made of itself.</summary>
    /// <param name="before">Those that are known already.</param>
    private Dictionary<string, Expression> Terms(
        string part,
        Dictionary<string, string> texts,
        Func<string, bool> isInput,
        string input,
        IReadOnlyDictionary<string, Expression>? before = null
    )
    {
        var known = before?.ToDictionary() ?? [];
        foreach (var (name, text) in texts)
        {
            if (isInput(name))
                Say($"{part}/{name}", $"The term '{name}' is called as an input is.");
            if (before?.ContainsKey(name) == true)
                Say($"{part}/{name}", $"The part '{name}' is called as a term is.");
            if (
                Formula($"{part}/{name}", text, n => isInput(n) || known.ContainsKey(n), $"neither {input} nor a term before it", known) is
                { } formula
            )
                known[name] = formula;
        }
        return known;
    }

    /// <summary>A neutral input, or a number of a look's displacement.</summary>
    private static bool IsNeutral(string name) => NeutralInputs.Exists(name) || DisplacementSettings.Exists(name);

    private Dictionary<string, string> Displacement() =>
        profile.Displacement is not { } rule
            ? []
            : new Dictionary<string, string?>
            {
                ["metres"] = rule.Metres,
                ["on"] = rule.On,
                ["edge"] = rule.Edge,
                ["subdivision"] = rule.Subdivision,
                ["level"] = rule.Level,
            }
                .Where(f => f.Value is not null)
                .ToDictionary(f => f.Key, f => f.Value!);

    private void Identity()
    {
        if (profile.Id.Length is 0 or > 60 || profile.Id.Any(c => !char.IsAsciiLetterLower(c) && !char.IsAsciiDigit(c) && c != '_'))
            Say("id", "An identifier has 1 to 60 small letters, digits and underscores.");
        if (profile.Title.Trim().Length is 0 or > 80)
            Say("title", "A title has 1 to 80 characters.");
        if (profile is { Beside: not null, Document: not DocumentKind.Usd })
            Say("beside", "Only a USD layer holds another network beside its own.");
        var seen = new HashSet<string>();
        for (var i = 0; i < profile.Inputs.Length; i++)
        {
            var input = profile.Inputs[i];
            if (!seen.Add(input.Name))
                Say($"inputs/{i}/name", $"There are two inputs '{input.Name}'.");
            OneOf($"inputs/{i}/type", input.Type, ["float", "color3", "vector3", "integer", "boolean", "token"]);
            if (input.IsOfDisplacement && profile.Displacement?.Node is null)
                Say($"inputs/{i}", $"The input '{input.Name}' is the displacement's, and 'displacement' names no node of its own.");
            if (input.Type == "token" && input.Choices is not { Length: > 0 })
                Say($"inputs/{i}", $"The input '{input.Name}' is a token and needs 'choices'.");
            if (input.Default is { } d && d.Length != (input.Type == "color3" ? 3 : 1))
                Say(
                    $"inputs/{i}/default",
                    $"The default of '{input.Name}' has {d.Length} numbers; a {input.Type} has {(input.Type == "color3" ? 3 : 1)}."
                );
        }
    }

    private void Structure()
    {
        if (profile.Structure == NetworkStructure.Nodes && profile.Image is null)
            Say("", "A profile of structure 'nodes' needs 'image'.");
        if (profile.Structure == NetworkStructure.Nodes && profile.Placement is null)
            Say("", "A profile of structure 'nodes' needs 'placement'.");
        if (profile.Image is { } image)
        {
            if (image.Readings == ReadingStyle.Named && (image.SpacePort is null || image.Spaces is null))
                Say("image", "Readings that are 'named' need 'spacePort' and 'spaces'.");
            if (image.ScalePort is null != image.BiasPort is null)
                Say("image", "A picture has both 'scalePort' and 'biasPort' or neither.");
        }
        if (profile.Textures.Tiled && !(profile.Textures.Formats.Contains("tiff") && profile.Textures.Formats.Contains("openexr")))
            Say("textures", "Maps in tiles with their levels are written as TIFF and OpenEXR, and 'formats' lacks one.");
        for (var i = 0; i < profile.Slots.Length; i++)
            foreach (var (channel, input) in profile.Slots[i].Channels)
                if (profile.Inputs.All(own => own.Name != input))
                    Say(
                        $"slots/{i}/channels/{channel}",
                        $"The slot '{profile.Slots[i].Name}' holds '{input}', which is no input of the renderer."
                    );
    }

    private Dictionary<string, Expression> Formulas(
        string part,
        Dictionary<string, string> texts,
        Func<string, bool> isKnown,
        string unknown,
        Func<string, string?> key,
        IReadOnlyDictionary<string, Expression>? terms = null
    )
    {
        var result = new Dictionary<string, Expression>();
        foreach (var (name, text) in texts)
        {
            if (key(name) is { } wrong)
                Say($"{part}/{name}", wrong);
            if (Formula($"{part}/{name}", text, isKnown, unknown, terms) is { } formula)
                result[name] = formula;
        }
        return result;
    }

    private Expression? Formula(
        string part,
        string text,
        Func<string, bool> isKnown,
        string unknown,
        IReadOnlyDictionary<string, Expression>? terms = null
    )
    {
        try
        {
            var formula = Expression.Parse(text);
            foreach (var name in formula.Names.Distinct().Where(n => !isKnown(n)))
                Say(part, $"The formula of '{part[(part.IndexOf('/') + 1)..]}' mentions '{name}', which is {unknown}.");
            if (formula.DividesByZero)
                Say(part, $"The formula “{text}” divides by zero.");
            return terms is null ? formula : formula.With(terms);
        }
        catch (ProfileException e)
        {
            Say(part, e.Message);
            return null;
        }
    }

    private void OneOf(string part, string value, string[] words)
    {
        if (!words.Contains(value))
            Say(part, $"'{value}' is none of {string.Join(", ", words)}.");
    }

    private void Say(string part, string sentence) => problems.Add(new(lines.At(part), sentence, part));

    private static string Sentence(JsonException e) =>
        e.Path is null or "$" && e.Message.Contains("could not be converted", StringComparison.Ordinal)
            ? "This is no profile: a profile is an object in braces."
            : JsonFaults.Sentence(e, "The profile");
}
