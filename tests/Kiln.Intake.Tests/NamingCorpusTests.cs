using Kiln.Intake.Naming;
using Kiln.Intake.Sets;
using Kiln.Looks.Readings;
using Xunit.Abstractions;

namespace Kiln.Intake.Tests;

/// <summary>Names alone, without a pixel, against the corpus: both halves must reach what the design asks of names.</summary>
public class NamingCorpusTests(ITestOutputHelper output)
{
    private sealed record Outcome(
        int Roles,
        int RightRoles,
        int Sets,
        int RightSets,
        int RightOrAsking,
        int Unasked,
        int WrongUnasked,
        int Dropped
    );

    [Theory]
    [InlineData("tuning")]
    [InlineData("held")]
    public void NamesAloneAreReadAsWellAsTheDesignAsks(string half)
    {
        var o = Measure(NamingCorpus.Read(half));
        output.WriteLine(
            $"{half}: roles {o.RightRoles}/{o.Roles}, sets {o.RightSets}/{o.Sets}, fully right or asking "
                + $"{o.RightOrAsking}/{o.Sets}, placed unasked {o.Unasked} of which wrong {o.WrongUnasked}, dropped {o.Dropped}"
        );
        Assert.True(o.RightRoles >= 0.97 * o.Roles, $"roles {o.RightRoles} of {o.Roles}");
        Assert.True(o.RightSets >= 0.97 * o.Sets, $"sets {o.RightSets} of {o.Sets}");
        Assert.True(o.RightOrAsking >= 0.98 * o.Sets, $"sets right or asking {o.RightOrAsking} of {o.Sets}");
        Assert.True(o.WrongUnasked <= 0.005 * o.Unasked, $"wrong unasked {o.WrongUnasked} of {o.Unasked}");
        Assert.Equal(0, o.Dropped);
    }

    [Fact]
    public void TheCorpusIsAsLargeAsItShouldBe()
    {
        var all = NamingCorpus.Read("tuning").Concat(NamingCorpus.Read("held")).ToList();
        Assert.True(all.Count >= 400, $"{all.Count} files");
        Assert.True(all.Where(f => f.Surface is not null).Select(f => (f.Delivery, f.Surface)).Distinct().Count() >= 40);
    }

    private Outcome Measure(IReadOnlyList<CorpusFile> corpus)
    {
        int roles = 0,
            right = 0,
            sets = 0,
            rightSets = 0,
            orAsking = 0,
            unasked = 0,
            wrong = 0,
            dropped = 0;
        foreach (var delivery in corpus.GroupBy(f => f.Delivery))
        {
            var pictures = delivery
                .Where(f => f.Kind is not ("readme" or "model"))
                .Select(f => Delivered.Name(f.Path, alpha: f.Truth.ContainsKey("a") || f.Truth.ContainsKey("rgb")))
                .ToList();
            var setAside = new List<LooseFile>();
            var found = new SetGrouping(NamingTables.Shipped, Path.GetFileNameWithoutExtension(delivery.Key)).Group(
                pictures,
                out var unsorted,
                setAside
            );
            var seen = found
                .SelectMany(s => s.Maps)
                .Select(m => m.Path)
                .Concat(unsorted.Select(u => u.Path))
                .Concat(setAside.Select(s => s.Path))
                .ToHashSet();
            dropped += pictures.Count(p => !seen.Contains(p.File.Path));
            foreach (var preview in delivery.Where(f => f.Kind == "preview" && !setAside.Any(s => s.Path == f.Path)))
                output.WriteLine($"{delivery.Key}: {preview.Path} was not taken as a preview");
            foreach (var surface in delivery.Where(f => f.Surface is not null).GroupBy(f => f.Surface))
            {
                sets++;
                var holding = found.Where(s => s.Maps.Any(m => surface.Any(f => f.Path == m.Path))).ToList();
                var together =
                    holding.Count == 1
                    && holding[0].Maps.All(m => surface.Any(f => f.Path == m.Path))
                    && surface.All(f => holding[0].Maps.Any(m => m.Path == f.Path));
                if (!together)
                {
                    var kept = holding.Select(h => $"{h.Name}: {string.Join(", ", h.Maps.Select(m => Path.GetFileName(m.Path)))}");
                    var loose = surface.Where(f => !holding.Any(h => h.Maps.Any(m => m.Path == f.Path))).Select(f => f.Path);
                    output.WriteLine(
                        $"{delivery.Key}: {surface.Key} is not one set but {string.Join(" / ", kept)} unsorted {string.Join(", ", loose)}"
                    );
                }
                rightSets += together ? 1 : 0;
                bool allRight = together,
                    asks = holding.Any(h => h.Maps.Any(m => m.Asks)) || surface.Any(f => unsorted.Any(u => u.Path == f.Path));
                foreach (var file in surface)
                {
                    var placed = holding.SelectMany(h => h.Maps).Where(m => m.Path == file.Path).ToList();
                    if (file.Kind == "ask")
                    {
                        allRight &= placed.All(m => m.Asks);
                        wrong += placed.Any(m => !m.Asks) ? 1 : 0;
                        continue;
                    }
                    roles += file.Truth.Count;
                    foreach (var (channel, role) in file.Truth)
                    {
                        var ok = placed.Any(m => m.Role == role && (channel.Length == 0 ? placed.Count == 1 : m.Channel.Word() == channel));
                        right += ok ? 1 : 0;
                        allRight &= ok;
                        if (!ok)
                            output.WriteLine(
                                $"{delivery.Key}: {file.Path} should be {role} {channel}, is "
                                    + $"{string.Join(", ", placed.Select(m => $"{m.Role} {m.Channel} {m.Confidence:0.00}"))}"
                            );
                    }
                    unasked += placed.Count(m => !m.Asks);
                    wrong += placed.Count(m => !m.Asks && !file.Truth.Values.Contains(m.Role));
                }
                orAsking += allRight || asks ? 1 : 0;
            }
        }
        return new(roles, right, sets, rightSets, orAsking, unasked, wrong, dropped);
    }
}
