using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;

namespace Kiln.Judge.Findings;

/// <summary>What was measured of a look's maps, by content: kept, so that findings cost nothing on every edit.</summary>
public sealed record MapMeasurement(DirectionMeasurement? Direction, float? RoughnessLinks);

/// <summary>The checks of a look. Pure: measurements and the presence of files come in, findings come out.</summary>
public static class LookFindings
{
    public static IReadOnlyList<Finding> Of(Look look, IReadOnlyDictionary<string, MapMeasurement> measured, Func<string, bool> exists)
    {
        var findings = new List<Finding>();
        foreach (var (name, lane) in look.Lanes)
            if (lane.Chain is { } chain)
            {
                var input = NeutralInputs.Find(name);
                if (chain.Origin is SlotOrigin slot && look.Slots.TryGetValue(slot.Slot, out var content))
                {
                    findings.AddRange(Readings(name, input, lane, chain, slot, content));
                    findings.AddRange(Shine(name, lane, chain, content));
                    if (input.IsDirection)
                        findings.AddRange(Direction(name, lane, chain, slot, content, measured.GetValueOrDefault(content.File.Content)));
                }
            }
        findings.AddRange(Switches(look));
        foreach (var (name, slot) in look.Slots)
            if (!exists(slot.File.Content))
                findings.Add(new("map.missing", Severity.Error, name, $"{slot.File.Name} is gone: the {slot.Role.Words()} lane has no picture.", $"no stored content {slot.File.Content[..12]}…"));
        return findings;
    }

    private static LaneEdit Reread(string lane, Lane content, Chain chain, SlotOrigin slot, Reading reading) =>
        new(lane, content with { Chain = chain with { Origin = slot with { Reading = reading } } });

    private static IEnumerable<Finding> Readings(string name, NeutralInput input, Lane lane, Chain chain, SlotOrigin slot, Slot content)
    {
        var reading = slot.Reading;
        if (!input.IsColour && reading.Space != "raw")
            yield return new("reading.data-as-colour", Severity.Error, name,
                $"{content.File.Name} steers {name.Replace('_', ' ')} but is read as {reading.Space}, as if it were a colour.",
                "a stored 0.5 becomes 0.214, so the surface turns glossier, flatter or thinner than meant",
                "read it as it is (raw)", Reread(name, lane, chain, slot, reading with { Kind = input.IsDirection ? ReadingKind.Direction : ReadingKind.Scalar, Space = "raw", Authority = ReadingAuthority.Person, Reason = "set by the fix of a finding" }));
        var colourMap = content.Role.Kind() == ReadingKind.Colour && content.File is { IsFloat: false };
        if (input.IsColour && colourMap && reading.Space == "raw")
            yield return new("reading.colour-as-data", Severity.Error, name,
                $"{content.File.Name} is the surface's own colour but is read raw, so it turns pale.",
                $"{content.File.Bits}-bit integer colour files are sRGB",
                "read it as sRGB", Reread(name, lane, chain, slot, reading with { Kind = ReadingKind.Colour, Space = "srgb_texture", Channel = "rgb", Authority = ReadingAuthority.Person, Reason = "set by the fix of a finding" }));
    }

    private static IEnumerable<Finding> Shine(string name, Lane lane, Chain chain, Slot content)
    {
        if (name != "specular_roughness")
            yield break;
        var inversions = chain.Steps.Count(s => s is InvertStep { Bypassed: false } || s is RemapStep { Bypassed: false } r && r.OutLow > r.OutHigh);
        var named = NameReading.Of(content.File.Name, NamingTables.Shipped).Candidates.OrderByDescending(c => c.Position).FirstOrDefault()?.Claim.Role;
        var isGloss = content.Role == MapRole.Glossiness || named == MapRole.Glossiness;
        if (isGloss && inversions % 2 == 0)
            yield return new("shine.inverted", Severity.Error, name,
                $"{content.File.Name} is a glossiness map in the roughness lane and is not inverted: what should shine is matt.",
                named == MapRole.Glossiness ? "the file's name says glossiness" : "the slot holds glossiness",
                "insert an invert step", new StepInsertEdit(name, 0, new InvertStep { Id = FreeId(chain) }));
        if (!isGloss && content.Role == MapRole.Roughness && inversions % 2 == 1)
            yield return new("shine.inverted", Severity.Error, name,
                $"{content.File.Name} is a roughness map and is inverted in the roughness lane: what should be matt shines.",
                "the slot holds roughness", "take the inversion out",
                new LaneEdit(name, lane with { Chain = chain with { Steps = [.. chain.Steps.Where(s => s is not InvertStep)] } }));
    }

    private static IEnumerable<Finding> Direction(string name, Lane lane, Chain chain, SlotOrigin slot, Slot content, MapMeasurement? measured)
    {
        var decodes = chain.Steps.Count(s => s is DecodeNormalStep { Bypassed: false });
        if (content.Role == MapRole.Normal && decodes == 0)
            yield return new("normal.direction", Severity.Error, name, $"{content.File.Name} is wired without being decoded.", "stored vectors run from 0 to 1 and must be turned into directions",
                "insert a decode step", new StepInsertEdit(name, 0, new DecodeNormalStep(new Feed(1)) { Id = FreeId(chain) }));
        if (decodes > 1)
            yield return new("normal.direction", Severity.Error, name, $"{content.File.Name} is decoded {decodes} times.", "one decode step is enough",
                "take the others out", new LaneEdit(name, lane with { Chain = chain with { Steps = [.. chain.Steps.Where((s, i) => s is not DecodeNormalStep || i == chain.Steps.ToList().FindIndex(x => x is DecodeNormalStep))] } }));
        if (measured?.Direction is { Direction: { } found } evidence && slot.Reading.NormalY is var stated && (stated ?? NormalY.Up) != found)
            yield return new("normal.direction", Severity.Error, name,
                $"{content.File.Name} is read with Y {(stated ?? NormalY.Up).ToString().ToLowerInvariant()}, but its pixels say Y {found.ToString().ToLowerInvariant()}: bumps look like dents under light from above.",
                evidence.Words, $"read it with Y {found.ToString().ToLowerInvariant()}",
                Reread(name, lane, chain, slot, slot.Reading with { NormalY = found, Authority = ReadingAuthority.Person, Reason = evidence.Words }));
    }

    private static IEnumerable<Finding> Switches(Look look)
    {
        bool Mapped(string input) => look.Lanes.GetValueOrDefault(input)?.Chain is not null;
        float Value(string input) => (look.Lanes.GetValueOrDefault(input)?.Value ?? NeutralInputs.Find(input).DefaultValue) is ScalarValue s ? s.Number : 1;
        (string Map, string Switch, float On)[] pairs =
        [
            ("emission_color", "emission_luminance", 1), ("coat_roughness", "coat_weight", 1), ("fuzz_color", "fuzz_weight", 1), ("subsurface_color", "subsurface_weight", 1),
            ("transmission_color", "transmission_weight", 1), ("base_color", "base_weight", 1), ("specular_color", "specular_weight", 1),
        ];
        foreach (var (map, weight, on) in pairs)
            if (Mapped(map) && !Mapped(weight) && Value(weight) == 0)
                yield return new("switch.missing", Severity.Error, weight,
                    $"A map is connected to {map.Replace('_', ' ')}, but {weight.Replace('_', ' ')} is 0: the map does nothing.",
                    $"{weight} = 0", $"set it to {on:0.##}", new ValueEdit(weight, LookValue.Of(on)));
    }

    /// <summary>Switches of one dialect that its network leaves at a value which makes a connected map do nothing.</summary>
    public static IEnumerable<Finding> Unset(DialectProfile profile, Dialects.Networks.Network network)
    {
        foreach (var input in profile.Inputs.Where(i => i.Switch))
        {
            var port = network.Surface.Port(input.Name);
            var value = port is null ? input.Default?[0] ?? 0 : port.Value is { } text ? float.Parse(text.Split(',')[0]) : 1;
            var formulas = profile.ScatteringFormulas.Values.Where(f => f.Names.Contains(input.Name)).SelectMany(f => f.Names).Where(n => n != input.Name);
            if (value == 0 && formulas.Any(n => network.Surface.Port(n)?.Node is not null))
                yield return new("switch.missing", Severity.Error, input.Name, $"{input.Name} is 0 in {profile.Title}, so a connected map does nothing.", input.Words ?? "a switch left off");
        }
    }

    private static string FreeId(Chain chain) => Enumerable.Range(1, 1000).Select(i => $"s{i}").First(id => chain.Steps.All(s => s.Id != id));
}
