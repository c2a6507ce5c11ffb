using System.Text.Json.Serialization;
using Kiln.Looks.Document;

namespace Kiln.Looks.Edits;

/// <summary>The whole document as it was at some time; the way back is the document as it is.</summary>
/// <param name="To">What it goes back to, in words.</param>
public sealed record RestoreEdit(Look Document, string To) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (Document, new RestoreEdit(look, "what was before"));

    [JsonPropertyName("words")]
    public override string Sentence => $"back to {To}";
}
