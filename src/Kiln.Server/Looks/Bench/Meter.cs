using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;

namespace Kiln.Server.Looks.Bench;

/// <summary>The range meter of a lane: what it gives over the surface. Of directions it is the tilt in degrees.</summary>
public sealed record Meter(float Minimum, float Mean, float Maximum)
{
    /// <summary>Pixels a side of what is measured.</summary>
    internal const int Side = 96;

    /// <summary>What is measured of a lane: along the surface a direction has no tilt, but a turn.</summary>
    internal static int Node(ShadeGraph graph, LaneAddress address, int end)
    {
        var isTangent = address.Fed is { } input && NeutralInputs.Find(input).IsTangent;
        return isTangent && graph[end].Type == ShadeType.Direction ? graph.Add(ShadeOp.Revolutions, end) : end;
    }

    internal static Meter Of(ImageBuffer picture, ShadeType type)
    {
        var stats = ImageStatistics.Measure(picture);
        float Tilt(float z) => MathF.Acos(Math.Clamp(z, -1, 1)) * 180 / MathF.PI;
        return type == ShadeType.Direction
            ? new(0, Tilt(stats[^1].Mean), Tilt(stats[^1].Minimum))
            : new(stats.Min(s => s.Minimum), stats.Average(s => s.Mean), stats.Max(s => s.Maximum));
    }
}
