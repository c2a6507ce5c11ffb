using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Intake.Wiring;

/// <summary>The step that a map of a role needs before an input can take it; for the wiring of a set and of a single map.</summary>
internal static class FirstSteps
{
    private const string Id = "s1";

    /// <summary>roughness = 1 − glossiness (KHR_materials_pbrSpecularGlossiness, "perceptual roughness").</summary>
    public static Step GlossinessToRoughness => new InvertStep { Id = Id };

    public static Step NormalMap => new DecodeNormalStep(new Feed(1)) { Id = Id };

    public static Step HeightMap => new HeightToNormalStep(new Feed(1)) { Id = Id };
}
