using Kiln.Looks.Document;

namespace Kiln.Looks.Steps.Table;

/// <summary>The inputs of one node of a network, as a step that stands for the node needs them.</summary>
public interface IStepFolding
{
    /// <summary>Node numbers of the inputs.</summary>
    IReadOnlyList<int> Inputs { get; }

    /// <summary>Of a pair: the place of the input that is a map, or the first where both are; and the place of the one beside it.</summary>
    int Main { get; }

    int Other { get; }

    /// <summary>Whether the input at a place is a constant.</summary>
    bool IsFixed(int place);

    /// <summary>The constant at a place where it is the same in all components, else null.</summary>
    float? Number(int place);

    /// <summary>The input at a place as a lane: a constant's value, or a chain.</summary>
    Lane Lane(int place);

    Chain Chain(int place);

    /// <summary>The input at a place as an amount.</summary>
    Feed Amount(int place);
}
