using System.Collections.Immutable;
using System.Diagnostics;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Ids;
using Kiln.Proof.Rendering;
using Kiln.Server.Platform;
using Kiln.Server.Proofs.Scheduling;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks.Bench;

/// <summary>
/// What share of a proof's time each lane takes, measured here and now: a small proof with all maps and one without any give what
/// evaluation costs together, single lanes timed by themselves share it out.
/// </summary>
public sealed class LaneCosts(
    LookCompilation compilation,
    MapTextures textures,
    LookContextRepository contexts,
    RenderScheduler scheduler,
    StudioCache cache
)
{
    private const int TextureSize = 1024,
        ProofSide = 96,
        Points = 4096,
        Best = 3;

    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/looks/{id:guid}/costs", async (LookId id, LookRepository looks, LaneCosts costs) =>
                await costs.OfAsync(await looks.GetAsync(id))
            )
            .WithName("laneCosts");

    /// <summary>By ground lane, 0..1 of the whole proof.</summary>
    public async Task<IReadOnlyDictionary<string, float>> OfAsync(LookRow row)
    {
        var look = row.Look();
        var working = (await contexts.OfLookAsync(row.Id)).Space;
        return await cache.OnceAsync("costs", $"{LookJson.Hash(look)}/{working.Id}", () => MeasureAsync(look, working));
    }

    private async Task<IReadOnlyDictionary<string, float>> MeasureAsync(Look look, WorkingSpace working)
    {
        var plain = look with { Layers = [], Lanes = look.Lanes.Where(l => l.Value.Chain is null).ToImmutableSortedDictionary() };
        var full = await compilation.MaterialAsync(look, null, working, TextureSize);
        var without = await compilation.MaterialAsync(plain, null, working, TextureSize);
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var programs = new Dictionary<string, ShadeProgram>();
        // Occlusion and displacement are not evaluated where light hits.
        foreach (var (input, lane) in look.Lanes)
            if (lane.Chain is { } chain && input is not ("occlusion" or "displacement"))
                programs[input] = await ShadeProgram.LoadAsync(graph, [lanes.Chain(chain)], textures, TextureSize);
        // In one turn at the renderer: what else runs meanwhile would be measured too.
        return await scheduler.RenderAsync<IReadOnlyDictionary<string, float>>(
            () =>
            {
                double all = Fastest(() => new ProofRequest("vessel", "softbox", ProofSide, ProofSide).Start(full).Accumulate(2)),
                    bare = Fastest(() => new ProofRequest("vessel", "softbox", ProofSide, ProofSide).Start(without).Accumulate(2));
                var evaluation = Math.Clamp(1 - bare / all, 0, 1);
                var single = programs.ToDictionary(p => p.Key, p => Fastest(() => Run(p.Value)));
                var sum = Math.Max(1e-9, single.Values.Sum());
                return single.ToDictionary(s => s.Key, s => (float)(evaluation * s.Value / sum));
            },
            CancellationToken.None
        );
    }

    private static void Run(ShadeProgram program)
    {
        var registers = program.NewRegisters();
        for (var i = 0; i < Points; i++)
            program.Run(new((i * 0.618034f) % 1, (i * 0.754878f) % 1), 1f / 256, registers);
    }

    private static double Fastest(Action work)
    {
        var best = double.MaxValue;
        for (var i = 0; i < Best; i++)
        {
            var clock = Stopwatch.StartNew();
            work();
            best = Math.Min(best, clock.Elapsed.TotalMilliseconds);
        }
        return best;
    }
}
