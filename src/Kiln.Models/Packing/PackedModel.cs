using System.Text;
using Kiln.Models.Files;
using Kiln.Models.Files.Foreign;

namespace Kiln.Models.Packing;

/// <summary>
/// A model's parts as they lie in memory, in a file of ours: read in a moment, and without the files that stood beside the model. What is
/// kept for long; its first bytes say which edition of the form it has.
/// </summary>
public static class PackedModel
{
    private static readonly byte[] Mark = Encoding.ASCII.GetBytes("kiln model 1\n");

    public static void Write(Stream to, Model model)
    {
        to.Write(Mark);
        // Materials and their pictures are looks by then.
        ModelStream.Write(to, model with { Materials = [] });
    }

    /// <exception cref="ModelException">It is no packed model, or damaged.</exception>
    public static Model Read(Stream from)
    {
        var mark = new byte[Mark.Length];
        try
        {
            from.ReadExactly(mark);
            if (!mark.AsSpan().SequenceEqual(Mark))
                throw new ModelException("The stored model has a form that this release does not know.");
            return ModelStream.Read(from, new TextureSearch(""));
        }
        catch (EndOfStreamException e)
        {
            throw new ModelException("The stored model is cut off; bring its file in again.", e);
        }
    }
}
