using Kiln.Colour.Spaces;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>A name's tokens, those taken out that are technical: resolution, bits, tile, level, normal direction, colour space.</summary>
internal sealed class TechnicalTokens
{
    private readonly IReadOnlyList<string> tokens;
    private readonly string[] kinds;
    private readonly List<int> origin = [];

    private TechnicalTokens(IReadOnlyList<string> tokens) => (this.tokens, kinds) = (tokens, new string[tokens.Count]);

    public int? Resolution { get; private set; }

    public int? Bits { get; private set; }

    public int? Udim { get; private set; }

    public int? Level { get; private set; }

    public NormalY? NormalY { get; private set; }

    public SpaceId? Space { get; private set; }

    /// <summary>What is left: the surface's name and its role.</summary>
    public List<string> Rest { get; } = [];

    /// <param name="stem">A file name without its ending.</param>
    /// <param name="udimInside">Whether four digits in the middle of the name may be a tile.</param>
    public static TechnicalTokens Of(string stem, NamingTables tables, bool udimInside)
    {
        var result = new TechnicalTokens(NameTokens.Split(stem));
        for (var i = 0; i < result.tokens.Count; )
            i += result.Take(i, tables, udimInside);
        return result;
    }

    /// <summary>Takes a token out of what is left, and says what it was.</summary>
    public void TakeOut(int at, string kind)
    {
        kinds[origin[at]] = kind;
        Rest.RemoveAt(at);
        origin.RemoveAt(at);
    }

    /// <summary>Every token with what it was taken for; <paramref name="ofRest"/> says it of those that are left.</summary>
    public IReadOnlyList<ReadToken> Kinds(Func<string, string> ofRest)
    {
        for (var i = 0; i < Rest.Count; i++)
            if (kinds[origin[i]].Length == 0)
                kinds[origin[i]] = ofRest(Rest[i]);
        return [.. tokens.Select((t, i) => new ReadToken(t, kinds[i]))];
    }

    /// <returns>How many tokens were taken.</returns>
    private int Take(int at, NamingTables tables, bool udimInside)
    {
        var (kind, used) = Measures(at, udimInside) ?? Directions(at, tables) ?? ("", 1);
        if (kind.Length == 0 && tables.Spaces.TryGetValue(tokens[at], out var space))
            (Space, kind) = (space, "colour space");
        Array.Fill(kinds, kind, at, used);
        // A direction may be written together with its role: nrmgl.
        var isRoleToo = kind == "normal direction" && (StartsWith(at, "nor") || StartsWith(at, "nrm"));
        if (kind.Length == 0 || isRoleToo)
        {
            Rest.Add(isRoleToo ? "normal" : tokens[at]);
            origin.Add(at);
        }
        return used;
    }

    private (string Kind, int Used)? Measures(int at, bool udimInside)
    {
        if (NameTokens.Resolution(tokens, at, out var pixels, out var used))
        {
            Resolution = pixels;
            return ("resolution", used);
        }
        if (NameTokens.Bits(tokens, at, out var bits, out used))
        {
            Bits = bits;
            return ("bits", used);
        }
        if (NameTokens.Udim(tokens, at, out var tile, out used) && (udimInside || at + used == tokens.Count || tile == 1001))
        {
            Udim = tile;
            return ("UDIM tile", used);
        }
        if (NameTokens.Level(tokens, at, out var level, out used))
        {
            Level = level;
            return ("level of detail", used);
        }
        return null;
    }

    private (string Kind, int Used)? Directions(int at, NamingTables tables)
    {
        var next = at + 1 < tokens.Count ? tokens[at + 1] : null;
        var used = 2;
        if (tables.Directions.TryGetValue(tokens[at], out var y))
            used = 1;
        else if (next is not null && tokens[at] == "y" && next is "up" or "down" or "plus" or "minus")
            y = next is "up" or "plus" ? Looks.Readings.NormalY.Up : Looks.Readings.NormalY.Down;
        else if (next is null || !tables.Directions.TryGetValue(tokens[at] + next, out y))
            return null;
        NormalY = y;
        return ("normal direction", used);
    }

    private bool StartsWith(int at, string word) => tokens[at].StartsWith(word, StringComparison.Ordinal);
}
