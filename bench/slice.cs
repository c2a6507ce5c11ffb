#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property TieredCompilationQuickJit=false
// A slice of a proof, to be run many times by bench/paired.cs beside the same slice of another commit. Uses only names that have been there
// since 0.2 was begun.
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

ProofSlice.Of("tile", args[0])();

public static class ProofSlice
{
    /// <summary>One more sample of a picture of 96 x 96, on one thread.</summary>
    public static Action Of(string form, string profiles)
    {
        var profile = DialectProfiles.Load(profiles).Find("openpbr");
        var material = ProofMaterial
            .OfLookAsync(new Look { Name = "plain" }, profile, new MapTextures(null!, null!))
            .GetAwaiter()
            .GetResult();
        var tracer = new ProofRequest(form, "softbox", 96, 96).Start(material);
        return () => tracer.Accumulate(1, threads: 1);
    }
}
