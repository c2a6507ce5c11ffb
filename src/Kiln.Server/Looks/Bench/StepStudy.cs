using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Store.Looks;
using Microsoft.AspNetCore.Mvc;

namespace Kiln.Server.Looks.Bench;

/// <summary>How many pixels lie at each of 64 levels between the ends; shares of all pixels, a list for each component.</summary>
public sealed record Histogram(float Low, float High, IReadOnlyList<float[]> Shares, float Minimum, float Mean, float Maximum)
{
    private const int Levels = 64;

    public static Histogram Of(ImageBuffer picture)
    {
        var stats = ImageStatistics.Measure(picture);
        // Usual numbers are 0..1; what goes beyond widens the picture.
        float low = MathF.Min(0, stats.Min(s => s.Minimum)),
            high = MathF.Max(1, stats.Max(s => s.Maximum));
        var shares = stats.Select(_ => new float[Levels]).ToArray();
        var row = new float[picture.Width * picture.ChannelCount];
        var one = 1f / (picture.Width * picture.Height);
        for (var y = 0; y < picture.Height; y++)
        {
            picture.ReadRow(y, row);
            for (var i = 0; i < row.Length; i++)
                shares[i % picture.ChannelCount][Math.Clamp((int)((row[i] - low) / (high - low) * Levels), 0, Levels - 1)] += one;
        }
        return new(low, high, shares, stats.Min(s => s.Minimum), stats.Average(s => s.Mean), stats.Max(s => s.Maximum));
    }
}

/// <summary>What comes into a step and what goes out.</summary>
public sealed record StepHistograms(Histogram Before, Histogram After);

/// <param name="Components">Quantiles at evenly spread shares from 0 to 1, rising; one list for a number, three for a colour.</param>
public sealed record LaneQuantiles(IReadOnlyList<IReadOnlyList<float>> Components);

/// <summary>A value of the lane, in the working space where it is a colour, and how its tile shows it.</summary>
public sealed record NumbersThere(IReadOnlyList<float> Values, string Hex);

public sealed record StepNumbers(NumbersThere Before, NumbersThere After);

/// <param name="U">From the left, 0..1.</param>
/// <param name="V">From the top, 0..1.</param>
public sealed record PlaceInStep(
    [FromQuery(Name = "lane")] LaneAddress Lane,
    [FromQuery(Name = "step")] int Step,
    [FromQuery(Name = "u")] float U,
    [FromQuery(Name = "v")] float V
);

/// <summary>A step tried with other settings, before it is kept.</summary>
public sealed record TriedStep(LaneAddress Lane, Step Step, int Size = 176);

/// <summary>Steps looked at by themselves: histograms before and after, pictures while a slider moves.</summary>
public sealed class StepStudy(MapTextures textures, LookContextRepository contexts)
{
    private const int Size = 160,
        TextureSize = 512,
        QuantileCount = 17;

    public async Task<StepHistograms> HistogramsAsync(LookRow row, LaneAddress lane, int step, CancellationToken cancel)
    {
        var (graph, chain, lanes) = await OpenAsync(row, row.Look(), lane);
        if (step < 0 || step >= chain.Steps.Length)
            throw new LookException($"{lane.Label} has no step {step + 1}.");
        int before = lanes.Chain(chain, step),
            after = lanes.Chain(chain, step + 1);
        var program = await ShadeProgram.LoadAsync(graph, [before, after], textures, TextureSize, cancel);
        return new(
            Histogram.Of(program.Picture(before, Size, Size, graph[before].Type)),
            Histogram.Of(program.Picture(after, Size, Size, graph[after].Type))
        );
    }

    /// <summary>The numbers at one place of the surface before and after a step: what stands there, and what its tile shows.</summary>
    public async Task<StepNumbers> ReadAsync(LookRow row, PlaceInStep at, CancellationToken cancel)
    {
        var (lane, step, u, v) = at;
        var (graph, chain, lanes) = await OpenAsync(row, row.Look(), lane);
        int before = lanes.Chain(chain, Math.Clamp(step, 0, chain.Steps.Length)),
            after = lanes.Chain(chain, Math.Clamp(step + 1, 0, chain.Steps.Length));
        var program = await ShadeProgram.LoadAsync(graph, [before, after], textures, TextureSize, cancel);
        var registers = program.NewRegisters();
        program.Run(new(Math.Clamp(u, 0, 1), 1 - Math.Clamp(v, 0, 1)), 1f / TextureSize, registers);
        NumbersThere Of(int node)
        {
            var value = registers[program.Register(node)];
            var shown = graph[node].Type switch
            {
                ShadeType.Colour => Colour.Views.View.Named("plain", graph.Working.Space).Apply(value),
                ShadeType.Direction => value * 0.5f + new System.Numerics.Vector3(0.5f),
                _ => value,
            };
            int Code(float c) => (int)MathF.Round(Math.Clamp(c, 0, 1) * 255);
            return new(
                graph[node].Type == ShadeType.Scalar ? [value.X] : [value.X, value.Y, value.Z],
                $"#{Code(shown.X):x2}{Code(shown.Y):x2}{Code(shown.Z):x2}"
            );
        }
        return new(Of(before), Of(after));
    }

    /// <summary>How what comes into a step is distributed, or what the lane gives: quantiles for each component.</summary>
    /// <param name="step">The place of the step; null for the whole lane.</param>
    /// <param name="components">1 for numbers, 3 for colours; null for what the lane has.</param>
    public async Task<LaneQuantiles> QuantilesAsync(LookRow row, LaneAddress lane, int? step, int? components, CancellationToken cancel)
    {
        var (graph, chain, lanes) = await OpenAsync(row, row.Look(), lane);
        var node = lanes.Chain(chain, step is { } at ? Math.Clamp(at, 0, chain.Steps.Length) : null);
        if (graph[node].Type == ShadeType.Direction)
            throw new LookException($"{lane.Label} holds directions; the distribution is measured of numbers and colours.");
        if (components is not null)
            node = graph.As(node, components == 1 ? ShadeType.Scalar : ShadeType.Colour);
        var program = await ShadeProgram.LoadAsync(graph, [node], textures, TextureSize, cancel);
        return new(Quantiles.Of(program.Picture(node, TextureSize, TextureSize, graph[node].Type), QuantileCount));
    }

    /// <summary>The picture after a step as it would be with other settings; nothing is kept.</summary>
    public async Task<(ImageBuffer Picture, ShadeType Type, WorkingSpace Working)> TryAsync(
        LookRow row,
        TriedStep tried,
        CancellationToken cancel
    )
    {
        var look = new StepChangeEdit(tried.Lane, tried.Step).Apply(row.Look()).Look;
        var (graph, chain, lanes) = await OpenAsync(row, look, tried.Lane);
        var node = lanes.Chain(chain, chain.Steps.ToList().FindIndex(s => s.Id == tried.Step.Id) + 1);
        var size = Math.Clamp(tried.Size, 32, 2048);
        var program = await ShadeProgram.LoadAsync(graph, [node], textures, size > TextureSize ? null : TextureSize, cancel);
        return (program.Picture(node, size, size, graph[node].Type), graph[node].Type, graph.Working);
    }

    private async Task<(ShadeGraph Graph, Chain Chain, LaneGraphs Lanes)> OpenAsync(LookRow row, Look look, LaneAddress lane)
    {
        var graph = new ShadeGraph((await contexts.OfLookAsync(row.Id)).Space);
        var chain = look.LaneAt(lane)?.Chain ?? throw new LookException($"{lane.Label} has no map.");
        return (graph, chain, new LaneGraphs(look, graph));
    }
}
