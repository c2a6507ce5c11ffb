namespace Kiln.Analysis.Findings;

/// <summary>Where a finding begins. Common practice, no source; the studio may say otherwise.</summary>
/// <param name="DarkestDielectric">sRGB code value under which a dielectric's base colour is implausible.</param>
/// <param name="BrightestDielectric">And above which.</param>
/// <param name="DarkestMetal">sRGB code value under which a metal's base colour is implausible.</param>
/// <param name="OutOfRangeShare">Share of pixels outside that is reported.</param>
/// <param name="GreyMetalShare">Share of a metalness map between 0.2 and 0.8.</param>
/// <param name="ExtremeRoughnessShare">Share of a roughness map at 0 or 1.</param>
/// <param name="SeamSteps">Step over the seam over the largest step inside.</param>
/// <param name="BlockSteps">Step between 8-pixel blocks, in usual steps.</param>
/// <param name="UnitShare">Share of a normal map's vectors that must have unit length within 0.12.</param>
/// <param name="ShineWithMetal">Correlation of roughness with metalness from which it is probably glossiness: bare metal is the shinier
/// part of most surfaces.</param>
/// <param name="ShineWithRelief">The same with height or occlusion where no metalness map is: crevices are usually the duller part.</param>
/// <param name="MadeFromAnother">Correlation with the base colour, a bump or a height from which a map was probably made from it.</param>
/// <param name="LightWithRelief">Correlation of base colour with the slopes of the relief from which light is probably baked in.</param>
/// <param name="FallOfLight">Steady fall of base colour from one edge to the other, over its mean.</param>
/// <param name="LookNames">What names of looks must be, as a regular expression.</param>
/// <param name="DisplacementOfSize">Height of displacement over the size of a repeat.</param>
public sealed record StudioThresholds(
    int DarkestDielectric = 30,
    int BrightestDielectric = 240,
    int DarkestMetal = 180,
    float OutOfRangeShare = 0.05f,
    float GreyMetalShare = 0.5f,
    float ExtremeRoughnessShare = 0.2f,
    float SeamSteps = 1.5f,
    float BlockSteps = 1.5f,
    float UnitShare = 0.85f,
    float DisplacementOfSize = 0.2f,
    float ShineWithMetal = 0.6f,
    float ShineWithRelief = 0.6f,
    float MadeFromAnother = 0.9f,
    float LightWithRelief = 0.5f,
    float FallOfLight = 0.2f,
    string LookNames = @"^[\p{L}\p{N}]+([ ._-][\p{L}\p{N}]+)*$"
);
